/**
 * Works random stages in every operating mode and prints how their powers balance, as JSON:
 * `tsx core/testing/modeSweep.ts <seed> <stages>`. A program of its own because the engine runs several times slower inside
 * the test runner.
 */
import fc from 'fast-check';
import { typicalMosfet } from '../src/library/typicalMosfet.js';
import { operatingPointIn, type OperatingMode } from '../src/modes/operatingMode.js';
import { completeStage } from '../src/stage/completeStage.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import { randomStages } from './randomStages.js';

const MODES = ['forced-pwm', 'pulse-skipping', 'ultrasonic'] as const satisfies readonly OperatingMode[];

export interface ModeTally {
  readonly compared: Readonly<Record<(typeof MODES)[number], number>>;
  readonly wrong: readonly { readonly stage: number; readonly mode: string; readonly what: string }[];
  /** Largest share of the input power by which the losses miss it. */
  readonly worst: number;
}

const switchOf = (vIn: number, { onResistance }: { readonly onResistance: number }) =>
  typicalMosfet(Math.max(20, 3 * vIn), Math.min(100, Math.max(1e-4, onResistance)));

function swept(seed: number, numRuns: number): ModeTally {
  const compared = { 'forced-pwm': 0, 'pulse-skipping': 0, ultrasonic: 0 };
  const wrong: ModeTally['wrong'][number][] = [];
  let worst = 0;
  fc.sample(randomStages, { seed, numRuns }).forEach(({ document, condition: { vIn } }, stage) => {
    const { parts, control } = document;
    const places = Object.fromEntries(
      (['highSide', 'lowSide', 'outputHighSide', 'outputLowSide'] as const).map((place) => [
        place,
        switchOf(vIn, parts[place]),
      ]),
    );
    const read = stageFromDocument({
      ...document,
      parts: { ...parts, ...places },
      control: {
        ...control,
        supplyCurrent: 1e-3,
        sleepCurrent: 1e-5,
        ...(stage % 2 === 0 && { senseResistance: Math.min(1, parts.inductor.resistance) }),
      },
    });
    const made = read.ok ? completeStage(read.value) : read;
    if (!read.ok || !made.ok) {
      wrong.push({ stage, mode: '', what: 'not complete' });
      return;
    }
    for (const mode of MODES) {
      for (const share of [1, 0.05]) {
        const load = { kind: 'current' as const, current: share * read.value.targets.outputCurrent.max };
        const found = operatingPointIn(mode, made.value, { inputVoltage: vIn, load });
        if (found.kind !== 'solved') continue;
        const { inputPower, outputPower, losses, efficiency } = found.point;
        const { total = NaN, ...parted } = losses;
        const sum = Object.values(parted).reduce((a, b) => a + b, 0);
        const off = Math.abs(inputPower - outputPower - sum) / inputPower;
        worst = Math.max(worst, off);
        if (!(off < 1e-3)) wrong.push({ stage, mode, what: `the losses miss the powers by ${String(off)}` });
        if (!(Math.abs(sum - total) <= 1e-9 * total)) wrong.push({ stage, mode, what: 'the total is not the sum' });
        if (!(efficiency > 0 && efficiency < 1)) wrong.push({ stage, mode, what: `efficiency ${String(efficiency)}` });
        compared[mode] += 1;
      }
    }
  });
  return { compared, wrong, worst };
}

process.stdout.write(JSON.stringify(swept(Number(process.argv[2]), Number(process.argv[3]))));

import { completeStage } from '../src/stage/completeStage.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import { problemsSentence } from '../src/stage/problemSentence.js';
import { operatingPoint, type OperatingPoint } from '../src/steady/operatingPoint.js';
import type { OutsideCheck } from './outsideCheck.js';
import reference from './spiceCases.json' with { type: 'json' };

type Case = (typeof reference.cases)[number];
type Parameters = Readonly<Record<string, number | undefined>> & {
  readonly bankA?: Bank;
  readonly bankB?: Bank;
};
interface Bank {
  readonly C: number;
  readonly esr: number;
  readonly esl: number;
}

/** Averages and peaks within half a percent, ripple and RMS within one (the bar the product sets itself). */
const CLOSE = 0.005;
const RIPPLE = 0.01;

/** The stage file of a reference case, and the condition it was run at. */
function solved(given: Case): OperatingPoint {
  const p = given.parameters as unknown as Parameters;
  const number = (key: string): number => {
    const value = p[key];
    if (typeof value !== 'number') throw new Error(`Case ${given.id} has no ${key}.`);
    return value;
  };
  const bank = ({ C, esr, esl }: Bank) => ({ capacitance: C, esr, esl });
  const banks =
    p.bankA && p.bankB ? [bank(p.bankA), bank(p.bankB)] : [{ capacitance: number('C'), esr: number('esr') }];
  const diodeRectifier = given.topology === 'buck-diode';
  const stage = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    rectifier: diodeRectifier ? 'diode' : 'synchronous',
    phases: p['phases'] ?? 1,
    switchingFrequency: number('fsw'),
    deadTime: p['deadtime'] ?? 0,
    targets: {
      inputVoltage: { min: number('vin'), max: number('vin') },
      outputVoltage: number('vin') * number('duty'),
      outputCurrent: { max: 1 },
    },
    parts: {
      inductor: { inductance: number('L'), resistance: number('dcr') },
      outputCapacitors: banks,
      highSide: { onResistance: number('rdsonHS') },
      ...(diodeRectifier
        ? { diode: { forwardVoltage: number('diodeVf'), dynamicResistance: number('diodeRd') } }
        : {
            lowSide: {
              onResistance: number('rdsonLS'),
              ...(p['diodeVf'] !== undefined && {
                bodyDiodeVoltage: p['diodeVf'],
                bodyDiodeResistance: number('diodeRd'),
              }),
            },
          }),
    },
  });
  if (!stage.ok) throw new Error(`${given.id}: ${problemsSentence(stage.problems)}`);
  const complete = completeStage(stage.value);
  if (!complete.ok) throw new Error(`${given.id}: ${problemsSentence(complete.problems)}`);
  const found = operatingPoint(
    complete.value,
    { inputVoltage: number('vin'), load: { kind: 'resistance', resistance: number('rload') } },
    { fixedDuty: number('duty') },
  );
  if (found.kind !== 'solved') throw new Error(`${given.id}: ${found.reason}`);
  return found.point;
}

interface Read {
  readonly quantity: string;
  readonly unit: string;
  readonly relative: number;
  readonly of: (point: OperatingPoint) => number;
}

const READINGS: Readonly<Record<string, Read>> = {
  outputVoltageAvg: { quantity: 'output voltage', unit: 'V', relative: CLOSE, of: (p) => p.outputVoltage },
  outputRipplePp: { quantity: 'output ripple', unit: 'V', relative: RIPPLE, of: (p) => p.outputRipple },
  inductorCurrentAvg: {
    quantity: 'average inductor current',
    unit: 'A',
    relative: CLOSE,
    of: (p) => p.inductorCurrent.average,
  },
  inductorCurrentPeak: {
    quantity: 'peak inductor current',
    unit: 'A',
    relative: CLOSE,
    of: (p) => p.inductorCurrent.peak,
  },
  inductorRipplePp: {
    quantity: 'inductor ripple current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.inductorCurrent.ripple,
  },
  inductorCurrentRms: {
    quantity: 'inductor RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.inductorCurrent.rms,
  },
  summedInductorRipplePp: {
    quantity: 'summed inductor ripple',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.totalInductorRipple,
  },
  inputCurrentAvg: { quantity: 'input current', unit: 'A', relative: CLOSE, of: (p) => p.inputCurrent },
  inputCapRms: { quantity: 'input capacitor RMS current', unit: 'A', relative: RIPPLE, of: (p) => p.inputCapacitorRms },
  outputCapRms: {
    quantity: 'output capacitor RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.outputCapacitorRms,
  },
  bankARms: {
    quantity: 'RMS current of the ceramic bank',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.outputCapacitorBanks[0]?.rms ?? NaN,
  },
  bankBRms: {
    quantity: 'RMS current of the electrolytic bank',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.outputCapacitorBanks[1]?.rms ?? NaN,
  },
  switchHSRms: {
    quantity: 'high-side RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress['highSide']?.rmsCurrent ?? NaN,
  },
  switchLSRms: {
    quantity: 'low-side RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress['lowSide']?.rmsCurrent ?? NaN,
  },
  efficiency: { quantity: 'conduction efficiency', unit: '', relative: CLOSE, of: (p) => p.efficiency },
};

const WORKED = new Set(['buck-sync', 'buck-diode', 'interleaved-buck']);

/** The engine against an independent SPICE engine, case by case. */
export const spiceChecks: readonly OutsideCheck[] = reference.cases
  .filter((given) => WORKED.has(given.topology))
  .flatMap((given) => {
    let point: OperatingPoint | undefined;
    const get = (): OperatingPoint => (point ??= solved(given));
    const uncertainty = given.uncertainty as Readonly<Record<string, number | undefined>>;
    return Object.entries(given.measured).flatMap(([key, expected]) => {
      const reading = READINGS[key];
      if (!reading || typeof expected !== 'number') return [];
      return [
        {
          source: `ngspice 39, case ${given.id}: ${given.title}`,
          quantity: reading.quantity,
          unit: reading.unit,
          expected,
          relative: reading.relative,
          absolute: uncertainty[key] ?? 0,
          computed: () => reading.of(get()),
        },
      ];
    });
  });

import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, jest, test } from '@jest/globals';
import { runNetlist } from '../../core/testing/ngspice.js';
import { completeStage, operatingPoint, sizeStage, spiceNetlist, stageFromDocument, type Stage } from '@yundro/core';

jest.setTimeout(60_000);

const folder = mkdtempSync(join(tmpdir(), 'yundro-netlist-'));

/** A stage sized by Yundro. */
function sized(part: object): Stage {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, switchingFrequency: 300e3, ...part });
  if (!read.ok) throw new Error('not valid');
  const result = sizeStage(read.value);
  if (!result.ok) throw new Error('not sized');
  return result.value.evaluation.stage;
}

const load = { min: 0.02, max: 3 };
const cases: readonly [string, object, number, number][] = [
  [
    'buck with dead time',
    {
      topology: 'buck',
      deadTime: 30e-9,
      targets: { inputVoltage: { min: 10, max: 14 }, outputVoltage: 5, outputCurrent: load },
    },
    14,
    3,
  ],
  [
    'two-phase boost with sense resistors',
    {
      topology: 'boost',
      phases: 2,
      control: { senseResistance: 0.02 },
      targets: { inputVoltage: { min: 9, max: 14 }, outputVoltage: 24, outputCurrent: load },
    },
    12,
    3,
  ],
  [
    'diode boost in discontinuous conduction',
    {
      topology: 'boost',
      rectifier: 'diode',
      targets: { inputVoltage: { min: 9, max: 14 }, outputVoltage: 24, outputCurrent: load },
    },
    12,
    0.05,
  ],
  [
    'inverting diode stage',
    {
      topology: 'inverting-buck-boost',
      rectifier: 'diode',
      targets: { inputVoltage: { min: 9, max: 14 }, outputVoltage: -12, outputCurrent: load },
    },
    12,
    3,
  ],
  [
    'four-switch stage in its transition region',
    {
      topology: 'four-switch-buck-boost',
      targets: { inputVoltage: { min: 8, max: 18 }, outputVoltage: 12, outputCurrent: load },
    },
    12,
    3,
  ],
];

describe('exported netlists run in ngspice unchanged and agree', () => {
  test.each(cases)('%s', async (name, part, inputVoltage, current) => {
    const complete = completeStage(sized(part));
    if (!complete.ok) throw new Error('not complete');
    const found = operatingPoint(complete.value, { inputVoltage, load: { kind: 'current', current } });
    if (found.kind !== 'solved') throw new Error(found.reason);
    const measured = await runNetlist(spiceNetlist(name, found));
    const { point } = found;
    const apart = (key: string, expected: number): number => Math.abs(measured(key) / expected - 1);
    expect(apart('output_average', point.outputVoltage)).toBeLessThan(0.005);
    expect(apart('inductor_average', point.inductorCurrent.average)).toBeLessThan(0.005);
    expect(apart('inductor_peak', point.inductorCurrent.peak)).toBeLessThan(0.005);
    expect(apart('inductor_ripple', point.inductorCurrent.ripple)).toBeLessThan(0.01);
    expect(apart('inductor_rms', point.inductorCurrent.rms)).toBeLessThan(0.01);
    expect(apart('output_ripple', point.outputRipple)).toBeLessThan(0.02);
    expect(apart('input_average', -point.inputCurrent)).toBeLessThan(0.005);
  });

  test('the command writes the same netlist', () => {
    const file = join(folder, 'stage.json');
    const stage = sized({
      topology: 'buck',
      targets: { inputVoltage: { min: 10, max: 14 }, outputVoltage: 5, outputCurrent: load },
    });
    writeFileSync(file, JSON.stringify(stage));
    const program = new URL('../../bin/yundro', import.meta.url).pathname;
    const text = execFileSync(program, ['netlist', file, '--vin', '12', '--iout', '2'], { encoding: 'utf8' });
    const complete = completeStage(stage);
    const found =
      complete.ok && operatingPoint(complete.value, { inputVoltage: 12, load: { kind: 'current', current: 2 } });
    expect(found && found.kind === 'solved' && spiceNetlist(stage.name, found)).toBe(text);
  });
});

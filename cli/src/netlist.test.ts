import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, jest, test } from '@jest/globals';
import { AVERAGE, complete, CURRENT, VOLTAGE } from '../../core/testing/loopStage.js';
import { runNetlist } from '../../core/testing/ngspice.js';
import {
  closedLoopNetlist,
  closeLoop,
  completeStage,
  decibels,
  loopAt,
  operatingPoint,
  sizeStage,
  spiceNetlist,
  stageFromDocument,
  type Stage,
} from '@yundro/core';

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

describe('closed-loop netlists run in ngspice unchanged, and a sine injected there shows the same loop gain', () => {
  const filters = {
    inputFilter: { inductance: 1e-6, resistance: 0.01, damping: { capacitance: 100e-6, resistance: 0.15 } },
    outputFilter: {
      inductance: 20e-9,
      resistance: 0.002,
      capacitors: [{ kind: 'ceramic', capacitance: 22e-6, esr: 0.005, count: 1 }],
    },
  };
  const coupled = { phases: 2, coupling: { kind: 'inverse', coefficient: 0.4 } };
  test.each<[string, object, object, object]>([
    ['voltage mode with input filter and second stage', {}, VOLTAGE, filters],
    ['peak current mode, two coupled phases with dead time', { ...coupled, deadTime: 20e-9 }, CURRENT, {}],
    ['average current mode, two phases', { phases: 2 }, AVERAGE, {}],
  ])('%s', async (name, over, control, parts) => {
    const stage = complete(over, control, parts);
    const condition = { inputVoltage: 12, load: { kind: 'current' as const, current: 8 } };
    const point = operatingPoint(stage, condition);
    if (point.kind !== 'solved') throw new Error(point.reason);
    const closed = closeLoop(stage, condition, point);
    if (closed.kind !== 'closed') throw new Error(closed.reason);
    const frequency = 50e3;
    const { deadTime } = stage.stage;
    const written = closedLoopNetlist(name, closed.loop, deadTime, { frequency, amplitude: 5e-3 });
    if (!written.ok) throw new Error(written.reason);
    const measured = await runNetlist(written.text);
    const [out, top] = (['out', 'top'] as const).map((node) => ({
      size: Math.hypot(measured(`${node}_re`), measured(`${node}_im`)),
      angle: Math.atan2(-measured(`${node}_im`), measured(`${node}_re`)),
    }));
    const report = loopAt(stage, condition, [frequency], point);
    const loop = report.kind === 'solved' ? report.points[0]?.loop : undefined;
    if (!out || !top || !loop) throw new Error('nothing to compare');
    expect(Math.abs(20 * Math.log10(out.size / top.size) - decibels(loop))).toBeLessThan(0.5);
    const apart = out.angle - top.angle + Math.PI - Math.atan2(loop.im, loop.re);
    const degrees = (apart * 180) / Math.PI;
    expect(Math.abs(degrees - 360 * Math.round(degrees / 360))).toBeLessThan(3);
  });
});

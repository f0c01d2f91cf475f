import { describe, expect, test } from '@jest/globals';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { shedding, type Shedding } from './shedding.js';

const MOSFET = {
  onResistance: 4e-3,
  gateCharge: 20e-9,
  gateDriveVoltage: 5,
  thresholdVoltage: 1.8,
  plateauVoltage: 2.6,
  gateDrainCharge: 4e-9,
  gateSourceCharge: 4e-9,
  gateResistance: 1,
};
function stage(phases: number, over: object = {}): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases,
    switchingFrequency: 500e3,
    targets: {
      inputVoltage: { min: 10, nominal: 12, max: 14 },
      outputVoltage: 1.8,
      outputCurrent: { min: 1, max: 15 * phases },
    },
    parts: {
      inductor: { inductance: 680e-9, resistance: 3e-3 },
      outputCapacitors: [{ capacitance: 1e-3, esr: 1e-3, esl: 0 }],
      highSide: MOSFET,
      lowSide: MOSFET,
    },
    ...over,
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('The stage is not complete.');
  return complete.value;
}
function shed(complete: CompleteStage): Shedding {
  const found = shedding(complete);
  if (typeof found === 'string') throw new Error(found);
  return found;
}
const lossWith = (complete: CompleteStage, phases: number, current: number): number => {
  const found = operatingPoint(
    { ...complete, stage: { ...complete.stage, phases } },
    { inputVoltage: 12, ambient: 25, load: { kind: 'current', current } },
  );
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found.point.losses['total'] ?? NaN;
};

describe('phases shed at light load', () => {
  const complete = stage(4);
  const { points, thresholds } = shed(complete);
  test('more are at work the heavier the load, all at full load, and never fewer than carry it', () => {
    const active = points.map((one) => one.active);
    expect(active).toEqual([...active].sort((a, b) => a - b));
    expect(active[0]).toBe(1);
    expect(active.at(-1)).toBe(4);
    for (const { load, active: at } of points) expect(load).toBeLessThanOrEqual(15 * at * (1 + 1e-9));
  });
  test('what is lost is the least of every number of phases, as the engine says of a stage of so many', () => {
    for (const { load, active, loss, lossOfAll } of points.filter((_, k) => k % 5 === 0)) {
      expect(loss / lossWith(complete, active, load)).toBeCloseTo(1, 6);
      expect(lossOfAll / lossWith(complete, 4, load)).toBeCloseTo(1, 6);
      for (const other of [1, 2, 3, 4].filter((n) => load <= 15 * n))
        expect(lossWith(complete, other, load)).toBeGreaterThanOrEqual(loss * (1 - 1e-6));
    }
  });
  test('efficiency gains at light load and stays as it is at full load', () => {
    const [light] = points;
    expect((light?.efficiency ?? 0) - (light?.efficiencyOfAll ?? 1)).toBeGreaterThan(0.05);
    expect(points.at(-1)?.efficiency).toBe(points.at(-1)?.efficiencyOfAll);
  });
  test('each phase is added where both lose the same, a little above, and dropped a little below', () => {
    expect(thresholds.map(({ from, to }) => [from, to])).toEqual([
      [1, 2],
      [2, 3],
      [3, 4],
    ]);
    for (const { from, to, add, drop } of thresholds) {
      expect(add).toBeGreaterThan(drop * 1.05);
      expect(add).toBeLessThanOrEqual(15 * from);
      expect(lossWith(complete, from, drop)).toBeLessThan(lossWith(complete, to, drop));
      if (add < 15 * from) expect(lossWith(complete, from, add)).toBeGreaterThan(lossWith(complete, to, add));
    }
  });
});

test('the gain over the hours is the mean of what the engine says at those very loads', () => {
  const complete = stage(2);
  const found = shedding(complete, [
    { share: 0.07, hours: 20 },
    { share: 1, hours: 4 },
  ]);
  if (typeof found === 'string') throw new Error(found);
  const all = (20 * lossWith(complete, 2, 0.07 * 30) + 4 * lossWith(complete, 2, 30)) / 24;
  const least = (20 * lossWith(complete, 1, 0.07 * 30) + 4 * lossWith(complete, 2, 30)) / 24;
  expect((found.mean?.lossOfAll ?? NaN) / all).toBeCloseTo(1, 6);
  expect((found.mean?.loss ?? NaN) / least).toBeCloseTo(1, 6);
  expect(shed(complete).mean).toBeUndefined();
});

test('a load without an operating point is no point, and none is said to lose nothing', () => {
  const complete = stage(2);
  const limited = { ...complete, stage: { ...complete.stage, control: { ...complete.stage.control, dutyMax: 0.1 } } };
  expect(shedding(limited)).toContain('no operating point');
});

test('coupled phases are shed by cores, and what cannot be shed is told of', () => {
  const pairs = shed(stage(4, { coupling: { kind: 'inverse', coefficient: 0.5 } }));
  expect(new Set(pairs.points.map(({ active }) => active))).toEqual(new Set([2, 4]));
  expect(shedding(stage(4, { coupling: { kind: 'inverse', coefficient: 0.5, core: 'all' } }))).toContain(
    'share a core',
  );
  expect(shedding(stage(1))).toContain('single phase');
});

import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { genericParts } from '../library/genericParts.js';
import { magnitude } from '../linalg/complex.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { feedingTree, type Fed } from './feedingTree.js';
import { meetingImpedances, type Meeting } from './meetingImpedances.js';
import { powerFlow } from './powerFlow.js';
import { singleStages } from './singleStage.js';
import { startUpOrder } from './startUpOrder.js';

const CASE = { source: 'nominal', load: 1 } as const;

/** A stage that reads as it is written, with changes. */
function changed(name: string, stage: Stage, change: object): Fed {
  const read = stageFromDocument({ ...stage, name, ...change });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return { name, stage: read.value };
}
/** 24 to 12 V, and a 12 to 3.3 V stage behind it. */
const bus = (parts: object = {}): Fed =>
  changed('bus', complete({ targets: { inputVoltage: { min: 24, max: 24 }, outputVoltage: 12, outputCurrent: { min: 1, max: 10 } } }, { ...VOLTAGE, rampAmplitude: 2, compensator: { network: 'type-3', components: { rUpper: 19e3, rLower: 1e3, rZero: 3190, cZero: 8.32e-9, cPole: 2e-10, rFeedforward: 250, cFeedforward: 1.59e-9 } } }).stage, { parts: { ...complete().stage.parts, inductor: { inductance: 10e-6, resistance: 0.01 }, ...parts } }); // prettier-ignore
const logic = (change: object = {}): Fed => changed('logic', complete().stage, { fedBy: 'bus', ...change });

function meetingOf(stages: readonly Fed[]): Meeting {
  const tree = feedingTree(stages);
  const [found] = meetingImpedances(tree, powerFlow(tree, CASE));
  if (!found || 'reason' in found) throw new Error(found?.reason ?? 'none');
  return found;
}

describe('where stages feed each other', () => {
  test('at low frequency what is fed is a negative resistance of V²/P, in parallel where there are several', () => {
    // Middlebrook 1976: a stage that regulates draws constant power.
    const one = meetingOf([bus(), logic()]);
    const [point] = one.points;
    const power =
      powerFlow(feedingTree([bus(), logic()]), CASE).flows.find(({ name }) => name === 'logic')?.input ?? NaN;
    expect(point?.input.re).toBeLessThan(0);
    expect(magnitude(point?.input ?? { re: 0, im: 0 }) / (12 ** 2 / power)).toBeCloseTo(1, 1);
    const two = meetingOf([bus(), logic(), changed('second', logic().stage, {})]);
    expect(two.fed).toEqual(['logic', 'second']);
    expect(
      magnitude(two.points[0]?.input ?? { re: 0, im: 0 }) / magnitude(point?.input ?? { re: 1, im: 0 }),
    ).toBeCloseTo(0.5, 2);
  });
  test('a stiff feeder stays far below; one whose output rings behind an inductance meets it, and the margin is told', () => {
    const stiff = meetingOf([bus(), logic()]);
    expect(stiff.nearest.share).toBeLessThan(0.5);
    expect(stiff.margin).toBeUndefined();
    // A second stage of 47 µH and 10 µF has √(L/C) = 2.2 Ω where it rings; four loads in parallel are a quarter of one.
    const outputFilter = { inductance: 47e-6, capacitors: [{ capacitance: 10e-6, esr: 1e-3 }] };
    const loads = ['a', 'b', 'c', 'd'].map((name) => changed(name, logic().stage, {}));
    const filtered = meetingOf([bus({ outputFilter }), ...loads]);
    expect(filtered.nearest.share).toBeGreaterThan(1);
    expect(filtered.margin).toBeGreaterThan(0);
    expect(filtered.margin).toBeLessThan(180);
  });
  test('what cannot be followed is a sentence', () => {
    const open = changed('bus', bus().stage, { control: { scheme: 'open-loop' } });
    const tree = feedingTree([open, logic()]);
    const [found] = meetingImpedances(tree, powerFlow(tree, CASE));
    expect(found).toEqual({ feeder: 'bus', reason: expect.any(String) });
  });
});

describe('coming up', () => {
  const soft = (of: Fed, control: object): Fed =>
    changed(of.name, of.stage, { control: { ...of.stage.control, ...control } });
  const up = (stages: readonly Fed[]) => startUpOrder(feedingTree(stages));
  test('a lock-out lets a stage begin on the way of its feeder, and the rails come up one after the other', () => {
    const [first, second] = up([
      soft(bus(), { softStartTime: 4e-3, currentLimit: 20 }),
      soft(logic(), { softStartTime: 2e-3, undervoltageLockout: { rising: 9, falling: 8 } }),
    ]);
    expect(first).toMatchObject({ name: 'bus', begins: 0, up: 4e-3, deliverable: 20, cautions: [] });
    // 9 of 12 V: three quarters of the way.
    expect(second?.begins).toBeCloseTo(3e-3, 12);
    expect(second?.up).toBeCloseTo(5e-3, 12);
    // i = C dV/dt: 100 µF · 12 V/4 ms; 22 µF hanging there, and 100 µF · 3.3 V/2 ms by power at 12 V.
    expect(first?.charging).toBeCloseTo(0.3, 9);
    expect(first?.fed).toBeCloseTo((22e-6 * 12) / 4e-3 + (3.3 * ((100e-6 * 3.3) / 2e-3)) / 12, 9);
  });
  test('no lock-out, one that is never reached, no soft start, and too little current are told of', () => {
    const words = (stages: readonly Fed[]): string =>
      up(stages)
        .flatMap(({ cautions }) => cautions)
        .join(' ');
    expect(words([soft(bus(), { softStartTime: 4e-3 }), soft(logic(), { softStartTime: 1e-3 })])).toMatch(
      /logic states no lock-out.*near 12\.0.V/,
    );
    expect(
      words([bus(), soft(logic(), { softStartTime: 1e-3, undervoltageLockout: { rising: 13, falling: 11 } })]),
    ).toMatch(/bus states no soft start.*logic never starts: its lock-out wants 13\.0.V, and bus gives 12\.0.V/);
    expect(words([soft(bus(), { softStartTime: 50e-6, currentLimit: 12 }), logic()])).toMatch(
      /bus would have to carry 29\.\d.A as it comes up and can 12\.0.A: a soft start 2\.4 times as long/,
    );
  });
});

describe('one stage in place of several', () => {
  test('every load behind more than one stage is drafted from the source, with what it misses', () => {
    const found = [...singleStages(feedingTree([bus(), logic()]), genericParts(), 'balanced')];
    expect(found).toHaveLength(1);
    const [{ name, source, found: single } = { name: '', source: '', found: undefined }] = found;
    expect([name, source, single?.topology]).toEqual(['logic', 'bus', 'buck']);
    // 24 to 3.3 V.
    expect(single?.duty).toBeGreaterThan(3.3 / 24);
    expect(single?.duty).toBeLessThan(0.16);
    expect(single?.efficiency).toBeGreaterThan(0.85);
    expect(single?.efficiency).toBeLessThan(0.98);
    expect(single?.misses).toEqual([]);
  });
  test('a load at its own source needs none', () => {
    expect([...singleStages(feedingTree([bus()]), genericParts(), 'balanced')]).toEqual([]);
  });
});

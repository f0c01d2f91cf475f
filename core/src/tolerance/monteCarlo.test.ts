import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { loopCorners } from '../corners/loopCorners.js';
import { withValue } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';
import { loopSpreads } from './loopSpreads.js';
import { loopSampler, type Sample } from './monteCarlo.js';
import { random } from './random.js';

const targets = {
  inputVoltage: { min: 12, max: 12 },
  outputVoltage: 3.3,
  outputCurrent: { min: 12, max: 12 },
  phaseMargin: 62,
};

function evaluated(control: object = VOLTAGE, parts: object = {}, change: (stage: Stage) => Stage = (s) => s) {
  const found = evaluateStage(change(complete({ targets }, control, parts).stage));
  if (!found.ok) throw new Error('not evaluated');
  return found.value;
}
function samples(stage: EvaluatedStage, count: number, seed = 1): readonly Sample[] {
  const [corner] = stage.corners;
  if (!corner) throw new Error('no corner');
  const sample = loopSampler(stage.complete, corner, seed);
  if (typeof sample === 'string') throw new Error(sample);
  return Array.from({ length: count }, (_, k) => sample(k));
}
const margin = ({ loop }: Sample): number =>
  loop.kind === 'solved' && loop.phaseMargin.kind === 'found' ? loop.phaseMargin.value : NaN;

describe('the generator', () => {
  test('spreads evenly and repeats for its seed', () => {
    const next = random(7);
    const values = Array.from({ length: 20_000 }, () => next());
    const bins = Array.from({ length: 10 }, (_, k) => values.filter((v) => Math.floor(10 * v) === k).length);
    bins.forEach((count) => expect(Math.abs(count - 2000)).toBeLessThan(200));
    const again = random(7);
    expect(values.slice(0, 5)).toEqual(Array.from({ length: 5 }, () => again()));
  });
});

describe('the spread of a loop', () => {
  /** Phase margin of a sample, and of the stage with just its parts, worked from nothing. */
  function bothWays(stage: EvaluatedStage, index: number) {
    const sample = samples(stage, index + 1)[index];
    const next = random(1_000_003 + index * 7_919);
    const { stage: stated } = stage.evaluation;
    const scattered = loopSpreads(stated).reduce<unknown>((document, { path, low, high }) => {
      const at = path.reduce<unknown>((here, key) => (here as Record<string, unknown>)[key], stated);
      return withValue(document, path, (at as number) * (low + (high - low) * next()));
    }, stated) as Stage;
    const direct = evaluateStage(scattered);
    if (!direct.ok || !sample) throw new Error('not evaluated');
    const [there] = loopCorners(direct.value);
    const { loop } = there ?? {};
    const mode = direct.value.evaluation.operatingPoints[0]?.conductionMode;
    const exact = loop?.kind === 'solved' && loop.phaseMargin.kind === 'found' ? loop.phaseMargin.value : NaN;
    return { inductance: scattered.parts.inductor?.inductance, sampled: margin(sample), exact, mode };
  }
  test('every sample is the exact loop of its own parts', () => {
    const { inductance, sampled, exact } = bothWays(evaluated(), 2);
    expect(inductance).not.toBe(2.2e-6);
    expect(exact).toBeCloseTo(sampled, 2);
  });
  test('at the border of continuous conduction each sample stands on its own side', () => {
    const light = { ...targets, outputCurrent: { min: 1.08, max: 1.08 } };
    const parts = { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } };
    const found = evaluateStage(complete({ rectifier: 'diode', targets: light }, VOLTAGE, parts).stage);
    if (!found.ok) throw new Error('not evaluated');
    const all = Array.from({ length: 8 }, (_, index) => bothWays(found.value, index));
    expect(new Set(all.map(({ mode }) => mode))).toEqual(new Set(['CCM', 'DCM']));
    for (const { sampled, exact } of all) expect(sampled).toBeCloseTo(exact, 2);
  });
  test('parts without tolerance scatter the margins less; with it they lie about the stated one', () => {
    const exact = { tolerances: { resistors: 0, capacitors: 0, controller: 0 } };
    const wide = samples(evaluated(), 60).map(margin);
    const firm = {
      inductor: { inductance: 2.2e-6, resistance: 0.005, tolerance: 0 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 0.003, tolerance: 0 }],
    };
    const narrow = samples(evaluated({ ...VOLTAGE, ...exact }, firm), 60).map(margin);
    const width = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);
    expect(width(narrow)).toBeLessThan(0.7 * width(wide));
    const [stated] = loopCorners(evaluated());
    const middle =
      stated?.loop.kind === 'solved' && stated.loop.phaseMargin.kind === 'found' ? stated.loop.phaseMargin.value : 0;
    expect(Math.min(...wide)).toBeLessThan(middle);
    expect(Math.max(...wide)).toBeGreaterThan(middle);
  });
  test('the yield falls as more is asked, and repeats for the same seed', () => {
    const share = (phaseMargin: number): number => {
      const stage = evaluated(VOLTAGE, {}, (s) => ({ ...s, targets: { ...s.targets, phaseMargin } }));
      return samples(stage, 60).filter(({ misses }) => misses.length === 0).length / 60;
    };
    expect(share(30)).toBe(1);
    expect(share(90)).toBe(0);
    const some = share(60);
    expect(some).toBeGreaterThan(0);
    expect(some).toBeLessThan(1);
    expect(share(60)).toBe(some);
  });
  test('what a set misses is named: phase margin, gain margin or both', () => {
    const over = (asked: object) => {
      const stage = evaluated(VOLTAGE, {}, (s) => ({ ...s, targets: { ...s.targets, ...asked } }));
      return new Set(samples(stage, 5).flatMap(({ misses }) => misses));
    };
    expect([...over({ phaseMargin: 89, gainMargin: 1 })]).toEqual(['phase margin']);
    expect([...over({ phaseMargin: 1, gainMargin: 60 })]).toEqual(['gain margin']);
    expect([...over({ phaseMargin: 89, gainMargin: 60 })]).toEqual(['phase margin', 'gain margin']);
    expect([...over({ phaseMargin: 1, gainMargin: 1 })]).toEqual([]);
  });
  test('a loop that alternates does not pass, whatever its margin', () => {
    // No margin is asked for: it is the multipliers that say it.
    const unstable = evaluated({ ...VOLTAGE, rampAmplitude: 0.05 }, {}, (s) => ({
      ...s,
      targets: { ...s.targets, phaseMargin: undefined },
    }));
    for (const { loop, misses } of samples(unstable, 10)) {
      expect(misses).toEqual(['stability']);
      expect(loop).toMatchObject({ kind: 'solved', alternates: true });
    }
  });
});

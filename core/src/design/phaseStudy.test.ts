import { beforeAll, describe, expect, test } from '@jest/globals';
import { evaluateStage } from '../corners/evaluate.js';
import { genericParts } from '../library/genericParts.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { byInterest, phaseCounts, recommendedCount, type PhaseCount, type PhaseStep } from './phaseStudy.js';

const read = stageFromDocument({
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  phases: 2,
  switchingFrequency: 600e3,
  targets: {
    inputVoltage: { min: 10.8, max: 13.2 },
    outputVoltage: 1.2,
    outputCurrent: { min: 2, max: 40 },
    outputRipple: 0.01,
    inductorRippleRatio: 0.4,
    loadStep: { from: 10, to: 30, deviation: 0.05 },
  },
  parts: { inductor: { name: 'kept', inductance: 1e-6, resistance: 1e-3 } },
  pinned: ['parts.inductor'],
});
if (!read.ok) throw new Error(JSON.stringify(read));
const stage: Stage = read.value;

describe('how many phases', () => {
  let counts: readonly PhaseCount[] = [];
  let step: PhaseStep | undefined;
  beforeAll(() => {
    const all = [...phaseCounts(stage, genericParts(), 'balanced', 4)];
    counts = all.map(({ count }) => count);
    step = all[1]?.step();
  });
  test('every number is drafted from records of its own, at the same frequency, pinned parts too', () => {
    expect(counts.map(({ phases }) => phases)).toEqual([1, 2, 3, 4]);
    for (const { stage: drafted, inductor } of counts) {
      expect(drafted.switchingFrequency).toBe(600e3);
      expect(inductor.name).toBeDefined();
      expect(inductor.name).not.toBe('kept');
      expect(drafted.parts.highSide?.name).toBeDefined();
    }
    expect(new Set(counts.map(({ inductor }) => inductor.name)).size).toBeGreaterThan(1);
  });
  test('figures are those of the stage that is drafted', () => {
    for (const { stage: drafted, winding, summed, figures, losses } of counts) {
      const evaluated = evaluateStage(drafted);
      if (!evaluated.ok) throw new Error('not evaluated');
      const full = evaluated.value.corners.flatMap(({ corner, result }) =>
        result.kind === 'solved' && corner.outputCurrent === 40 ? [result.point] : [],
      );
      expect(winding).toBeCloseTo(Math.max(...full.map(({ inductorCurrent }) => inductorCurrent.ripple)), 6);
      expect(summed).toBeCloseTo(Math.max(...full.map(({ totalInductorRipple }) => totalInductorRipple)), 6);
      const sum = Object.values(losses).reduce((total, watts) => total + watts, 0);
      expect(sum / figures.loss).toBeCloseTo(1, 6);
    }
  });
  test('parts are counted as the board carries them: those of a phase once each phase, banks by their number', () => {
    for (const { phases, stage: drafted, parts } of counts) {
      const { highSide, lowSide, outputCapacitors = [], inputCapacitors = [] } = drafted.parts;
      const banks = [...outputCapacitors, ...inputCapacitors].reduce((sum, bank) => sum + bank.count, 0);
      expect(parts).toBe(phases * (1 + (highSide?.count ?? 1) + (lowSide?.count ?? 1)) + banks);
    }
  });
  test('more phases ripple less together, and the input capacitors carry less', () => {
    const [one, two, , four] = counts;
    expect(four?.summed).toBeLessThan(0.6 * (one?.summed ?? 0));
    expect(four?.inputRms).toBeLessThan(0.7 * (one?.inputRms ?? 0));
    expect(two?.inputRms).toBeLessThan(one?.inputRms ?? 0);
    for (const { winding, summed } of counts) expect(summed).toBeLessThanOrEqual(winding * (1 + 1e-9));
  });
  test('the load step is simulated with a compensator of its own', () => {
    expect(step).toMatchObject({ phases: 2, allowed: 0.05 });
    expect(step?.deviation).toBeGreaterThan(0.005);
    expect(step?.deviation).toBeLessThan(0.15);
  });
});

describe('which number is recommended', () => {
  const count = (phases: number, loss: number, misses: readonly string[] = []): PhaseCount => ({
    phases,
    stage,
    inductor: { name: 'L', inductance: 1e-6, volume: undefined },
    winding: 1,
    summed: 1,
    inputRms: 1,
    outputCapacitance: 1,
    inputCapacitance: 1,
    parts: 1,
    figures: { loss, area: 1e-3, price: 5 },
    losses: {} as PhaseCount['losses'],
    misses,
  });
  test('the best by the objective of those that miss nothing, with why fewer do not do and what the next would change', () => {
    const found = recommendedCount(
      [count(1, 1, ['high-side junction']), count(2, 4), count(3, 5), count(4, 8)],
      'balanced',
    );
    expect(found).toMatchObject({ phases: 2, runnerUp: 3 });
    expect(found?.words).toContain('Fewer do not do: 1 phase misses high-side junction.');
    expect(found?.words).toMatch(/Runner-up, 3 phases: 25 % more loss, 0 % more board/);
  });
  test('a load step far beyond what is allowed weighs against a number', () => {
    const counts = [count(2, 4), count(3, 4.4)];
    expect(recommendedCount(counts, 'balanced')?.phases).toBe(2);
    const steps = [
      { phases: 2, deviation: 0.12, allowed: 0.05 },
      { phases: 3, deviation: 0.04, allowed: 0.05 },
    ];
    expect(recommendedCount(counts, 'balanced', steps)?.phases).toBe(3);
    expect(recommendedCount(counts, 'balanced', steps)?.words).toMatch(
      /takes the output 40\.0.mV of the 50\.0.mV allowed\./,
    );
    const both = recommendedCount([count(2, 4)], 'balanced', steps);
    expect(both?.words).toMatch(/takes the output 120.mV of the 50\.0.mV allowed, which more output capacitors/);
  });
  test('a load step that could not be simulated is a miss, with its reason; one not yet simulated is said to be', () => {
    const counts = [count(2, 4), count(3, 9)];
    expect(recommendedCount(counts, 'balanced')?.words).toContain('Its load step has not been simulated.');
    const steps = [
      { phases: 2, deviation: undefined, allowed: 0.05, reason: 'no network holds' },
      { phases: 3, deviation: 0.04, allowed: 0.05 },
    ];
    expect(recommendedCount(counts, 'balanced', steps)?.phases).toBe(3);
    expect(recommendedCount(counts, 'balanced', steps)?.words).toContain('Fewer do not do: 2 phases miss load step.');
    expect(recommendedCount([count(2, 4)], 'balanced', steps)?.words).toContain(
      'Its load step could not be simulated: no network holds.',
    );
  });
  test('where all miss something the one that misses least is named as such', () => {
    const found = recommendedCount([count(1, 1, ['a', 'b']), count(2, 9, ['a'])], 'balanced');
    expect(found?.phases).toBe(2);
    expect(found?.words).toContain('No number of phases meets all; 2 phases misses least: a.');
    expect(recommendedCount([], 'balanced')).toBeUndefined();
  });
  test('load steps of what is recommended, of the runner-up and of the present number are simulated first', () => {
    const studied = [count(1, 9), count(2, 4), count(3, 5), count(4, 8), count(5, 7)].map((one) => ({
      count: one,
      step: () => undefined,
    }));
    expect(byInterest(studied, 'balanced', 4).map((one) => one.count.phases)).toEqual([2, 3, 4, 1, 5]);
  });
});

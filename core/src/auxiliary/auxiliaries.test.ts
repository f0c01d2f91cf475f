import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { evaluateStage } from '../corners/evaluate.js';
import { auxiliaryGround } from './auxiliaryGround.js';
import { AUXILIARIES, auxiliaryOutcomes, type AuxiliaryName } from './auxiliaries.js';
import { endsOf } from './spread.js';

const GROUND = {
  frequency: 350e3,
  reference: 0.8,
  vOut: 5,
  vInLeast: 9,
  outputCapacitance: 200e-6,
  softStart: 4e-3,
  rising: 8.5,
  falling: 7.8,
  currentLimit: 12,
  peak: 9,
  inductance: 6.8e-6,
  windingResistance: 8e-3,
};
const NAMES = Object.keys(AUXILIARIES) as AuxiliaryName[];
/** What the stage asks of the first results, by part. */
const ASKED: Readonly<Record<AuxiliaryName, readonly (readonly [asked: number, within: number])[]>> = {
  oscillator: [[350e3, 0.01]],
  softStart: [[4e-3, 0.1]],
  lockOut: [
    [8.5, 0.02],
    [7.8, 0.02],
  ],
  trimmer: [],
  sense: [[12, 0.1]],
  chokeSense: [[8.5e3, 1e-6]],
};

/** An even draw, by the linear congruence of D. E. Knuth, The Art of Computer Programming, vol. 2 (MMIX). */
function draws(seed: number): () => number {
  let state = BigInt(seed);
  return () => {
    state = BigInt.asUintN(64, state * 6364136223846793005n + 1442695040888963407n);
    return Number(state >> 11n) / 2 ** 53;
  };
}

describe('parts around the controller', () => {
  test.each(NAMES)('%s: what is proposed does what the stage asks', (name) => {
    const values: Readonly<Record<string, number>> = AUXILIARIES[name].proposed(GROUND);
    const outcomes = auxiliaryOutcomes(name, values);
    ASKED[name].forEach(([asked, within], k) => {
      expect(Math.abs((outcomes[k]?.spread.nominal ?? NaN) / asked - 1)).toBeLessThanOrEqual(within);
    });
    for (const { key, range } of AUXILIARIES[name].fields) {
      expect(values[key]).toBeGreaterThanOrEqual(range[0]);
      expect(values[key]).toBeLessThanOrEqual(range[1]);
    }
  });
  test.each(NAMES)(
    '%s: 2,000 sets within their tolerances stay within the worst case, and come near both its ends',
    (name) => {
      const { fields, forms, proposed } = AUXILIARIES[name];
      const values: Readonly<Record<string, number>> = proposed(GROUND);
      const outcomes = auxiliaryOutcomes(name, values);
      const draw = draws(7);
      const found = forms.map(() => [Infinity, -Infinity] as [number, number]);
      for (let k = 0; k < 2000; k += 1) {
        // Half of them at the ends of each: a worst case is a corner.
        const set = Object.fromEntries(
          fields.map(({ key, tolerance }) => {
            const [low, high] = endsOf(values[key] ?? 0, tolerance);
            const at = k % 2 === 0 ? draw() : Math.round(draw());
            return [key, low + at * (high - low)];
          }),
        );
        forms.forEach((form, i) => {
          const value = (form.compute as (of: typeof set) => number)(set);
          const ends = found[i] as [number, number];
          ends[0] = Math.min(ends[0], value);
          ends[1] = Math.max(ends[1], value);
        });
      }
      outcomes.forEach(({ spread: { least, most, nominal } }, i) => {
        const [low, high] = found[i] as [number, number];
        const slack = 1e-12 * Math.abs(nominal);
        expect(low).toBeGreaterThanOrEqual(least - slack);
        expect(high).toBeLessThanOrEqual(most + slack);
        expect(low - least).toBeLessThanOrEqual(0.05 * (most - least) + slack);
        expect(most - high).toBeLessThanOrEqual(0.05 * (most - least) + slack);
      });
    },
  );
  test('a trimmer spans five percent each way even where it is a fifth too small', () => {
    for (const vOut of [1.2, 3.3, 5, 12, 48]) {
      const values = AUXILIARIES.trimmer.proposed({ ...GROUND, vOut });
      const [low, high] = auxiliaryOutcomes('trimmer', values, { upper: {}, lower: {}, reference: {} });
      expect(low?.spread.most).toBeLessThan(0.97 * vOut);
      expect(high?.spread.least).toBeGreaterThan(1.03 * vOut);
    }
  });
  test('a tolerance that is given stands for the usual one, and an offset counts by itself', () => {
    const values = AUXILIARIES.sense.proposed(GROUND);
    const [usual] = auxiliaryOutcomes('sense', values);
    const none = { threshold: {}, gain: {}, resistance: {}, offset: { by: 2e-3 } };
    const [exact] = auxiliaryOutcomes('sense', values, none);
    expect(exact?.spread.most).toBeCloseTo((0.05 + 2e-3) / values.resistance, 9);
    expect(usual?.spread.most).toBeGreaterThan(exact?.spread.most ?? Infinity);
    expect(usual?.form.value).toBe(usual?.spread.nominal);
  });
  test('they are chosen by the stage: its peak over all corners, and the most that a soft start charges', () => {
    const bank = {
      capacitance: 100e-6,
      esr: 0.003,
      count: 2,
      biasCurve: [
        [0, 1],
        [6, 0.4],
      ],
    };
    const worked = evaluateStage(complete({}, undefined, { outputCapacitors: [bank] }).stage);
    if (!worked.ok) throw new Error('not worked');
    const ground = auxiliaryGround(worked.value);
    const peaks = worked.value.corners.flatMap(({ result }) =>
      result.kind === 'solved' ? [result.point.inductorCurrent.peak] : [],
    );
    expect(ground).toMatchObject({
      frequency: 500e3,
      vOut: 3.3,
      vInLeast: 12,
      reference: 0.6,
      peak: Math.max(...peaks),
    });
    expect(ground.outputCapacitance).toBeCloseTo(200e-6, 12);
  });
});

import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { evaluateStage } from '../corners/evaluate.js';
import { auxiliaryGround } from './auxiliaryGround.js';
import { AUXILIARIES, auxiliaryOutcomes, type Auxiliary, type AuxiliaryName } from './auxiliaries.js';
import { planeResistance, wireGauge } from './leadForms.js';
import { endsOf } from './spread.js';
import { fuseRatingAtLeast } from './fuseRatings.js';

const GROUND = {
  frequency: 350e3,
  reference: 0.8,
  vOut: 5,
  vInLeast: 9,
  vInMost: 16,
  inputCurrent: 6,
  outputCurrent: 8,
  inputCapacitance: 66e-6,
  ramp: 1.5,
  dutyMax: 0.9,
  inverting: false,
  sourceResistance: 0.05,
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
  // 25 mV, and each of the others by hand from the ground above.
  rippleInjection: [[25e-3, 0.1]],
  clamp: [[1.35, 1e-9]],
  preload: [
    [0.04, 0.05],
    [0.2, 0.05],
    [0.005, 0.05],
  ],
  fuse: [
    [6 / 0.675, 1e-9],
    [(66e-6 * 256) / 0.1, 1e-9],
  ],
  reversePolarity: [
    [3, 1e-9],
    [0.3, 0.15],
    [32, 1e-9],
  ],
  suppressor: [
    [(48 - 22.4) / 2, 1e-9],
    [22.4 * 12.8, 1e-9],
    [(22.4 * 12.8 * 50e-6) / Math.LN2, 1e-9],
  ],
  precharge: [
    [6, 0.15],
    [2.67 * 66e-6 * 2.9957, 0.02],
    [66e-6 * 128, 1e-9],
  ],
  invertingBuck: [
    [21, 1e-9],
    [8.1, 0.01],
    [3.1, 0.03],
  ],
  // 8 A over 0.5 m of 2 mm² there and back, 60 °C: 0.0199 Ω mm²/m by IEC 60028.
  wires: [
    [(2 * 0.5 * 8 * 0.01995) / 2, 0.01],
    [(2 * 0.5 * 64 * 0.01995) / 2, 0.01],
    [4, 1e-9],
    // ASTM B258: 1.596 mm lies between 14 (1.628 mm) and 15 (1.450 mm).
    [14.17, 0.005],
    [1, 1e-9],
  ],
  connector: [
    [8 / 6.3, 1e-9],
    [0.08, 1e-9],
    [0.64, 1e-9],
  ],
  // ρ/(π t) arcosh(12.5): 181.4 µΩ · 3.217.
  plane: [
    [1.815e-4 * 3.2174, 0.01],
    [8 * 1.815e-4 * 3.2174, 0.01],
  ],
};

/** An even draw, by the linear congruence of D. E. Knuth, The Art of Computer Programming, vol. 2 (MMIX). */
function draws(seed: number): () => number {
  let state = BigInt(seed);
  return () => {
    state = BigInt.asUintN(64, state * 6364136223846793005n + 1442695040888963407n);
    return Number(state >> 11n) / 2 ** 53;
  };
}

describe('ratings of fuses', () => {
  test.each([
    [0.9, 1],
    [1, 1],
    [1.01, 1.25],
    [2.6, 3.15],
    [8.01, 10],
    [9.01, 10],
    [63, 63],
    [0.041, 0.05],
  ])('%d A asks for %d A', (current, rating) => {
    expect(fuseRatingAtLeast(current)).toBeCloseTo(rating, 12);
  });
  test('no current asks for none', () => {
    expect(() => fuseRatingAtLeast(0)).toThrow('above 0 A');
  });
});

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
  test('the gauge of a wire is that of the standard, and a plane tends to the field of two far points', () => {
    // ASTM B258, from memory: 10, 20 and 30 AWG.
    for (const [gauge, diameter] of [
      [10, 2.588e-3],
      [20, 0.8118e-3],
      [30, 0.2546e-3],
    ] as const)
      expect(wireGauge.compute({ diameter })).toBeCloseTo(gauge, 2);
    // Two points far apart, by superposition of two radial flows: (ρ/πt) ln(D/r).
    const far = { apart: 1, radius: 1e-3, thickness: 35e-6, resistivity: 1.7e-8 };
    const radial = (1.7e-8 / (Math.PI * 35e-6)) * Math.log(1000);
    expect(planeResistance.compute(far) / radial).toBeCloseTo(1, 5);
    expect(planeResistance.compute({ ...far, apart: 1.5e-3 })).toBe(0);
  });
  test('what a stage has no use for is not offered', () => {
    const offered = (ground: typeof GROUND) =>
      NAMES.filter((name) => (AUXILIARIES[name] as Auxiliary).fits?.(ground) !== false);
    expect(offered(GROUND)).not.toContain('invertingBuck');
    expect(offered(GROUND)).toContain('rippleInjection');
    expect(offered({ ...GROUND, inverting: true })).toContain('invertingBuck');
    expect(offered({ ...GROUND, vOut: 20 })).not.toContain('rippleInjection');
  });
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

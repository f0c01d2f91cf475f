import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { genericParts } from '../library/genericParts.js';
import type { PartOf } from '../library/libraryPart.js';
import { typicalMosfet } from '../library/typicalMosfet.js';
import { sizeStage } from '../sizing/size.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { gateChecks } from './gateChecks.js';
import { selectSwitches, SWITCH_MARGINS, type ProfilePoint } from './switches.js';

function sized(part: object): Stage {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, switchingFrequency: 400e3, ...part });
  if (!read.ok) throw new Error('not valid');
  const result = sizeStage(read.value);
  if (!result.ok) throw new Error('not sized');
  return result.value.evaluation.stage;
}
function evaluated(stage: Stage): EvaluatedStage {
  const result = evaluateStage(stage);
  if (!result.ok) throw new Error('not evaluated');
  return result.value;
}
const targets = {
  inputVoltage: { min: 20, max: 29.2 },
  outputVoltage: 12,
  outputCurrent: { min: 0.5, max: 8 },
  ambientTemperature: { min: 0, max: 60 },
};
const buck = sized({ topology: 'buck', deadTime: 20e-9, targets });
const boost = sized({
  topology: 'boost',
  deadTime: 20e-9,
  targets: { ...targets, outputVoltage: 48, outputCurrent: { min: 0.1, max: 2 } },
});
/** The corners at the highest input, an hour at each load. */
const profileOf = ({ corners }: EvaluatedStage): readonly ProfilePoint[] =>
  corners.flatMap(({ corner, result }) =>
    result.kind === 'solved' && corner.inputVoltage === 29.2 ? [{ solved: result, hours: 1 }] : [],
  );
const library = genericParts().mosfet;

describe('ranking of the library by loss over a load profile', () => {
  test.each([
    ['buck', 'highSide', buck],
    ['buck', 'lowSide', buck],
    ['boost', 'lowSide', boost],
    ['boost', 'highSide', boost],
  ] as const)('%s, %s: what is said of the best part is what the engine finds when it is chosen', (_, place, stage) => {
    const worked = evaluated(stage);
    const [best, second] = selectSwitches(worked, place, library, profileOf(worked));
    if (!best?.fits || !second) throw new Error('none fits');
    expect(best.loss).toBeLessThanOrEqual(second.loss);
    const chosen = evaluated({ ...stage, parts: { ...stage.parts, [place]: { ...best.part, count: best.count } } });
    const temperatures = chosen.evaluation.operatingPoints.map((p) => p.junctionTemperatures[place] ?? NaN);
    // The estimate keeps 5 % of the rise on the safe side.
    const rise = (temperature: number): number => temperature - 60;
    expect(rise(best.junction ?? NaN) / rise(Math.max(...temperatures))).toBeCloseTo(1.05, 1);
    // The whole stage loses what the part loses and what it costs the other, to the few per cent the currents move.
    const total = (one: EvaluatedStage): number =>
      profileOf(one).reduce((sum, { solved }) => sum + (solved.point.losses['total'] ?? NaN), 0) /
      profileOf(one).length;
    const worst = selectSwitches(worked, place, library, profileOf(worked)).findLast(({ fits }) => fits);
    if (!worst) throw new Error('none fits');
    const changed = evaluated({ ...stage, parts: { ...stage.parts, [place]: { ...worst.part, count: worst.count } } });
    const difference = total(changed) - total(chosen);
    expect(Math.abs((worst.loss - best.loss) / difference - 1)).toBeLessThan(0.03);
  });
  test('hours at light load favour the small die, hours at full load the large one', () => {
    const worked = evaluated(buck);
    const profile = profileOf(worked);
    const best = (hours: (current: number) => number) => {
      const weighed = profile.map(({ solved }) => ({ solved, hours: hours(solved.point.outputCurrent) }));
      return selectSwitches(worked, 'highSide', library, weighed)[0]?.part.onResistance ?? NaN;
    };
    expect(best((current) => (current < 1 ? 1 : 0))).toBeGreaterThan(best((current) => (current > 7 ? 1 : 0)));
  });
  test('the frontier holds no part that another beats in resistance and charge both', () => {
    const worked = evaluated(buck);
    const found = selectSwitches(worked, 'lowSide', library, profileOf(worked));
    const frontier = found.filter(({ onFrontier }) => onFrontier);
    expect(frontier.length).toBeGreaterThan(2);
    for (const a of frontier)
      for (const b of frontier)
        expect(
          a !== b &&
            b.part.onResistance <= a.part.onResistance &&
            (b.part.gateCharge ?? NaN) < (a.part.gateCharge ?? NaN),
        ).toBe(false);
  });
});

describe('no part beyond its ratings is ever proposed', () => {
  test('over random libraries (30 of 40 parts, seed 53): rating, junction and current hold at every corner', () => {
    const worked = evaluated(buck);
    const profile = profileOf(worked);
    const stress = Math.max(
      ...worked.evaluation.operatingPoints.map((p) => p.switchStress['highSide']?.voltage ?? NaN),
    );
    const current = Math.max(
      ...worked.evaluation.operatingPoints.map((p) => p.switchStress['highSide']?.rmsCurrent ?? NaN),
    );
    const between = (min: number, max: number) =>
      fc.double({ min: Math.log(min), max: Math.log(max), noNaN: true }).map(Math.exp);
    const part = fc
      .record({
        rated: between(15, 200),
        ohms: between(0.5e-3, 0.1),
        thermal: between(5, 100),
        coefficient: fc.constantFrom(0, 4e-3, 8e-3),
        amperes: between(3, 200),
        complete: fc.constantFrom(true, true, false),
      })
      .map(({ rated, ohms, thermal, coefficient, amperes, complete }): PartOf<'mosfet'> => {
        const typical = typicalMosfet(rated, ohms);
        return {
          ...typical,
          name: `R${String(ohms)}`,
          junctionToAmbient: thermal,
          onResistanceTemperatureCoefficient: coefficient,
          drainCurrentMax: amperes,
          ...(!complete && { gateDriveVoltage: undefined, gateCharge: undefined }),
        };
      });
    let proposed = 0;
    let rejected = 0;
    for (const parts of fc.sample(fc.array(part, { minLength: 40, maxLength: 40 }), { seed: 53, numRuns: 30 })) {
      const found = selectSwitches(worked, 'highSide', parts, profile);
      for (const { part: one, fits, count, junction, reasons } of found) {
        expect(fits).toBe(reasons.length === 0);
        if (!fits) {
          rejected += 1;
          continue;
        }
        proposed += 1;
        expect(one.drainSourceVoltageMax).toBeGreaterThanOrEqual(SWITCH_MARGINS.voltage * stress);
        expect((one.drainCurrentMax ?? NaN) * count).toBeGreaterThanOrEqual(current);
        expect(junction).toBeLessThanOrEqual(SWITCH_MARGINS.junctionMax);
      }
      // The first proposed is worked by the engine itself: nothing of it is exceeded at any corner.
      const [first] = found;
      if (!first?.fits) continue;
      const chosen = evaluated({
        ...buck,
        parts: { ...buck.parts, highSide: { ...first.part, count: first.count } },
      });
      for (const target of ['highSideVoltage', 'highSideJunction'])
        expect([target, chosen.evaluation.verdicts.find((one) => one.target === target)?.pass]).toEqual([target, true]);
    }
    expect(proposed).toBeGreaterThan(50);
    expect(rejected).toBeGreaterThan(200);
  });
});

describe('gates against the edges of the other switch', () => {
  const first = (stage: Stage) => {
    const { complete, corners } = evaluated(stage);
    const solved = corners.at(-1)?.result;
    if (solved?.kind !== 'solved') throw new Error('not solved');
    return gateChecks(complete, solved);
  };
  test('the low side of a buck is lifted by the high side, more with more gate-drain charge', () => {
    const [check] = first(buck);
    expect(check?.place).toBe('lowSide');
    expect(check?.risk).toBe(false);
    const { lowSide } = buck.parts;
    if (!lowSide) throw new Error('no low side');
    const leaky = { ...lowSide, gateDrainCharge: (lowSide.gateDrainCharge ?? NaN) * 8, gateResistance: 8 };
    const [risky] = first({ ...buck, parts: { ...buck.parts, lowSide: leaky } });
    expect(risky?.form.value).toBeGreaterThan(check?.form.value ?? Infinity);
    expect(risky?.risk).toBe(true);
  });
});

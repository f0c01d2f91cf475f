import { describe, expect, test } from '@jest/globals';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { genericParts } from '../library/genericParts.js';
import { bankModel, leastShare } from '../parts/capacitorBank.js';
import { sizeStage } from '../sizing/size.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { inputCapacitorNeeds, outputCapacitorNeeds } from './capacitorNeeds.js';
import { bankStresses } from './bankStress.js';
import { bankOf, selectCapacitors } from './capacitors.js';
import { onResistanceAt } from './switches.js';
import { selectInductors } from './inductors.js';
import { inputFilterCheck } from './inputFilterCheck.js';
import { inputRmsPeak } from './inputRmsPeak.js';
import { coreLossOf, copperAt } from '../parts/inductorLoss.js';

const generic = genericParts();
const AMBIENT = 45;

function sized(part: object): Stage {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...part });
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
const passes = (stage: Stage, target: string): boolean | undefined =>
  evaluated(stage).evaluation.verdicts.find((one) => one.target === target)?.pass;

const targets = {
  inputVoltage: { min: 20, max: 29.2 },
  outputVoltage: 12,
  outputCurrent: { min: 0.1, max: 6 },
  outputRipple: 0.06,
  inputRipple: 0.3,
  inductorRippleRatio: 0.4,
  loadStep: { from: 1, to: 4, slewRate: 2e6, deviation: 0.36 },
};
const stages: readonly (readonly [string, Stage])[] = [
  ['buck', sized({ topology: 'buck', switchingFrequency: 400e3, targets })],
  [
    'boost',
    sized({
      topology: 'boost',
      switchingFrequency: 400e3,
      targets: { ...targets, inputVoltage: { min: 6, max: 9 }, outputCurrent: { min: 0.1, max: 1.5 } },
    }),
  ],
  [
    'inverting buck-boost',
    sized({
      topology: 'inverting-buck-boost',
      switchingFrequency: 400e3,
      targets: { ...targets, inputVoltage: { min: 10, max: 14 }, outputVoltage: -12, outputCurrent: { max: 1.5 } },
    }),
  ],
];

describe('inductors from the library', () => {
  test.each(stages)('%s: what is said of a part is what the engine finds when it is chosen', (_, stage) => {
    const candidates = selectInductors(evaluated(stage), generic.inductor);
    const [best] = candidates;
    if (!best?.fits) throw new Error('no part fits');
    const low = best.part.inductance * (1 - (best.part.tolerance ?? 0));
    const chosen: Stage = { ...stage, parts: { ...stage.parts, inductor: { ...best.part, inductance: low } } };
    const { evaluation } = evaluated(chosen);
    const peak = Math.max(...evaluation.operatingPoints.map(({ inductorCurrent }) => inductorCurrent.peak));
    // What is said rests on the flux swing, which hardly knows of the part …
    const alike = { ...best.part, inductance: low, resistance: stage.parts.inductor?.resistance ?? NaN };
    delete alike.alternatingResistance;
    const swung = evaluated({ ...stage, parts: { ...stage.parts, inductor: alike } }).evaluation.operatingPoints;
    expect(
      Math.abs(best.peak / Math.max(...swung.map(({ inductorCurrent }) => inductorCurrent.peak)) - 1),
    ).toBeLessThan(0.01);
    // … but for its resistance, which lengthens the duty ratio of stages that boost.
    expect(Math.abs(best.peak / peak - 1)).toBeLessThan(0.03);
    for (const target of ['inductorRippleRatio', 'inductorSaturation', 'inductorHeating'])
      expect([target, passes(chosen, target)]).toEqual([target, true]);
  });
  test.each(stages)(
    '%s: every rejected part has its reason, every fitting one none, and fitting ones come first',
    (_, stage) => {
      const candidates = selectInductors(evaluated(stage), generic.inductor);
      for (const { fits, reasons } of candidates) expect(fits).toBe(reasons.length === 0);
      const firstRejected = candidates.findIndex(({ fits }) => !fits);
      expect(candidates.slice(firstRejected).some(({ fits }) => fits)).toBe(false);
      expect(
        candidates.filter(({ fits }) => !fits).every(({ reasons }) => reasons.every((one) => one.endsWith('.'))),
      ).toBe(true);
    },
  );
});

describe('a current limit', () => {
  const [, buck] = stages[0] ?? [];
  if (!buck) throw new Error('no stage');
  const limited = (currentLimit: number): Stage => ({
    ...buck,
    control: { ...buck.control, currentLimit },
  });
  test('must lie above the peak and below saturation', () => {
    const saturation = buck.parts.inductor?.saturationCurrent ?? NaN;
    expect([passes(limited(7.9), 'currentLimit'), passes(limited(7.9), 'saturationAtLimit')]).toEqual([true, true]);
    expect(passes(limited(6), 'currentLimit')).toBe(false);
    expect(passes(limited(saturation * 1.01), 'saturationAtLimit')).toBe(false);
    expect(passes(buck, 'currentLimit')).toBeUndefined();
  });
  test('rejects parts that saturate below it', () => {
    const rejected = selectInductors(evaluated(limited(15)), generic.inductor).filter(({ reasons }) =>
      reasons.some((reason) => reason.includes('below the current limit of 15.0')),
    );
    expect(rejected.length).toBeGreaterThan(10);
    for (const { part } of rejected) expect(part.saturationCurrent).toBeLessThan(15);
  });
});

describe('capacitors from the library', () => {
  test.each(stages)('%s: the banks offered hold the ripple targets when they are chosen', (_, stage) => {
    for (const [side, needs, target] of [
      ['outputCapacitors', outputCapacitorNeeds(evaluated(stage)), 'outputRipple'],
      ['inputCapacitors', inputCapacitorNeeds(evaluated(stage)), 'inputRipple'],
    ] as const) {
      const fitting = selectCapacitors(needs, generic.capacitor, AMBIENT).filter(({ fits }) => fits);
      expect(fitting.length).toBeGreaterThan(3);
      // Series inductance is not in the needs: it is the engine that judges the spikes of long cans.
      const quiet = fitting.filter(({ part }) => part.esl < 3e-9).slice(0, 5);
      for (const candidate of quiet) {
        const bank = { ...bankOf(candidate), esl: 0 };
        const chosen: Stage = { ...stage, parts: { ...stage.parts, [side]: [bank] } };
        expect([candidate.part.name, target, passes(chosen, target)]).toEqual([candidate.part.name, target, true]);
        expect(candidate.capacitance).toBeCloseTo(
          bankModel(bank, needs.bias).capacitance * leastShare(candidate.part),
          12,
        );
      }
    }
  });
  test('a load step asks by slope, by energy and by bandwidth, and the largest counts', () => {
    const [, buck] = stages[0] ?? [];
    if (!buck) throw new Error('no stage');
    const needs = outputCapacitorNeeds(evaluated(buck));
    expect(needs.needs.map(({ why }) => why.split(':')[0]?.split(',')[0])).toEqual([
      'output ripple',
      'load step up',
      'load step down',
      'load step down',
      'load step within the bandwidth of the loop',
    ]);
    expect(needs.capacitance).toBe(Math.max(...needs.needs.map(({ form }) => form.value)));
  });
  test('the edges: a step by the inductive divider where the current flows on, a spike where a switch steps it', () => {
    const [, buck] = stages[0] ?? [];
    const [, boost] = stages[1] ?? [];
    if (!buck || !boost) throw new Error('no stage');
    const withEsl = (stage: Stage, esl: number): Stage => {
      const [bank] = stage.parts.outputCapacitors ?? [];
      if (!bank) throw new Error('no bank');
      return { ...stage, parts: { ...stage.parts, outputCapacitors: [{ ...bank, esl, count: 2 }] } };
    };
    const step = outputCapacitorNeeds(evaluated(withEsl(buck, 2e-9))).edges;
    const inductance = buck.parts.inductor?.inductance ?? NaN;
    expect(step?.value).toBeCloseTo((29.2 * 1e-9) / (inductance + 1e-9), 9);
    const worked = evaluated(withEsl(boost, 2e-9));
    const peak = Math.max(...worked.evaluation.operatingPoints.map(({ inductorCurrent }) => inductorCurrent.peak));
    expect(outputCapacitorNeeds(worked).edges?.value).toBeCloseTo((1e-9 * peak) / 10e-9, 9);
    expect(outputCapacitorNeeds(evaluated(withEsl(buck, 0))).edges).toBeUndefined();
  });
  test('each bank bears its own current: heat, share of its rating, and the life of a can', () => {
    const [, buck] = stages[0] ?? [];
    if (!buck) throw new Error('no stage');
    const ceramic = { kind: 'ceramic' as const, capacitance: 10e-6, esr: 0.003, esl: 0, count: 4 };
    const can = {
      kind: 'electrolytic' as const,
      capacitance: 220e-6,
      esr: 0.1,
      esl: 0,
      count: 2,
      rippleCurrentRating: 0.5,
      ratedLife: 2000 * 3600,
      ratedTemperature: 105,
    };
    const mixed = evaluated({ ...buck, parts: { ...buck.parts, outputCapacitors: [ceramic, can] } });
    const [first, second] = bankStresses(mixed, 'outputCapacitors');
    const rms = Math.max(...mixed.evaluation.operatingPoints.map((point) => point.outputCapacitorBanks[1]?.rms ?? 0));
    expect(second?.rms).toBe(rms);
    expect(second?.heatEach).toBeCloseTo((rms / 2) ** 2 * 0.1, 12);
    expect(second?.ratingShare).toBeCloseTo(rms / 2 / 0.5, 12);
    // 25 °C ambient where the targets name none, and 5 K at rated ripple: 2^((105 − 25 − rise)/10) times the rated life.
    const rise = 5 * (rms / 2 / 0.5) ** 2;
    expect(second?.life).toBeCloseTo(Math.min(15 * 365.25 * 86400, 2000 * 3600 * 2 ** ((80 - rise) / 10)), 0);
    expect(first?.life).toBeUndefined();
    expect(first?.rms).toBeGreaterThan(second?.rms ?? Infinity);
  });
  test('tantalum is asked for twice its voltage, and an overloaded can lives shorter', () => {
    const [, buck] = stages[0] ?? [];
    if (!buck) throw new Error('no stage');
    const needs = outputCapacitorNeeds(evaluated(buck));
    const rejected = selectCapacitors(needs, generic.capacitor, AMBIENT).find(({ part }) => part.name === 'CT16-47u');
    expect(rejected?.reasons.join(' ')).toMatch(/rated voltage of 16\.0.V is not 2 times/);
    const life = (rms: number) =>
      selectCapacitors({ ...needs, rms }, generic.capacitor, 95).find(({ part }) => part.name === 'CE25-220u')?.life ??
      NaN;
    expect(life(needs.rms)).toBeLessThanOrEqual(life(0));
  });
});

describe('input capacitor current over the input range', () => {
  test('a buck has its worst at a duty of a half inside the range, I/2 for small ripple (R. W. Erickson: charge balance)', () => {
    const wide = sized({
      topology: 'buck',
      switchingFrequency: 400e3,
      targets: { ...targets, inputVoltage: { min: 15, max: 40 }, inductorRippleRatio: 0.05 },
    });
    const complete = evaluated(wide).complete;
    const peak = inputRmsPeak(complete);
    expect(peak?.duty).toBeCloseTo(0.5, 2);
    expect(peak?.rms).toBeCloseTo(3, 2);
    const corners = evaluated(wide).evaluation.operatingPoints.map(({ inputCapacitorRms }) => inputCapacitorRms);
    expect(peak?.rms).toBeGreaterThan(Math.max(...corners));
  });
  test('without the half inside, the worst is at an end', () => {
    const [, buck] = stages[0] ?? [];
    if (!buck) throw new Error('no stage');
    const narrow = { ...buck, targets: { ...buck.targets, inputVoltage: { min: 27, max: 29 } } };
    expect(inputRmsPeak(evaluated(narrow).complete)?.inputVoltage).toBe(27);
  });
});

describe('what parts lose and what cores heat', () => {
  test('core loss is a power law in frequency and volt-seconds (C. P. Steinmetz, On the Law of Hysteresis, 1892)', () => {
    const part = {
      inductance: 1e-6,
      resistance: 0.001,
      coreLossCoefficient: 0.02,
      coreLossFrequencyExponent: 1.4,
      coreLossFluxExponent: 2.2,
    };
    expect(coreLossOf(part, 100e3, 1e-6)).toBeCloseTo(0.02, 12);
    expect(coreLossOf(part, 200e3, 1e-6)).toBeCloseTo(0.02 * 2 ** 1.4, 12);
    expect(coreLossOf(part, 100e3, 3e-6)).toBeCloseTo(0.02 * 3 ** 2.2, 12);
    expect(coreLossOf({ inductance: 1e-6, resistance: 0 }, 100e3, 1e-6)).toBeUndefined();
  });
  test('copper at 100 °C has 1.295 times its resistance at 25 °C (IEC 60028: 0.00393 per kelvin)', () => {
    expect(copperAt(1, 100)).toBeCloseTo(1.29475, 5);
  });
  test('tolerance, temperature and aging take their shares one after another', () => {
    expect(leastShare({ tolerance: 0.1, temperatureDrop: 0.15, agingDrop: 0.05 })).toBeCloseTo(0.9 * 0.85 * 0.95, 12);
    expect(leastShare({})).toBe(1);
  });
});

describe('an input filter against its stage', () => {
  const filtered = (capacitance: number): Stage => {
    const [, buck] = stages[0] ?? [];
    if (!buck) throw new Error('no stage');
    const inputFilter = { inductance: 2.2e-6, resistance: 0.01, damping: { capacitance, resistance: 0.3 } };
    return { ...buck, parts: { ...buck.parts, inputFilter } };
  };
  test('the peak with optimum damping against V²/P at the lowest input and full load; more damping, less of it', () => {
    const weak = inputFilterCheck(evaluated(filtered(22e-6)));
    const strong = inputFilterCheck(evaluated(filtered(220e-6)));
    expect(weak?.forms[3]?.value).toBeCloseTo(400 / 72, 0);
    expect(strong?.share).toBeLessThan(weak?.share ?? NaN);
    // Never nearer than the peak of the filter is to the input resistance of constant power.
    expect(weak?.share).toBeGreaterThanOrEqual((weak?.forms[2]?.value ?? NaN) / (weak?.forms[3]?.value ?? NaN));
  });
  test('without a filter there is nothing to check', () => {
    const [, buck] = stages[0] ?? [];
    if (!buck) throw new Error('no stage');
    expect(inputFilterCheck(evaluated(buck))).toBeUndefined();
  });
});

test('the on-resistance rises in a straight line from 25 °C, and stays without a coefficient', () => {
  const mosfet = { onResistance: 0.01, onResistanceTemperatureCoefficient: 0.004 };
  expect(onResistanceAt(mosfet, 25)).toBe(0.01);
  expect(onResistanceAt(mosfet, 125)).toBeCloseTo(0.014, 12);
  expect(onResistanceAt(mosfet, -25)).toBeCloseTo(0.008, 12);
  expect(onResistanceAt({ onResistance: 0.01 }, 125)).toBe(0.01);
});

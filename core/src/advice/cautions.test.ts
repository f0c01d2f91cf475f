import { describe, expect, test } from '@jest/globals';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { hotPlug } from '../selection/hotPlug.js';
import { proposeNetwork } from '../sizing/compensation.js';
import { cautionsOf } from './cautions.js';
import { stageSchema } from '../stage/schema.js';

const cautions = (part: object): string =>
  cautionsOf(
    stageSchema.parse({
      format: 'yundro-stage',
      version: 1,
      topology: 'buck',
      targets: { inputVoltage: { min: 20, max: 30 }, outputVoltage: 12, outputCurrent: { max: 1 } },
      ...part,
    }),
  )
    .map(({ code }) => code)
    .join(' ');

const worked = (parts: object, more: object = {}): EvaluatedStage => {
  const evaluated = evaluateStage(
    stageSchema.parse({
      format: 'yundro-stage',
      version: 1,
      topology: 'buck',
      switchingFrequency: 300e3,
      targets: { inputVoltage: { min: 20, max: 30 }, outputVoltage: 12, outputCurrent: { max: 4 } },
      parts: {
        inductor: { inductance: 10e-6, resistance: 0.01 },
        outputCapacitors: [{ capacitance: 100e-6 }],
        inputCapacitors: [{ capacitance: 10e-6, ratedVoltage: 50 }],
        highSide: { onResistance: 0.01, drainSourceVoltageMax: 40 },
        lowSide: { onResistance: 0.01, drainSourceVoltageMax: 40 },
        ...parts,
      },
      ...more,
    }),
  );
  if (!evaluated.ok) throw new Error('not evaluated');
  return evaluated.value;
};
const sentence = (of: EvaluatedStage, code: string): string | undefined =>
  cautionsOf(of.evaluation.stage, of).find((one) => one.code === code)?.sentence;

describe('what protects the input', () => {
  const FUSE = { resistance: 0.01 };
  test.each([
    // 12 V · 4 A out of 20 V draws 2.5 A: 3.7 A at the least, by three quarters and a tenth.
    [
      'a fuse below what it carries for long',
      { fuse: { ...FUSE, ratedCurrent: 3.5 } },
      'fuse-too-small',
      /take one of 4\.00\sA or more/,
    ],
    ['a fuse above it', { fuse: { ...FUSE, ratedCurrent: 4 } }, undefined, undefined],
    [
      'an element that blocks less than twice the input',
      { reversePolarity: { resistance: 0.01, blockingVoltageMax: 59 } },
      'reverse-polarity-rating',
      /puts 60/,
    ],
    ['one that blocks it', { reversePolarity: { resistance: 0.01, blockingVoltageMax: 60 } }, undefined, undefined],
    [
      'a clamp above the switches',
      { suppressor: { clampingVoltage: 41 } },
      'suppressor-above-rating',
      /40\.0\sV of the high-side switch/,
    ],
    ['a clamp below the input', { suppressor: { clampingVoltage: 29 } }, 'suppressor-conducts', /stands? off more/],
    [
      'one that stands off less than the input',
      { suppressor: { clampingVoltage: 38, standOffVoltage: 28 } },
      'suppressor-conducts',
      /28\.0/,
    ],
    ['a clamp between them', { suppressor: { clampingVoltage: 38, standOffVoltage: 31 } }, undefined, undefined],
    [
      'a diode with capacitors behind it',
      { reversePolarity: { forwardVoltage: 0.5, resistance: 0 } },
      undefined,
      undefined,
    ],
    [
      'a diode without',
      { reversePolarity: { forwardVoltage: 0.5, resistance: 0 }, inputCapacitors: [] },
      'input-current-turns',
      /a switch in place of the diode/,
    ],
  ] as const)('%s', (_, parts, code, words) => {
    const codes = [
      'fuse-too-small',
      'reverse-polarity-rating',
      'suppressor-above-rating',
      'suppressor-conducts',
      'input-current-turns',
    ];
    const of = worked(parts);
    const found = cautionsOf(of.evaluation.stage, of).filter((one) => codes.includes(one.code));
    expect(found.map((one) => one.code)).toEqual(code === undefined ? [] : [code]);
    if (words) expect(found[0]?.sentence).toMatch(words);
  });
  test('a diode before a stage whose own rectifier lets nothing back is at peace without capacitors too', () => {
    const parts = {
      reversePolarity: { forwardVoltage: 0.5, resistance: 0 },
      inputCapacitors: [],
      diode: { forwardVoltage: 0.5 },
    };
    expect(sentence(worked(parts, { rectifier: 'diode' }), 'input-current-turns')).toBeUndefined();
  });
  test('a preload lets the output go down, and a precharge keeps the input from ringing', () => {
    const big = { outputCapacitors: [{ capacitance: 2e-3 }] };
    const bare = sentence(worked(big), 'stored-energy-output');
    expect(bare).toMatch(/nothing in the stage discharges it/);
    // 3 · 100 ohm · 2 mF.
    expect(sentence(worked({ ...big, preload: { resistance: 100 } }), 'stored-energy-output')).toMatch(
      /discharge it, to 5 % in 0\.60\ss|600\sms/,
    );
    const live = { source: { resistance: 0.01, inductance: 1e-6 } };
    expect(sentence(worked(live), 'hot-plug-over-rating')).toMatch(/rings to 5/);
    expect(sentence(worked({ ...live, precharge: { resistance: 10 } }), 'hot-plug-over-rating')).toBeUndefined();
    expect(sentence(worked({ ...live, suppressor: { clampingVoltage: 39 } }), 'hot-plug-over-rating')).toBeUndefined();
  });
});

describe('cautions', () => {
  test('a low-voltage buck with ceramics: what every stage of its kind needs, and no more', () => {
    expect(cautions({ parts: { outputCapacitors: [{ capacitance: 1e-5 }] } })).toBe(
      'input-on-output pumps-into-source no-current-limit input-polarity',
    );
    expect(cautions({ rectifier: 'diode', control: { currentLimit: 3 } })).toBe('input-on-output input-polarity');
    const protectedStage = { parts: { fuse: { resistance: 0.01 }, reversePolarity: { resistance: 0.01 } } };
    expect(cautions(protectedStage)).not.toContain('input-polarity');
  });
  test('above 60 V, at the input or the output; then the output is as live as the input', () => {
    const high = { targets: { inputVoltage: { min: 50, max: 80 }, outputVoltage: 12, outputCurrent: { max: 1 } } };
    expect(cautions(high)).toContain('high-voltage output-as-live-as-input');
    expect(cautions({})).not.toContain('high-voltage');
  });
  test('a boost can run away, cannot disconnect a short, and shorts the input at a duty ratio of 1', () => {
    const part = {
      topology: 'boost',
      targets: { inputVoltage: { min: 9, max: 15 }, outputVoltage: 48, outputCurrent: { max: 1 } },
    };
    for (const code of ['output-runs-away', 'short-not-disconnected', 'no-duty-limit'])
      expect(cautions(part)).toContain(code);
    expect(cautions({ ...part, control: { dutyMax: 0.9 } })).not.toContain('no-duty-limit');
    expect(cautions(part)).not.toContain('input-on-output');
  });
  test('the switches of an inverting stage see the sum', () => {
    const targets = { inputVoltage: { min: 9, max: 15 }, outputVoltage: -12, outputCurrent: { max: 1 } };
    const [found] = cautionsOf(
      stageSchema.parse({ format: 'yundro-stage', version: 1, topology: 'inverting-buck-boost', targets }),
    ).filter(({ code }) => code === 'switches-see-the-sum');
    expect(found?.sentence.replace(/\u2009/g, ' ')).toContain('27.0 V');
  });
  test('capacitors with a temper', () => {
    const bank = (kind: string) => ({ parts: { outputCapacitors: [{ kind, capacitance: 1e-5 }] } });
    expect(cautions(bank('tantalum'))).toContain('tantalum-surge');
    expect(cautions(bank('electrolytic'))).toContain('electrolytic-polarity');
  });
  test('a supply put on at once rings over the rating of 40 V switches; damped it does not', () => {
    const source = { resistance: 0.01, inductance: 1e-6 };
    expect(sentence(worked({ source }), 'hot-plug-over-rating')).toContain('high-side switch');
    const bulk = { kind: 'electrolytic', capacitance: 100e-6, esr: 0.3, ratedVoltage: 50 };
    const damped = worked({ source, inputCapacitors: [{ capacitance: 10e-6, ratedVoltage: 50 }, bulk] });
    expect(sentence(damped, 'hot-plug-over-rating')).toBeUndefined();
    // A stage that states no source is plugged in by leads.
    expect(sentence(worked({}), 'hot-plug-over-rating')).toContain('as no source is stated');
  });
  test('what is said to damp it does: bulk and resistance of the sentence put in, neither caution is left', () => {
    const source = { resistance: 0.01, inductance: 2e-6 };
    const bare = { control: { scheme: 'voltage-mode', compensator: { network: 'type-3' } } };
    const proposed = proposeNetwork(worked({ outputCapacitors: [{ capacitance: 100e-6, esr: 2e-3 }] }, bare));
    if (typeof proposed === 'string') throw new Error(proposed);
    const { control } = proposed;
    const ceramics = { capacitance: 10e-6, esr: 1e-3, ratedVoltage: 50 };
    const of = worked({ source, inputCapacitors: [ceramics] }, { control });
    const said = sentence(of, 'hot-plug-over-rating')?.replace(/\u2009/g, ' ') ?? '';
    // 4 · 10 µF; √(2 µH/10 µF) √(16 · 6/(32 · 8)) = 0.274 Ω.
    expect(said).toContain('bulk of about 40 µF with 270 mΩ in series');
    expect(sentence(of, 'input-oscillation')?.replace(/\u2009/g, ' ')).toMatch(
      /A bulk of about 40 µF with 270 mΩ .* brings it to 0\.\d\d\./,
    );
    const bulk = { kind: 'electrolytic', capacitance: 40e-6, esr: 0.2739, ratedVoltage: 50 };
    const damped = worked({ source, inputCapacitors: [ceramics, bulk] }, { control });
    expect(sentence(damped, 'input-oscillation')).toBeUndefined();
    // The ring is of bulk and ceramics together, and is what was said.
    const [, told] = /brings it to (\d+\.\d) V/.exec(said) ?? [];
    expect(hotPlug(damped.complete, 30)?.peak).toBeCloseTo(Number(told), 1);
  });
  test('a junction above 60 °C: what is hot is said with its figure, what is not is not', () => {
    const switches = (junctionToAmbient: number): object => ({
      highSide: { onResistance: 0.03, drainSourceVoltageMax: 60, junctionToAmbient },
      lowSide: { onResistance: 0.01, drainSourceVoltageMax: 60 },
    });
    expect(sentence(worked(switches(200)), 'hot-surfaces')?.replace(/\u2009/g, ' ')).toContain(
      'Junctions reach 84.0 °C',
    );
    expect(sentence(worked(switches(10)), 'hot-surfaces')).toBeUndefined();
  });
  test('energy left, with the time the divider needs: 3 R C to 5 %', () => {
    const big = { outputCapacitors: [{ kind: 'electrolytic', capacitance: 2e-3, esr: 0.02, ratedVoltage: 16 }] };
    const components = { rUpper: 14e3, rLower: 1e3 };
    const of = worked(big, { control: { compensator: { network: 'type-2', components } } });
    // E = 2 mF (12 V)² / 2 = 0.144 J; 3 · 15 kΩ · 2 mF = 90 s.
    expect(sentence(of, 'stored-energy-output')?.replace(/\u2009/g, ' ')).toContain('140 mJ at 12.0 V');
    expect(sentence(of, 'stored-energy-output')?.replace(/\u2009/g, ' ')).toContain('5 % in 90 s');
    expect(sentence(worked({}), 'stored-energy-output')).toBeUndefined();
  });
});

describe('a supply put on at once', () => {
  const ring = (resistance: number): number => {
    const { complete } = worked({
      source: { resistance, inductance: 1e-6 },
      inputCapacitors: [{ capacitance: 10e-6, esr: 0 }],
    });
    return (hotPlug(complete, 30)?.peak ?? NaN) / 30;
  };
  test('without loss the input rings to twice the supply', () => {
    expect(ring(1e-6)).toBeCloseTo(2, 3);
  });
  test('a second-order step response overshoots by exp(−πζ/√(1−ζ²)) (K. Ogata, Modern Control Engineering, section 5-3)', () => {
    // ζ = R/2 √(C/L)
    for (const zeta of [0.1, 0.3, 0.6]) {
      const resistance = 2 * zeta * Math.sqrt(1e-6 / 10e-6);
      expect(ring(resistance)).toBeCloseTo(1 + Math.exp((-Math.PI * zeta) / Math.sqrt(1 - zeta ** 2)), 3);
    }
  });
});

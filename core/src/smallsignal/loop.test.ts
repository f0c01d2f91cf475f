import { describe, expect, test } from '@jest/globals';
import { evaluateStage } from '../corners/evaluate.js';
import { judgeLoop } from '../corners/loopVerdicts.js';
import { complete, TYPE_2, VOLTAGE, CURRENT } from '../../testing/loopStage.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { sizeStage } from '../sizing/size.js';
import { sizeLoop } from '../sizing/sizeLoop.js';
import { solveStage } from '../steady/solveStage.js';
import { loopAt, type LoopReport } from './loopResponse.js';
import { decibels, degreesOf } from '../linalg/complex.js';
import { marginsOf, type Margin } from './margins.js';

const FREQUENCIES = [5e3, 50e3, 200e3];
function loop(stage: CompleteStage, current = 8, { whole = false, inputVoltage = 12 } = {}): LoopReport {
  const condition = { inputVoltage, load: { kind: 'current' as const, current } };
  const solved = solveStage(stage, condition);
  if (solved.kind === 'unsolved') throw new Error(solved.reason);
  const { solution, powerStage } = solved;
  const start = whole
    ? { solution, powerStage: { ...powerStage, rotation: { order: 1, next: new Map<string, string>() } } }
    : { solution, powerStage };
  const found = loopAt(stage, condition, FREQUENCIES, { solved: start });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found;
}
const value = (margin: Margin): number => (margin.kind === 'found' ? margin.value : NaN);
const gains = ({ points }: LoopReport): readonly number[] => points.map((point) => decibels(point.loop));

describe('phases that are copies', () => {
  test.each([
    ['four phases, voltage mode', { phases: 4, deadTime: 20e-9 }, VOLTAGE],
    ['three phases, current mode', { phases: 3 }, CURRENT],
    ['four phases coupled in pairs', { phases: 4, coupling: { kind: 'inverse', coefficient: 0.2 } }, CURRENT],
  ])('%s: a share of the period tells what the whole one does', (_, over, control) => {
    const stage = complete(over, control);
    const share = loop(stage);
    const whole = loop(stage, 8, { whole: true });
    gains(share).forEach((gain, k) => expect(gain).toBeCloseTo(gains(whole)[k] ?? NaN, 6));
    expect(value(share.crossover)).toBeCloseTo(value(whole.crossover), 1);
    share.floquetMultipliers.forEach(({ re, im }, k) => {
      const other = whole.floquetMultipliers[k] ?? { re: NaN, im: NaN };
      expect(Math.hypot(re, im)).toBeCloseTo(Math.hypot(other.re, other.im), 6);
    });
    expect(share.subharmonicGain).toBeCloseTo(whole.subharmonicGain, 6);
  });
});

describe('what the loop depends on', () => {
  test('a dead time that shrinks to nothing leaves the loop without one', () => {
    const without = gains(loop(complete()));
    const next = gains(loop(complete({ deadTime: 1e-12 })));
    const real = gains(loop(complete({ deadTime: 20e-9 })));
    without.forEach((gain, k) => {
      expect(next[k]).toBeCloseTo(gain, 4);
      expect(Math.abs((real[k] ?? NaN) - gain)).toBeLessThan(0.1);
      expect(real[k]).not.toBeCloseTo(gain, 5);
    });
  });
  test('input capacitors beside a source without impedance change nothing; a filter does', () => {
    const bare = gains(loop(complete({}, VOLTAGE, { inputCapacitors: [] })));
    gains(loop(complete())).forEach((gain, k) => expect(gain).toBeCloseTo(bare[k] ?? NaN, 9));
    const filter = { inductance: 1e-6, resistance: 0.01, damping: { capacitance: 100e-6, resistance: 0.15 } };
    expect(gains(loop(complete({}, VOLTAGE, { inputFilter: filter })))[1]).not.toBeCloseTo(bare[1] ?? NaN, 3);
  });
  test('feed-forward holds the crossover over a 2:1 input range, plain voltage mode moves it in proportion', () => {
    const targets = {
      inputVoltage: { min: 9, nominal: 12, max: 18 },
      outputVoltage: 3.3,
      outputCurrent: { min: 8, max: 12 },
    };
    const crossovers = (scheme: string) =>
      [9, 18].map((inputVoltage) =>
        value(loop(complete({ targets }, { ...VOLTAGE, scheme }), 8, { inputVoltage }).crossover),
      );
    const [low = NaN, high = NaN] = crossovers('voltage-mode-feedforward');
    expect(Math.abs(high / low - 1)).toBeLessThan(0.05);
    const [plainLow = NaN, plainHigh = NaN] = crossovers('voltage-mode');
    expect(plainHigh / plainLow).toBeGreaterThan(1.6);
    expect(plainHigh / plainLow).toBeLessThan(2.4);
  });
  test('a diode stage at light load loses 10 dB and more, and its plant has a single pole (common practice)', () => {
    const diode = { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } };
    const stage = complete({ rectifier: 'diode' }, VOLTAGE, diode);
    const [full, light] = [loop(stage, 8), loop(stage, 0.1)];
    const plantPhase = (report: LoopReport, k: number): number => {
      return degreesOf(report.points[k]?.plant ?? { re: NaN, im: NaN });
    };
    expect((gains(full)[1] ?? NaN) - (gains(light)[1] ?? NaN)).toBeGreaterThan(10);
    expect(plantPhase(full, 1)).toBeLessThan(-120);
    expect(plantPhase(light, 1)).toBeGreaterThan(-115);
    const targets = { inputVoltage: { min: 12, max: 12 }, outputVoltage: 3.3, outputCurrent: { min: 0.1, max: 8 } };
    const evaluated = evaluateStage(complete({ rectifier: 'diode', targets }, VOLTAGE, diode).stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    const { verdicts, corners } = judgeLoop(evaluated.value);
    const [lightest] = corners;
    expect(lightest?.lightLoad?.lostGain).toBeGreaterThan(10);
    expect(verdicts[0]?.note).toMatch(
      /in discontinuous conduction at 12.0\sV, 100\smA the loop has \d\d dB less gain .* turned single-pole/,
    );
    // Heavier loads stay in continuous conduction and have nothing to be compared with.
    expect(corners.at(-1)?.lightLoad).toBeUndefined();
  });
});

describe('peak current mode without slope compensation', () => {
  /** A voltage loop far too slow to matter: what is left is the current loop. */
  const slow = {
    ...CURRENT,
    slopeCompensation: 0,
    compensator: { ...TYPE_2, components: { ...TYPE_2.components, rZero: 10, cZero: 1e-6 } },
  };
  const stableAt = (outputVoltage: number, slopeCompensation = 0): boolean =>
    loop(
      complete(
        { targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage, outputCurrent: { max: 8 } } },
        {
          ...slow,
          slopeCompensation,
          compensator: {
            ...slow.compensator,
            components: { ...slow.compensator.components, rUpper: (outputVoltage / 0.6 - 1) * 10e3 },
          },
        },
        {
          inductor: { inductance: 2.2e-6, resistance: 0 },
          highSide: { onResistance: 1e-6 },
          lowSide: { onResistance: 1e-6 },
        },
      ),
    ).stable;
  // Source: R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., section 12.1 (stable below D = 0.5; with
  // slope compensation where (m₂ − mₐ)/(m₁ + mₐ) < 1).
  test('the border of stability lies at a duty ratio of one half within 1 %', () => {
    expect(stableAt(12 * 0.495)).toBe(true);
    expect(stableAt(12 * 0.507)).toBe(false);
  });
  test('half the down-slope makes it stable at any duty ratio', () => {
    expect(stableAt(12 * 0.75)).toBe(false);
    expect(stableAt(12 * 0.75, (0.5 * 0.05 * 9) / 2.2e-6)).toBe(true);
  });
});

describe('constant on-time', () => {
  const stage = (esr: number, reference = 1.8) =>
    complete(
      { targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 1.8, outputCurrent: { min: 5, max: 5 } } },
      { scheme: 'constant-on-time', onTime: 300e-9, reference },
      {
        inductor: { inductance: 1e-6, resistance: 0.005 },
        outputCapacitors: [{ capacitance: 220e-6, esr }],
        highSide: { onResistance: 0.008 },
        lowSide: { onResistance: 0.005 },
      },
    );
  test('enough ripple of the ESR keeps it stable, too little lets pulses alternate (independent SPICE cases B25a and B25b)', () => {
    expect(loop(stage(0.012), 5).stable).toBe(true);
    const bad = loop(stage(0.0002), 5);
    expect(bad.stable).toBe(false);
    expect(bad.subharmonicGain).toBeLessThan(-1);
  });
  test('a ripple injection network acts as the ESR it stands for, and is sized where there is too little ripple', () => {
    const bare = stage(0.0002, 0.6);
    const injected = (resistance: number) => ({
      ...bare,
      stage: {
        ...bare.stage,
        control: { ...bare.stage.control, rippleInjection: { resistance, capacitance: 100e-9, coupling: 10e-9 } },
      },
    });
    // L/(R C) = 11.8 mΩ, as with the ESR of the stable case.
    const [network, esr] = [loop(injected(1e-6 / 0.0118 / 100e-9), 5), loop(stage(0.012, 0.6), 5)];
    expect(network.stable).toBe(true);
    expect(Math.abs(network.subharmonicGain - esr.subharmonicGain)).toBeLessThan(0.1);
    // Its limit: half the on-time, over the output capacitance.
    const limit = 300e-9 / 2 / 220e-6 - 0.0002;
    expect(loop(injected(1e-6 / (1.1 * limit) / 100e-9), 5).stable).toBe(true);
    expect(loop(injected(1e-6 / (0.75 * limit) / 100e-9), 5).stable).toBe(false);
    const sized = sizeStage(bare.stage);
    if (!sized.ok) throw new Error('not sized');
    const { evaluation } = sizeLoop(sized.value);
    expect(evaluation.stage.control.rippleInjection?.coupling).toBeGreaterThan(0);
    expect(evaluation.verdicts.find(({ target }) => target === 'loopStability')?.pass).toBe(true);
  });
  test('where injected ripple has the divider chosen again, each choice stands once and is what the stage has', () => {
    const bare = stage(0.0002, 0.6).stage;
    const sized = sizeStage({ ...bare, control: { ...bare.control, compensator: undefined } });
    if (!sized.ok) throw new Error('not sized');
    const { evaluation, choices } = sizeLoop(sized.value);
    expect(evaluation.stage.control.rippleInjection).toBeDefined();
    for (const key of ['rUpper', 'rLower'] as const) {
      const named = choices.filter(({ path }) => path === `control.compensator.components.${key}`);
      expect(named.map(({ value }) => value)).toEqual([evaluation.stage.control.compensator?.components[key]]);
    }
  });
  test('its verdict names what happens', () => {
    const evaluated = evaluateStage(stage(0.0002).stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    const { verdicts } = judgeLoop(evaluated.value);
    expect(verdicts[0]).toMatchObject({ target: 'loopStability', pass: false });
    expect(verdicts[0]?.reason).toMatch(/alternate/);
  });
  test('plant times divider is the loop gain', () => {
    const [point] = loop(stage(0.012), 5).points;
    if (!point) throw new Error('no point');
    expect(decibels(point.plant) + decibels(point.compensator)).toBeCloseTo(decibels(point.loop), 9);
  });
});

describe('verdicts on the loop', () => {
  const judged = (over: object, control: object) => {
    const evaluated = evaluateStage(complete(over, control).stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    return judgeLoop(evaluated.value);
  };
  const targets = {
    inputVoltage: { min: 12, max: 12 },
    outputVoltage: 3.3,
    outputCurrent: { min: 8, max: 12 },
    phaseMargin: 50,
    gainMargin: 10,
  };
  test('a loop that alternates fails whatever its margins say, and the reason names it', () => {
    const fast = {
      ...CURRENT,
      slopeCompensation: 54545,
      compensator: {
        ...TYPE_2,
        components: { rUpper: 110e3, rLower: 10e3, rZero: 30e3, cZero: 2.2e-9, cPole: 1.5e-11 },
      },
    };
    const { verdicts } = judged({ targets: { ...targets, outputVoltage: 7.2 } }, fast);
    const stability = verdicts.find(({ target }) => target === 'loopStability');
    expect(stability).toMatchObject({ pass: false, worst: null });
    expect(stability?.reason).toMatch(/long and short pulses alternate/);
    expect(verdicts.find(({ target }) => target === 'phaseMargin')?.pass).toBe(true);
  });
  test('margins are judged at the worst corner of those asked for', () => {
    const { verdicts, corners } = judged({ targets }, VOLTAGE);
    const margin = verdicts.find(({ target }) => target === 'phaseMargin');
    const all = corners.map(({ loop: one }) => (one.kind === 'solved' ? value(one.phaseMargin) : NaN));
    expect(margin?.worst).toBe(Math.min(...all));
    expect(verdicts.map(({ target }) => target)).toEqual(['loopStability', 'phaseMargin', 'subharmonicMargin']);
    // The gain margin is one number, at −180°; where the phase does not get there, the ledger judges another, by its own name.
    const solved = corners.flatMap(({ loop: one }) => (one.kind === 'solved' ? [one] : []));
    expect(solved.every(({ gainMargin }) => gainMargin.kind === 'none')).toBe(true);
    expect(verdicts[2]?.worst).toBe(Math.min(...solved.map(({ subharmonicMargin }) => subharmonicMargin ?? Infinity)));
  });
  test('a stage without a compensator has no loop, and says what is missing', () => {
    const { verdicts, reason } = judged({ targets }, { scheme: 'voltage-mode', reference: 0.6, rampAmplitude: 1 });
    expect(verdicts).toEqual([]);
    expect(reason).toMatch(/what is missing is a compensator/);
  });
});

describe('margins of a loop gain', () => {
  /** k / (1 + jf/p)³ */
  const threePoles = (k: number, p: number) => (f: number) => {
    const size = k / Math.hypot(1, f / p) ** 3;
    const angle = -3 * Math.atan(f / p);
    return { re: size * Math.cos(angle), im: size * Math.sin(angle) };
  };
  const margins = (gain: ReturnType<typeof threePoles>) =>
    marginsOf(
      Array.from({ length: 50 }, (_, i) => 10 ** (1 + i / 12)).map((frequency) => ({
        frequency,
        value: gain(frequency),
      })),
      gain,
    );
  test('three equal poles turn at √3 times their frequency, with a gain of an eighth', () => {
    const { gainMargin, phaseMargin, crossover } = margins(threePoles(4, 1e3));
    expect(gainMargin.kind === 'found' && gainMargin.frequency).toBeCloseTo(Math.sqrt(3) * 1e3, 3);
    expect(value(gainMargin)).toBeCloseTo(20 * Math.log10(2), 6);
    const fc = 1e3 * Math.sqrt(4 ** (2 / 3) - 1);
    expect(value(crossover)).toBeCloseTo(fc, 3);
    expect(value(phaseMargin)).toBeCloseTo(180 - (3 * Math.atan(fc / 1e3) * 180) / Math.PI, 6);
  });
  test('too much gain makes both negative; too little leaves no crossover', () => {
    const much = margins(threePoles(16, 1e3));
    expect(value(much.gainMargin)).toBeCloseTo(-20 * Math.log10(2), 6);
    expect(value(much.phaseMargin)).toBeLessThan(0);
    expect(margins(threePoles(0.5, 1e3)).crossover).toMatchObject({ kind: 'none' });
  });
});

describe('responses beside the loop gain', () => {
  const resistive = { inputVoltage: 12, load: { kind: 'resistance' as const, resistance: 3.3 / 8 } };
  const report = loopAt(complete(), resistive, [50, 500, 1e5]);
  if (report.kind !== 'solved') throw new Error(report.reason);
  const [low, middle, high] = report.points;
  if (!low || !middle || !high) throw new Error('no points');
  test('line: times one and the loop gain it is the duty ratio at low frequencies', () => {
    // v̂out / v̂in = D / (1 + T) for the buck at fixed ramp: R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd
    // ed., ch. 9, section 9.2.
    for (const { loop: gain, line } of [low, middle]) {
      const whole = Math.hypot(1 + gain.re, gain.im) * Math.hypot(line.re, line.im);
      expect(whole / (3.3 / 12)).toBeGreaterThan(0.97);
      expect(whole / (3.3 / 12)).toBeLessThan(1.03);
    }
  });
  test('inductor current: through the load at low frequencies, through the capacitor far above', () => {
    const size = ({ re, im }: { re: number; im: number }): number => Math.hypot(re, im);
    expect(size(low.plant) / size(low.inductorCurrent)).toBeCloseTo(3.3 / 8, 2);
    // Z = R ∥ (ESR + 1/jωC)
    const capacitor = 1 / (2 * Math.PI * 1e5 * 100e-6);
    const impedance = 1 / Math.hypot(8 / 3.3, 1 / Math.hypot(0.003, capacitor));
    expect(size(high.plant) / size(high.inductorCurrent) / impedance).toBeGreaterThan(0.95);
    expect(size(high.plant) / size(high.inductorCurrent) / impedance).toBeLessThan(1.05);
  });
});

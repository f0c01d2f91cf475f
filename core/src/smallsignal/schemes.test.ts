import { describe, expect, test } from '@jest/globals';
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { AVERAGE, complete, TYPE_2 } from '../../testing/loopStage.js';
import { proposeLoop } from '../sizing/compensation.js';
import { evaluateStage } from '../corners/evaluate.js';
import { lowestCrossover } from '../sizing/askedMargins.js';
import { plantsOf } from '../sizing/plants.js';
import { completeDigitalController, digitalResponse } from '../controller/digitalController.js';
import { decibels, degreesOf, magnitude, product } from '../linalg/complex.js';
import { propagator } from '../linalg/propagator.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { solveStage } from '../steady/solveStage.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { loopAt, type LoopReport } from './loopResponse.js';
import { plantResponse } from './plantResponse.js';

function worked(stage: CompleteStage, load: OperatingCondition['load'], whole = false) {
  const condition = { inputVoltage: 12, load };
  const found = solveStage(stage, condition);
  if (found.kind === 'unsolved') throw new Error(found.reason);
  const { solution, powerStage } = found;
  const rotation = { order: 1, next: new Map<string, string>() };
  const solved = whole ? { solution, powerStage: { ...powerStage, rotation } } : found;
  const report = loopAt(stage, condition, [1e3, 1e4, 1e5], { solved });
  const plant = plantResponse(stage, condition, solved);
  if (report.kind !== 'solved') throw new Error(report.reason);
  if (typeof plant === 'string') throw new Error(plant);
  return { report, plant, duty: solution.duty };
}
const gains = ({ points }: LoopReport): readonly number[] => points.map(({ loop }) => decibels(loop));

describe('average current mode', () => {
  test('at low frequency the average inductor current follows the control voltage: R over the sense gain', () => {
    const { plant } = worked(complete({}, AVERAGE), { kind: 'resistance', resistance: 0.4 });
    expect(magnitude(plant(1)) / (0.4 / 0.05)).toBeCloseTo(1, 4);
  });
  test('the plant of the closed loop is that of the stage alone', () => {
    const { report, plant } = worked(complete({}, AVERAGE), { kind: 'current', current: 8 });
    for (const point of report.points) {
      expect(Math.abs(decibels(point.plant) - decibels(plant(point.frequency)))).toBeLessThan(0.1);
      expect(Math.abs(degreesOf(point.plant) - degreesOf(plant(point.frequency)))).toBeLessThan(1);
    }
  });
  test('three phases: a share of the period tells what the whole one does', () => {
    const stage = complete({ phases: 3 }, AVERAGE);
    const share = worked(stage, { kind: 'current', current: 8 }).report;
    const whole = worked(stage, { kind: 'current', current: 8 }, true).report;
    gains(share).forEach((gain, k) => expect(gain).toBeCloseTo(gains(whole)[k] ?? NaN, 5));
    expect(share.stable).toBe(true);
  });
  test('an inverting stage has the same sign round the loop', () => {
    const targets = { inputVoltage: { min: 12, max: 12 }, outputVoltage: -15, outputCurrent: { max: 0.6 } };
    const compensator = {
      ...AVERAGE.compensator,
      components: { ...AVERAGE.compensator.components, rUpper: 240e3, rZero: 10e3, cZero: 1e-7 },
    };
    const stage = complete({ topology: 'inverting-buck-boost', targets }, { ...AVERAGE, compensator });
    const { report, plant } = worked(stage, { kind: 'current', current: 0.6 });
    expect(report.stable).toBe(true);
    for (const point of report.points)
      expect(Math.abs(degreesOf(point.plant) - degreesOf(plant(point.frequency)))).toBeLessThan(1);
  });
  test('what is missing is named', () => {
    const { currentAmplifier, ...rest } = AVERAGE;
    expect(currentAmplifier).toBeDefined();
    const stage = complete({}, rest);
    const found = loopAt(stage, { inputVoltage: 12, load: { kind: 'current', current: 8 } }, []);
    expect(found).toMatchObject({ kind: 'unsolved', why: 'incomplete' });
    expect(found.kind === 'unsolved' && found.reason).toMatch(/zero capacitor of the current amplifier/);
  });
});

describe('sampled PID control', () => {
  const gainsOf = { proportional: 0.4, integral: 0.02, derivative: 1.2 };
  const [inductance, capacitance, series, esr, load, fSw] = [1e-6, 200e-6, 0.03, 0.8e-3, 0.5, 1e6];
  const stageWith = (delay?: number) =>
    complete(
      {
        switchingFrequency: fSw,
        targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 1.8, outputCurrent: { max: 4 } },
      },
      {
        scheme: 'digital',
        reference: 1.8,
        digital: { ...gainsOf, ...(delay !== undefined && { delay }) },
        compensator: { network: 'integrator', components: { rUpper: 1e-3, rLower: 1e9 } },
      },
      {
        inductor: { inductance, resistance: series },
        outputCapacitors: [{ capacitance, esr }],
        highSide: { onResistance: 0 },
        lowSide: { onResistance: 0 },
      },
    );

  /**
   * Multipliers of the discrete-time model: the state from sample to sample, an edge `tau` after its sample. Source: D. Maksimović,
   * R. Zane, Small-Signal Discrete-Time Modeling of Digitally Controlled PWM Converters, IEEE Trans. Power Electron. 22 (2007).
   */
  function discrete(duty: number, delay: number): readonly number[] {
    const sum = load + esr;
    const parallel = (load * esr) / sum;
    const a = [
      [-1 / (sum * capacitance), load / (sum * capacitance)],
      [-load / (sum * inductance), -(series + parallel) / inductance],
    ] as const;
    const out = [load / sum, parallel] as const;
    const period = 1 / fSw;
    const through = (time: number): Matrix => {
      const augmented = Float64Array.from([a[0][0], a[0][1], 0, a[1][0], a[1][1], 0, 0, 0, 0]);
      const { phi } = propagator(augmented, 3, time);
      return new Matrix([
        [phi[0] ?? 0, phi[1] ?? 0],
        [phi[3] ?? 0, phi[4] ?? 0],
      ]);
    };
    const tau = delay + duty * period;
    const late = tau > period ? 1 : 0;
    const edge = through((1 + late) * period - tau).mmul(Matrix.columnVector([0, (12 / inductance) * period]));
    const phi = through(period);
    const { proportional: kp, integral: ki, derivative: kd } = gainsOf;
    // States: capacitor, inductor, integral, last error; and the duty ratio that is still to come where it is late.
    const m = Matrix.zeros(4 + late, 4 + late);
    for (let i = 0; i < 2; i += 1) for (let j = 0; j < 2; j += 1) m.set(i, j, phi.get(i, j));
    const decided = [-(kp + ki + kd) * out[0], -(kp + ki + kd) * out[1], 1, -kd];
    for (let i = 0; i < 2; i += 1) {
      if (late) m.set(i, 4, edge.get(i, 0));
      else decided.forEach((value, j) => m.set(i, j, m.get(i, j) + edge.get(i, 0) * value));
    }
    out.forEach((value, j) => {
      m.set(2, j, -ki * value);
      m.set(3, j, -value);
    });
    m.set(2, 2, 1);
    if (late) decided.forEach((value, j) => m.set(4, j, value));
    const { realEigenvalues, imaginaryEigenvalues } = new EigenvalueDecomposition(m);
    return realEigenvalues.map((re, k) => Math.hypot(re, imaginaryEigenvalues[k] ?? 0)).sort((x, y) => y - x);
  }

  test.each([
    ['a whole period of delay', undefined],
    ['0.4 µs of delay', 0.4e-6],
  ])('%s: the multipliers are those of the discrete-time model', (_, delay) => {
    const { report, duty } = worked(stageWith(delay), { kind: 'resistance', resistance: load });
    const expected = discrete(duty, delay ?? 1e-6);
    expected
      .filter((value) => value > 0.01)
      .forEach((value, k) => {
        const { re, im } = report.floquetMultipliers[k] ?? { re: NaN, im: NaN };
        expect(Math.abs(Math.hypot(re, im) - value)).toBeLessThan(2e-4);
      });
  });
  test('its loop gain is that of plant, controller and delay', () => {
    const stage = stageWith();
    const evaluated = evaluateStage(stage.stage);
    const controller = completeDigitalController(stage.stage);
    if (!evaluated.ok || !controller.ok) throw new Error('not evaluated');
    const plants = plantsOf(evaluated.value);
    if (typeof plants === 'string') throw new Error(plants);
    const plant = plants.at(-1);
    const { report } = worked(stage, { kind: 'current', current: plant?.at.corner.outputCurrent ?? 0 });
    const response = digitalResponse(controller.value, 1 / fSw);
    for (const { frequency, loop } of report.points) {
      const rough = product(plant?.exact(frequency) ?? { re: NaN, im: NaN }, response(frequency));
      expect(Math.abs(decibels(loop) - decibels(rough))).toBeLessThan(0.1);
      // The product leaves out what the sampler folds back of the ripple's sidebands.
      expect(Math.abs(degreesOf(loop) - degreesOf(rough))).toBeLessThan(1);
    }
  });
  test('gains are proposed that hold at every corner', () => {
    const bare = complete({}, { scheme: 'digital', reference: 0.6 });
    const evaluated = evaluateStage(bare.stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    const found = proposeLoop(evaluated.value);
    if (typeof found === 'string') throw new Error(found);
    expect(found.holds).toBe(true);
    expect(found.control.digital?.integral).toBeGreaterThan(0);
  });
});

describe('the search for the highest crossover', () => {
  test.each([
    ['voltage mode', { scheme: 'voltage-mode', reference: 0.6, rampAmplitude: 1 }],
    ['peak current mode', { scheme: 'peak-current-mode', reference: 0.6, compensator: { ...TYPE_2, components: {} } }],
  ])('%s: holds its margins and crosses over no lower than by the K factor', (_, control) => {
    const targets = {
      inputVoltage: { min: 9, max: 14 },
      outputVoltage: 3.3,
      outputCurrent: { min: 2, max: 12 },
      phaseMargin: 55,
      gainMargin: 8,
    };
    const evaluated = evaluateStage(complete({ targets }, control).stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    const [byK, searched] = [proposeLoop(evaluated.value), proposeLoop(evaluated.value, 'highest-crossover')];
    if (typeof byK === 'string' || typeof searched === 'string') throw new Error('none proposed');
    expect(searched.holds).toBe(true);
    expect(lowestCrossover(searched.corners)).toBeGreaterThanOrEqual(lowestCrossover(byK.corners));
  });
});

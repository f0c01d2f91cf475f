import { describe, expect, test } from '@jest/globals';
import { linearDissipation, linearEfficiency } from '../firstcut/linearForms.js';
import { rightHalfPlaneZero } from '../firstcut/rightHalfPlaneZero.js';
import { topologyAdvice } from '../advice/topologyAdvice.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { boundaryLoad } from '../steady/boundary.js';
import { harmonics } from '../orbit/spectrum.js';
import { average, charge, points, rms, withoutMean } from '../orbit/measures.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { currentOf, nodeVoltage } from '../orbit/signal.js';
import { boundaryWorking, peakRatioWorking } from '../working/surveyWorkings.js';
import { conductionMap } from './conductionMap.js';
import { conversionRatio } from './conversionRatio.js';
import { frequencyStudy } from './frequencyStudy.js';

function stageOf(part: object): Stage {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...part });
  if (!read.ok) throw new Error('not valid');
  return read.value;
}

function complete(part: object): CompleteStage {
  const found = completeStage(stageOf(part));
  if (!found.ok) throw new Error('not complete');
  return found.value;
}

const mosfet = (onResistance: number) => ({ onResistance });

/** A boost with copper loss only, as in the book's figure: the winding has a fiftieth of the load resistance. */
const lossyBoost = complete({
  topology: 'boost',
  switchingFrequency: 200e3,
  targets: { inputVoltage: { min: 10, max: 10 }, outputVoltage: 18, outputCurrent: { max: 1.8 } },
  parts: {
    inductor: { inductance: 2e-3, resistance: 0.2 },
    outputCapacitors: [{ capacitance: 4e-3 }],
    highSide: mosfet(0),
    lowSide: mosfet(0),
  },
});

describe('conversion ratio', () => {
  test('the boost with copper loss turns over at 1 − √(RL/R), where it is ½√(R/RL) (Erickson, Maksimović, ch. 3)', () => {
    const { peak, loadResistance } = conversionRatio(lossyBoost, 10, 1.8);
    expect(loadResistance).toBeCloseTo(10, 12);
    expect(peak?.duty).toBeCloseTo(0.85857864, 3);
    expect(peak?.ratio).toBeCloseTo(3.5355339, 4);
    const working = peakRatioWorking(lossyBoost, conversionRatio(lossyBoost, 10, 1.8));
    expect(working?.closedForms[0]?.value).toBeCloseTo(3.5355339, 6);
  });
  test('with and without losses against the duty ratio follow the published formulas', () => {
    const { duties, withLosses, lossFree, peak } = conversionRatio(lossyBoost, 10, 1.8);
    expect(duties).toContain(peak?.duty);
    duties.forEach((duty, i) => {
      const off = 1 - duty;
      expect((lossFree[i] ?? NaN) * off).toBeCloseTo(1, 3);
      expect((withLosses[i] ?? NaN) * off * (1 + 0.2 / (10 * off * off))).toBeCloseTo(1, 3);
    });
  });
});

/** Kcrit of the three topologies: R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., Table 5.2. */
const critical: readonly [string, number, number, (duty: number) => number][] = [
  ['buck', 12, 0.4 * 24, (d) => 1 - d],
  ['boost', 48, 24, (d) => d * (1 - d) ** 2],
  ['inverting-buck-boost', -16, 24, (d) => (1 - d) ** 2],
];

describe('boundary of continuous conduction', () => {
  test.each(critical)('the %s turns discontinuous at K = Kcrit', (topology, outputVoltage, inputVoltage, kcrit) => {
    const vIn = topology === 'buck' ? 24 : inputVoltage;
    const [inductance, fSw] = [20e-6, 250e3];
    const stage = complete({
      topology,
      rectifier: 'diode',
      switchingFrequency: fSw,
      targets: { inputVoltage: { min: vIn, max: vIn }, outputVoltage, outputCurrent: { max: 4 } },
      parts: {
        inductor: { inductance, resistance: 0 },
        outputCapacitors: [{ capacitance: 1e-2 }],
        highSide: mosfet(0),
        lowSide: mosfet(0),
        diode: { forwardVoltage: 0, dynamicResistance: 0 },
      },
    });
    const ratio = Math.abs(outputVoltage) / vIn;
    const duty = topology === 'buck' ? ratio : topology === 'boost' ? 1 - 1 / ratio : ratio / (1 + ratio);
    // K = 2 L f / R = Kcrit, so R and with it the load current.
    const expected = (kcrit(duty) * Math.abs(outputVoltage)) / (2 * inductance * fSw);
    expect((boundaryLoad(stage, vIn) ?? NaN) / expected).toBeCloseTo(1, 4);
    expect(conductionMap(stage).boundary).toHaveLength(1);
    const working = boundaryWorking(stage, vIn, boundaryLoad(stage, vIn) ?? NaN);
    expect(working?.inputs.find(({ label }) => label.startsWith('valley'))?.value).toBeCloseTo(0, 4);
    expect((working?.closedForms[0]?.value ?? NaN) / expected).toBeCloseTo(1, 3);
    const below = operatingPoint(stage, { inputVoltage: vIn, load: { kind: 'current', current: 0.99 * expected } });
    const above = operatingPoint(stage, { inputVoltage: vIn, load: { kind: 'current', current: 1.01 * expected } });
    expect(below.kind === 'solved' && below.point.conductionMode).toBe('DCM');
    expect(above.kind === 'solved' && above.point.conductionMode).toBe('CCM');
  });
});

describe('harmonics and charge', () => {
  const stage = complete({
    topology: 'buck',
    switchingFrequency: 200e3,
    targets: { inputVoltage: { min: 24, max: 24 }, outputVoltage: 6, outputCurrent: { max: 3 } },
    parts: {
      inductor: { inductance: 22e-6, resistance: 0.01 },
      outputCapacitors: [{ capacitance: 47e-6, esr: 0.004 }],
      inputCapacitors: [{ capacitance: 10e-6, esr: 0.003, esl: 1e-9 }],
      highSide: mosfet(0),
      lowSide: mosfet(0),
    },
  });
  const found = operatingPoint(stage, { inputVoltage: 24, load: { kind: 'current', current: 3 } });
  if (found.kind !== 'solved') throw new Error(found.reason);
  const { solution, powerStage } = found;

  test('the inductor current has the harmonics of its triangle: ΔI sin(πkD) / (π²k² D(1−D)) (Fourier series, standard)', () => {
    const duty = solution.duty;
    const { ripple } = found.point.inductorCurrent;
    harmonics(solution, currentOf('inductor1'), 5).forEach(({ order, frequency, amplitude }) => {
      const expected = Math.abs(
        (ripple * Math.sin(Math.PI * order * duty)) / ((Math.PI * order) ** 2 * duty * (1 - duty)),
      );
      expect(frequency).toBeCloseTo(order * 200e3, 6);
      expect(Math.abs(amplitude - expected)).toBeLessThan(2e-3 * ripple);
    });
  });
  test('the harmonics carry the power of the waveform (Parseval)', () => {
    const ripple = withoutMean(solution, nodeVoltage(powerStage.switchNode));
    const sum = harmonics(solution, ripple, 400).reduce((square, { amplitude }) => square + amplitude ** 2 / 2, 0);
    expect(Math.sqrt(sum) / rms(solution, ripple)).toBeCloseTo(1, 2);
  });
  test('a capacitor gives back the charge it takes up, ΔI/(8f) for a triangle', () => {
    const current = currentOf('outputCapacitor1');
    const taken = charge(solution, current);
    const given = charge(solution, (equations) => current(equations).map((value) => -value));
    expect(taken / given).toBeCloseTo(1, 6);
    expect(taken / (found.point.inductorCurrent.ripple / (8 * 200e3))).toBeCloseTo(1, 2);
    expect(average(solution, current)).toBeCloseTo(0, 9);
  });
  test('a drawn waveform has points all along and the average of what it draws', () => {
    const { time, value } = points(solution, nodeVoltage(powerStage.switchNode));
    expect(time[0]).toBe(0);
    expect(time.at(-1)).toBeCloseTo(1 / 200e3, 12);
    const area = time
      .slice(1)
      .reduce((sum, t, i) => sum + ((value[i] ?? 0) + (value[i + 1] ?? 0)) * (t - (time[i] ?? 0)) * 0.5, 0);
    expect(area * 200e3).toBeCloseTo(average(solution, nodeVoltage(powerStage.switchNode)), 4);
  });
});

describe('topology advice', () => {
  const targets = { outputVoltage: 12, outputCurrent: { min: 0.1, max: 4 } };
  test('an input range across the output leaves the four-switch stage, and says why not the others', () => {
    const { topologies, linear } = topologyAdvice(
      stageOf({ topology: 'four-switch-buck-boost', targets: { ...targets, inputVoltage: { min: 8, max: 18 } } }),
    );
    expect(topologies.filter(({ able }) => able).map(({ topology }) => topology)).toEqual(['four-switch-buck-boost']);
    expect(topologies[0]?.reasons.join(' ')).toContain('only steps down');
    expect(topologies[1]?.reasons.join(' ')).toContain('only steps up');
    expect(linear.able).toBe(false);
  });
  test('a negative output leaves the inverting stage, which sees input plus output voltage', () => {
    const { topologies } = topologyAdvice(
      stageOf({
        topology: 'inverting-buck-boost',
        targets: { inputVoltage: { min: 11, max: 13 }, outputVoltage: -15, outputCurrent: { min: 0.05, max: 1 } },
      }),
    );
    const able = topologies.filter((one) => one.able);
    expect(able.map(({ topology }) => topology)).toEqual(['inverting-buck-boost']);
    expect(able[0]?.figures?.switchVoltage).toBeGreaterThan(28);
    expect(able[0]?.figures?.rightHalfPlaneZero).toBeGreaterThan(0);
  });
  test('a switch that never works in the range does not keep a stage from being sized', () => {
    const { topologies, linear } = topologyAdvice(
      stageOf({ topology: 'buck', targets: { ...targets, inputVoltage: { min: 20, max: 29.2 } } }),
    );
    expect(topologies.filter(({ able }) => able).map(({ topology }) => topology)).toEqual([
      'buck',
      'four-switch-buck-boost',
    ]);
    expect(linear.dissipationMax).toBeCloseTo((29.2 - 12) * 4, 9);
  });
  test('the linear regulator of 5 V to 3.3 V at 0.5 A, 5 mA quiescent (energy balance, standard)', () => {
    const at = { vIn: 5, vOut: 3.3, current: 0.5, quiescent: 0.005 };
    expect(linearEfficiency.compute(at)).toBeCloseTo(0.65346535, 7);
    expect(linearEfficiency.compute({ ...at, quiescent: 0 })).toBeCloseTo(0.66, 9);
    expect(linearDissipation.compute(at)).toBeCloseTo(0.875, 9);
  });
  test('the right-half-plane zero of a boost lies at (1−D)²R/(2πL) (Erickson, Maksimović, ch. 8)', () => {
    const zero = rightHalfPlaneZero.compute({ resistance: 10, duty: 0.6, inductance: 160e-6, share: 0.6 });
    expect(zero).toBeCloseTo(2652.58, 1);
  });
});

describe('the frequency study', () => {
  const stage = stageOf({
    topology: 'buck',
    switchingFrequency: 400e3,
    deadTime: 20e-9,
    control: { minimumOnTime: 0.6e-6 },
    targets: {
      inputVoltage: { min: 20, max: 29.2 },
      outputVoltage: 12,
      outputCurrent: { max: 8 },
      inductorRippleRatio: 0.35,
      switchingFrequency: { min: 200e3, max: 800e3 },
    },
    parts: {
      inductor: { inductance: 6.8e-6, resistance: 0.008 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 0.002 }],
      highSide: { onResistance: 0.008, gateCharge: 12e-9, gateDriveVoltage: 5, outputCharge: 10e-9 },
      lowSide: { onResistance: 0.004, gateCharge: 24e-9, gateDriveVoltage: 5 },
    },
  });
  const study = frequencyStudy(stage);
  if (!study) throw new Error('no study');
  const { points } = study;

  test('covers the allowed range, and the inductor keeps its ripple ratio: L f is the same at every frequency', () => {
    expect(points[0]?.frequency).toBeCloseTo(200e3, 3);
    expect(points.at(-1)?.frequency).toBeCloseTo(800e3, 3);
    for (const { frequency, inductance } of points) {
      expect(inductance * frequency).toBeCloseTo((points[0]?.inductance ?? NaN) * 200e3, 9);
      // L = V(1 − D)/(f r I): R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 2.
      expect((inductance * frequency * 0.35 * 8) / (12 * (1 - 12 / 29.2))).toBeCloseTo(1, 1);
    }
  });
  test('switching loss is proportional to frequency, conduction loss falls with the copper, the sum is the total', () => {
    for (const { switching, conduction, core, total } of points)
      expect(total).toBeCloseTo(conduction + switching + core, 12);
    // The upper end, where the highest input is the worse of the two at every point.
    const [early, late] = [points.at(-4), points.at(-1)];
    expect((late?.switching ?? NaN) / (early?.switching ?? NaN)).toBeCloseTo(
      (late?.frequency ?? NaN) / (early?.frequency ?? NaN),
      2,
    );
    expect(points.at(-1)?.conduction).toBeLessThan(points[0]?.conduction ?? NaN);
    const least = points.reduce((a, b) => (b.total < a.total ? b : a));
    expect(study.leastLoss).toBe(least.frequency);
  });
  test('the on-time limit is where the shortest pulse at the highest input is as long as the controller allows', () => {
    expect(study.onTimeLimit).toBeDefined();
    expect((study.onTimeLimit ?? NaN) * 0.6e-6).toBeCloseTo(12 / 29.2, 1);
  });
});

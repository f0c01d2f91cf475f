import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { buckFigures } from '../topology/buckFigures.js';
import { figuredPoint } from '../working/figuredPoint.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { average, rms } from '../orbit/measures.js';
import { operatingPoint, type SolvedPoint } from './operatingPoint.js';
import { currentOf, voltageOf } from '../orbit/signal.js';

interface Design {
  readonly vIn: number;
  readonly duty: number;
  readonly load: number;
  readonly rippleRatio: number;
  readonly phases: number;
  readonly resistance: number;
  readonly deadTime: number;
}

/** A synchronous buck whose values hang together: inductance from a ripple ratio, capacitance large, resistances scaled. */
function designed({ vIn, duty, load, rippleRatio, phases, resistance, deadTime }: Design): CompleteStage {
  const fSw = 500e3;
  const vOut = vIn * duty;
  const phaseCurrent = load / phases;
  const ohms = (resistance * vOut) / phaseCurrent;
  const stage = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases,
    switchingFrequency: fSw,
    deadTime,
    targets: { inputVoltage: { min: vIn, max: vIn }, outputVoltage: vOut, outputCurrent: { max: load } },
    parts: {
      inductor: { inductance: (vOut * (1 - duty)) / (fSw * rippleRatio * phaseCurrent), resistance: ohms },
      outputCapacitors: [{ capacitance: (load / (vOut * fSw)) * 50, esr: ohms / 10, esl: 0 }],
      highSide: { onResistance: ohms },
      lowSide: { onResistance: ohms / 2 },
    },
  });
  if (!stage.ok) throw new Error('the design is not valid');
  const complete = completeStage(stage.value);
  if (!complete.ok) throw new Error('the design is not complete');
  return complete.value;
}

function solve(complete: CompleteStage, design: Design): SolvedPoint {
  const found = operatingPoint(complete, { inputVoltage: design.vIn, load: { kind: 'current', current: design.load } });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found;
}

const designs: fc.Arbitrary<Design> = fc.record({
  vIn: fc.double({ min: 3, max: 100, noNaN: true }),
  duty: fc.double({ min: 0.08, max: 0.85, noNaN: true }),
  load: fc.double({ min: 0.2, max: 80, noNaN: true }),
  rippleRatio: fc.double({ min: 0.05, max: 0.8, noNaN: true }),
  phases: fc.integer({ min: 1, max: 6 }),
  resistance: fc.double({ min: 1e-4, max: 0.01, noNaN: true }),
  deadTime: fc.constantFrom(0, 15e-9, 30e-9),
});

describe('the periodic steady state of random synchronous bucks', () => {
  test('power balances, charge and volt-seconds balance, and the output is reached (seed 7)', () => {
    fc.assert(
      fc.property(designs, (design) => {
        const complete = designed(design);
        const solved = solve(complete, design);
        const { point, solution } = solved;
        expect(point.outputVoltage / complete.stage.targets.outputVoltage).toBeCloseTo(1, 9);
        expect((point.outputPower + (point.losses['total'] ?? NaN)) / point.inputPower).toBeCloseTo(1, 8);
        const scale = point.inductorCurrent.rms;
        expect(Math.abs(average(solution, currentOf('outputCapacitor1'))) / scale).toBeLessThan(1e-8);
        const winding =
          average(solution, voltageOf('inductor1')) - complete.inductor.resistance * point.inductorCurrent.average;
        expect(Math.abs(winding) / point.inputVoltage).toBeLessThan(1e-8);
        expect(solution.iterations).toBeLessThan(20);
      }),
      { seed: 7, numRuns: 150 },
    );
  });

  test('tends to the closed forms as losses and output ripple vanish (seed 11)', () => {
    fc.assert(
      fc.property(designs, (wanted) => {
        const design = { ...wanted, resistance: 1e-7, deadTime: 0 };
        const complete = designed(design);
        const solved = solve(complete, design);
        const forms = buckFigures(figuredPoint(complete, solved.point));
        const near = (key: string, actual: number, share: number): void => {
          const form = forms.get(key)?.at(-1);
          if (!form) throw new Error(`no closed form for ${key}`);
          expect(Math.abs(actual / form.value - 1)).toBeLessThan(share);
        };
        near('duty', solved.point.duty, 1e-5);
        near('inductorCurrent.ripple', solved.point.inductorCurrent.ripple, 5e-3);
        near('inductorCurrent.rms', solved.point.inductorCurrent.rms, 1e-4);
        near('inputCapacitorRms', solved.point.inputCapacitorRms, 5e-3);
      }),
      { seed: 11, numRuns: 150 },
    );
  });

  test('dead time costs duty as the volt-second balance says', () => {
    const design: Design = {
      vIn: 12,
      duty: 0.3,
      load: 10,
      rippleRatio: 0.3,
      phases: 1,
      resistance: 0.005,
      deadTime: 30e-9,
    };
    const complete = designed(design);
    const { point } = solve(complete, design);
    expect(point.duty).toBeCloseTo(buckFigures(figuredPoint(complete, point)).get('duty')?.at(-1)?.value ?? NaN, 3);
    expect(point.losses['lowSideBodyDiode']).toBeGreaterThan(0);
  });
});

describe('phases', () => {
  test('rotating one phase gives what solving all phases separately would: equal currents, shifted by a share of the period', () => {
    const design: Design = {
      vIn: 12,
      duty: 0.22,
      load: 40,
      rippleRatio: 0.4,
      phases: 4,
      resistance: 0.002,
      deadTime: 15e-9,
    };
    const { solution } = solve(designed(design), design);
    const first = rms(solution, currentOf('inductor1'));
    for (const k of [2, 3, 4]) expect(rms(solution, currentOf(`inductor${String(k)}`))).toBeCloseTo(first, 10);
    // Every segment begins where the one before ended.
    solution.segments.forEach((segment, i) => {
      const before = solution.segments[(i + solution.segments.length - 1) % solution.segments.length];
      if (!before) throw new Error('no segment');
      for (const name of ['inductor1', 'inductor3']) {
        const end = currentOf(name)(before.equations).reduce((sum, c, j) => sum + c * (before.final[j] ?? 0), 0);
        const start = currentOf(name)(segment.equations).reduce((sum, c, j) => sum + c * (segment.initial[j] ?? 0), 0);
        expect(start).toBeCloseTo(end, 7);
      }
    });
  });
});

describe('conduction of the diode rectifier', () => {
  const stage = (load: number) => {
    const read = stageFromDocument({
      format: 'yundro-stage',
      version: 1,
      topology: 'buck',
      rectifier: 'diode',
      switchingFrequency: 200e3,
      targets: { inputVoltage: { min: 24, max: 24 }, outputVoltage: 8, outputCurrent: { max: load } },
      parts: {
        inductor: { inductance: 22e-6, resistance: 0.01 },
        outputCapacitors: [{ capacitance: 47e-6, esr: 0.01 }],
        highSide: { onResistance: 0.02 },
        diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 },
      },
    });
    if (!read.ok) throw new Error('not valid');
    const complete = completeStage(read.value);
    if (!complete.ok) throw new Error('not complete');
    return complete.value;
  };
  // R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 5: the mode changes at I = ΔI/2.
  test('turns discontinuous where the load falls below half the ripple', () => {
    const boundary = (8.4 * (1 - 8.4 / 24.4)) / (200e3 * 22e-6) / 2;
    const mode = (load: number): string => {
      const found = operatingPoint(stage(load), { inputVoltage: 24, load: { kind: 'current', current: load } });
      return found.kind === 'solved' ? found.point.conductionMode : found.reason;
    };
    expect(mode(boundary * 1.03)).toBe('CCM');
    expect(mode(boundary * 0.97)).toBe('DCM');
    expect(mode(boundary * 0.02)).toBe('DCM');
  });
  test('an output out of reach is a reason, not a number', () => {
    const complete = stage(1);
    const limited = { ...complete, stage: { ...complete.stage, control: { ...complete.stage.control, dutyMax: 0.2 } } };
    const found = operatingPoint(limited, { inputVoltage: 24, load: { kind: 'current', current: 2 } });
    expect(found).toMatchObject({ kind: 'unsolved', duty: 0.2 });
    expect(found.kind === 'unsolved' && found.reason).toMatch(
      /out of reach: the highest is .* at a duty ratio of 0\.200, the limit/,
    );
  });
});

describe('the branch of a solution', () => {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'boost',
    switchingFrequency: 100e3,
    targets: { inputVoltage: { min: 5, max: 5 }, outputVoltage: 10, outputCurrent: { max: 1 } },
    parts: {
      inductor: { inductance: 50e-6, resistance: 0.4 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 0 }],
      lowSide: { onResistance: 0 },
      highSide: { onResistance: 0 },
    },
  });
  const complete = read.ok ? completeStage(read.value) : read;
  if (!complete.ok) throw new Error('not complete');
  const condition = { inputVoltage: 5, load: { kind: 'resistance' as const, resistance: 12 } };
  // Vout/Vin = D′R/(D′²R + R_L), R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 3: two duty ratios
  // give the same output, and only at the lower one does more duty give more output.
  const [lower, upper] = [1, -1].map((sign) => 1 - (12 / 2 + sign * Math.sqrt(36 - 4 * 12 * 0.4)) / (2 * 12)) as [
    number,
    number,
  ];
  test('a search that begins beyond the peak does not end on the branch where the output falls', () => {
    const first = operatingPoint(complete.value, condition);
    if (first.kind !== 'solved') throw new Error(first.reason);
    expect(first.point.duty).toBeCloseTo(lower, 3);
    const misled = operatingPoint(complete.value, condition, { near: { point: first, duty: upper } });
    if (misled.kind !== 'solved') throw new Error(misled.reason);
    expect(misled.point.outputVoltage).toBeCloseTo(10, 6);
    expect(misled.point.duty).toBeCloseTo(lower, 3);
  });
});

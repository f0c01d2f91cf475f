import { describe, expect, test } from '@jest/globals';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { solveCircuit, type SolvedCircuit } from './solveCircuit.js';
import { average } from '../orbit/measures.js';
import { nodeVoltage } from '../orbit/signal.js';

/** A 12 to 5 V synchronous buck at 500 kHz, nearly without losses, with what is asked for changed. */
function stage(control: Record<string, unknown> = {}, rest: Record<string, unknown> = {}): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 500e3,
    deadTime: 0,
    targets: { inputVoltage: { min: 8, max: 20 }, outputVoltage: 5, outputCurrent: { max: 4 } },
    parts: {
      inductor: { inductance: 4.7e-6, resistance: 1e-4 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 5e-3, esl: 0 }],
      highSide: { onResistance: 1e-4 },
      lowSide: { onResistance: 1e-4 },
    },
    ...rest,
    control,
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('The stage is not complete.');
  return complete.value;
}
const at = (inputVoltage: number, current = 4) => ({ inputVoltage, load: { kind: 'current' as const, current } });
const solvedAt = (complete: CompleteStage, inputVoltage: number, options = {}): SolvedCircuit => {
  const found = solveCircuit(complete, at(inputVoltage), options);
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found;
};

describe('what a duty ratio may be', () => {
  // D = 5 / V without losses.
  test('regulated, it is the ideal ratio, and the period that of the chosen frequency', () => {
    const { solution } = solvedAt(stage(), 12);
    expect(solution.duty).toBeCloseTo(5 / 12, 3);
    expect(solution.period).toBe(2e-6);
  });
  test('the largest is that of the controller, of the dead times, or of the stage, whichever is least', () => {
    const limited = solveCircuit(stage({ dutyMax: 0.4 }), at(12), {});
    expect(limited).toMatchObject({ kind: 'unsolved', why: 'out-of-reach' });
    if (limited.kind !== 'unsolved') throw new Error('solved');
    expect(limited.reason).toMatch(/the highest is 4\.79\d.V, at a duty ratio of 0\.400, the limit of the duty ratio/);
    expect(limited.duty).toBeCloseTo(0.4, 3);
    // 8 V to 5 V takes 0.625; two dead times of 0.4 us leave 0.6 of 2 us to the command at most.
    expect(solveCircuit(stage({}, { deadTime: 0.4e-6 }), at(8), {})).toMatchObject({ why: 'out-of-reach' });
    expect(solveCircuit(stage({}, { deadTime: 0.1e-6 }), at(8), {}).kind).toBe('solved');
    expect(solveCircuit(stage({ dutyMax: 0.45 }), at(12), {}).kind).toBe('solved');
  });
  test('the rectifier always has a turn: the largest is below one', () => {
    const short = solveCircuit(stage({ dutyMax: 1 }), at(4.5), {});
    if (short.kind !== 'unsolved') throw new Error('solved');
    expect(short.why).toBe('out-of-reach');
    expect(short.duty).toBeLessThan(1);
    expect(short.duty).toBeGreaterThan(0.999);
  });
  test('the shortest on-time is that of the controller or the dead time, whichever is longer', () => {
    // 20 V to 5 V is 0.5 us of 2 us.
    const longer = solveCircuit(stage({ minimumOnTime: 0.6e-6 }), at(20), {});
    expect(longer).toMatchObject({ kind: 'unsolved', why: 'below-range' });
    if (longer.kind !== 'unsolved') throw new Error('solved');
    expect(longer.reason).toMatch(/an on-time below the shortest of 600.ns; at that it is 5\.99\d.V/);
    expect(longer.duty).toBeCloseTo(0.3, 6);
    expect(solveCircuit(stage({ minimumOnTime: 0.4e-6 }), at(20), {}).kind).toBe('solved');
  });
  test('a given one is taken as it is: nothing regulates, no comparator begins', () => {
    const complete = stage({ scheme: 'constant-on-time', onTime: 0.5e-6 });
    const { solution, powerStage } = solvedAt(complete, 12, { fixedDuty: 0.3 });
    expect(solution.duty).toBe(0.3);
    expect(solution.period).toBe(2e-6);
    // No comparator, so no controller is drawn.
    expect(powerStage.elements.controller).toEqual([]);
  });
});

describe('a comparator that begins each command', () => {
  test('makes the period of a stated on-time: T = ton / D, and without one that of the chosen frequency', () => {
    // T = ton V / Vo of the ideal buck.
    const { solution, powerStage } = solvedAt(stage({ scheme: 'constant-on-time', onTime: 0.5e-6 }), 12);
    expect(solution.period / ((0.5e-6 * 12) / 5)).toBeCloseTo(1, 2);
    // What the controller draws is known by its names, and in the circuit.
    const { controller } = powerStage.elements;
    expect(controller.length).toBeGreaterThan(0);
    expect(powerStage.circuit.elements.map(({ name }) => name)).toEqual(expect.arrayContaining([...controller]));
    const chosen = solvedAt(stage({ scheme: 'constant-on-time' }), 12);
    expect(chosen.solution.period).toBeCloseTo(2e-6, 12);
    expect(chosen.solution.duty).toBeCloseTo(5 / 12, 2);
  });
  test('regulates the valley: the average lies above the target', () => {
    const { solution, powerStage } = solvedAt(stage({ scheme: 'constant-on-time', onTime: 0.5e-6 }), 12);
    const above = average(solution, nodeVoltage(powerStage.outputNode)) - 5;
    expect(above).toBeGreaterThan(1e-3);
    expect(above).toBeLessThan(20e-3);
  });
  test('is not drawn where the command ends by a comparator', () => {
    const { powerStage } = solvedAt(stage({ scheme: 'peak-current-mode', currentSenseGain: 0.1 }), 12);
    expect(powerStage.elements.controller).toEqual([]);
  });
});

describe('a solved circuit of a like condition', () => {
  test('gives the same orbit in fewer steps, whatever duty ratio it comes from', () => {
    const complete = stage();
    const cold = solvedAt(complete, 12);
    for (const from of [8, 11.9, 20]) {
      const near = solvedAt(complete, from);
      const warm = solvedAt(complete, 12, { near });
      expect(warm.solution.duty).toBeCloseTo(cold.solution.duty, 9);
      expect(warm.solution.iterations).toBeLessThanOrEqual(cold.solution.iterations);
    }
  });
  test('begins a comparator at once', () => {
    const complete = stage({ scheme: 'constant-on-time', onTime: 0.5e-6 });
    const cold = solvedAt(complete, 12);
    const warm = solvedAt(complete, 12, { near: solvedAt(complete, 11.5) });
    expect(warm.solution.period).toBeCloseTo(cold.solution.period, 12);
    expect(warm.solution.iterations).toBeLessThanOrEqual(cold.solution.iterations);
  });
});

test('two phases whose current is reversed at both edges are solved behind the series inductance of the input capacitors', () => {
  // The rectifier's body diode is taken to conduct at first, and its overlap with the main switch comes out shorter than nothing.
  const complete = stage(
    {},
    {
      phases: 2,
      deadTime: 40e-9,
      targets: { inputVoltage: { min: 10.8, max: 13.2 }, outputVoltage: 1, outputCurrent: { min: 1, max: 60 } },
      parts: {
        inductor: { inductance: 150e-9, resistance: 0.25e-3 },
        outputCapacitors: [{ capacitance: 220e-6, esr: 2.18e-3, esl: 0.7e-9, count: 19 }],
        inputCapacitors: [{ capacitance: 47e-6, esr: 2.85e-3, esl: 0.7e-9, count: 3 }],
        highSide: { onResistance: 4.1e-3, bodyDiodeVoltage: 0.8, bodyDiodeResistance: 4.1e-3 },
        lowSide: { onResistance: 0.8e-3, bodyDiodeVoltage: 0.8, bodyDiodeResistance: 0.8e-3 },
      },
    },
  );
  for (const volts of [10.8, 12, 13.2])
    for (const current of [0.1, 1, 2, 4, 30]) {
      const found = solveCircuit(complete, at(volts, current), {});
      if (found.kind !== 'solved') throw new Error(`${String(volts)} V, ${String(current)} A: ${found.reason}`);
      const { solution, powerStage } = found;
      expect(solution.duty).toBeGreaterThan(0.9 / volts);
      expect(solution.duty).toBeLessThan(1.35 / volts);
      expect(average(solution, nodeVoltage(powerStage.outputNode))).toBeCloseTo(1, 6);
    }
});

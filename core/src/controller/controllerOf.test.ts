import { describe, expect, test } from '@jest/globals';
import { AVERAGE, complete, CURRENT, TYPE_3, VOLTAGE } from '../../testing/loopStage.js';
import { stateEquations } from '../circuit/stateEquations.js';
import { powerStageOf } from '../powerstage/powerStageOf.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { restOf } from './atRest.js';
import { controllerOf, type Controller, type LoopBreak } from './controllerOf.js';
import { dividerOf, referenceOf, regulatedOutput } from './divider.js';
import { comparatorAt, modulatorOf, type Modulator } from './modulator.js';
import { solveCircuit } from '../steady/solveCircuit.js';

const condition = { inputVoltage: 12, load: { kind: 'current' as const, current: 8 } };
function drawn(stage: CompleteStage, loopBreak?: LoopBreak): Controller {
  const made = controllerOf(stage, powerStageOf(stage, condition), loopBreak);
  if (typeof made === 'string') throw new Error(made);
  return made;
}
const modulator = (stage: CompleteStage): Modulator => {
  const made = modulatorOf(stage);
  if (typeof made === 'string') throw new Error(made);
  return made;
};
const names = ({ elements, inner }: Controller): readonly string[] =>
  [...inner.elements, ...elements].map(({ name }) => name);
const DIGITAL = {
  scheme: 'digital',
  reference: 0.6,
  digital: { proportional: 0.1, integral: 0.01, derivative: 1, delay: 0.5e-6 },
};
const ON_TIME = {
  scheme: 'constant-on-time',
  reference: 0.6,
  rippleInjection: { resistance: 10e3, capacitance: 10e-9, coupling: 1e-9 },
};

describe('a controller is drawn from the stage alone', () => {
  test.each([
    ['voltage mode', VOLTAGE, {}, 'turn-off', 'control'],
    ['peak current mode', CURRENT, {}, 'turn-off', 'control'],
    ['average current mode', AVERAGE, { phases: 2 }, 'turn-off', 'control'],
    ['sampled', DIGITAL, {}, 'turn-off', 'dutyRegister'],
    ['constant on-time', ON_TIME, {}, 'turn-on', 'feedback'],
  ] as const)('%s: one divider, one reference, and equations that can be solved', (_, control, over, decides, node) => {
    const stage = complete(over, control);
    const made = drawn(stage);
    for (const once of ['rUpper', 'rLower', 'reference', 'injection'])
      expect(names(made).filter((name) => name === once)).toHaveLength(1);
    expect(made.modulator.decides).toBe(decides);
    expect(made.controlNode).toBe(node);
    const { circuit } = powerStageOf(stage, condition);
    const elements = [...circuit.elements, ...made.inner.elements, ...made.elements];
    const equations = stateEquations({ ...circuit, elements }, new Set(['lowSide1', 'lowSide2']));
    for (const compared of made.modulator.comparator.nodes) expect(equations.node.get(compared)).toBeDefined();
  });
  test('what happens at instants of its own: registers, and nothing else', () => {
    expect(drawn(complete({}, VOLTAGE)).updates).toEqual([]);
    const { updates, sampled } = drawn(complete({}, DIGITAL));
    expect(sampled).toBe(true);
    // At the clock the pending duty ratio acts; it is worked from the sample taken 0.5 µs before, of 2 µs.
    expect(updates.map(({ at }) => at)).toEqual([0, 0.75]);
    expect(updates[1]?.assignments.map(({ capacitor }) => capacitor)).toContain('pendingRegister');
  });
  test('clamps of an amplifier that states them', () => {
    const amplifier = { kind: 'op-amp', outputMin: 0.2, outputMax: 3 };
    const clamped = drawn(complete({}, { ...VOLTAGE, compensator: { ...TYPE_3, amplifier } }));
    expect(clamped.clamps).toEqual([{ node: 'control', min: 0.2, max: 3 }]);
    expect(drawn(complete({}, VOLTAGE)).clamps).toEqual([]);
  });
  test('a ripple network hangs on the output before or behind the source that injects', () => {
    const end = (made: Controller): string | undefined =>
      made.elements.find(({ name }) => name === 'rippleCapacitor')?.b;
    expect(end(drawn(complete({}, ON_TIME)))).toBe('dividerTop');
    expect(end(drawn(complete({}, ON_TIME), 'divider'))).toBe('out');
    const boost = complete(
      {
        topology: 'boost',
        targets: { inputVoltage: { min: 5, max: 5 }, outputVoltage: 12, outputCurrent: { max: 1 } },
      },
      ON_TIME,
    );
    expect(end(drawn(boost))).toBeUndefined();
  });
  test('what is missing is said in words', () => {
    const lacking = (control: object): string | Controller =>
      controllerOf(complete({}, control), powerStageOf(complete({}, control), condition));
    expect(lacking({ scheme: 'voltage-mode' })).toBe('the ramp amplitude is not given');
    expect(lacking({ scheme: 'peak-current-mode' })).toBe('the gain of the current sense is not given');
    expect(lacking({ scheme: 'voltage-mode', rampAmplitude: 1 })).toBe('what is missing is a compensator');
    expect(lacking({ scheme: 'digital', digital: { integral: 0.1 } })).toMatch(
      /the reference voltage, the proportional gain/,
    );
    expect(lacking({ scheme: 'open-loop' })).toBe('the stage runs open loop');
  });
});

describe('what the comparators see', () => {
  test('a ramp that goes with the input under feed-forward, and stays without', () => {
    const over = {
      targets: { inputVoltage: { min: 10, nominal: 12, max: 14 }, outputVoltage: 3.3, outputCurrent: { max: 8 } },
    };
    const forward = modulator(complete(over, { ...VOLTAGE, scheme: 'voltage-mode-feedforward' }));
    expect(forward.comparator.ramp).toBe(1);
    expect(comparatorAt(forward, 18).ramp).toBeCloseTo(1.5, 12);
    expect(comparatorAt(modulator(complete(over, VOLTAGE)), 18).ramp).toBe(1);
  });
  test('current, ramp over a period and the sign of the output', () => {
    expect(modulator(complete({}, CURRENT)).comparator).toMatchObject({ ramp: 1e5 / 500e3, sense: 0.05, sign: 1 });
    const negative = complete(
      {
        topology: 'inverting-buck-boost',
        targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: -5, outputCurrent: { max: 1 } },
      },
      CURRENT,
    );
    expect(modulator(negative).comparator.sign).toBe(-1);
    expect(modulator(complete({ phases: 3 }, AVERAGE)).comparator.nodes).toEqual([
      'currentControl1',
      'currentControl2',
      'currentControl3',
    ]);
  });
});

describe('the divider', () => {
  const stage = (control: object) => complete({}, control).stage;
  test('sets the output where it is given, and is made to fit where it is not', () => {
    expect(regulatedOutput(stage(VOLTAGE))).toBeCloseTo(0.6 * (1 + 10 / 2.22), 12);
    const { rUpper, rLower } = dividerOf(stage({ scheme: 'constant-on-time', reference: 0.6 }));
    expect(0.6 * (1 + rUpper / rLower)).toBeCloseTo(3.3, 12);
    expect(regulatedOutput(stage({ scheme: 'voltage-mode', reference: 0.6 }))).toBe(3.3);
    expect(regulatedOutput(stage({ ...VOLTAGE, scheme: 'open-loop' }))).toBe(3.3);
  });
  test('a reference that is not given is the usual one, or half of a low output', () => {
    expect(referenceOf(stage({ scheme: 'constant-on-time' }))).toBe(0.8);
    const low = complete({
      targets: { inputVoltage: { min: 5, max: 5 }, outputVoltage: 0.9, outputCurrent: { max: 1 } },
    });
    expect(referenceOf({ ...low.stage, control: { ...low.stage.control, reference: undefined } })).toBeCloseTo(
      0.45,
      12,
    );
  });
});

describe('at what a controller rests', () => {
  test('voltage mode: the control voltage is the ramp at the duty ratio, and the capacitors stand between it and the reference', () => {
    const stage = complete({}, VOLTAGE);
    const solved = solveCircuit(stage, condition, {});
    if (solved.kind !== 'solved') throw new Error(solved.reason);
    const { control, states } = restOf(stage, modulator(stage).comparator, solved);
    expect(control).toBeCloseTo(solved.solution.duty, 12);
    expect(states.get('cZero')).toBeCloseTo(0.6 - control, 12);
    expect(states.get('cFeedforward')).toBeCloseTo(regulatedOutput(stage.stage) - 0.6, 12);
  });
  test('average current mode: it is the sensed average of one phase', () => {
    const stage = complete({ phases: 2 }, AVERAGE);
    const solved = solveCircuit(stage, condition, {});
    if (solved.kind !== 'solved') throw new Error(solved.reason);
    const { control, states } = restOf(stage, modulator(stage).comparator, solved);
    expect(control).toBeCloseTo(0.05 * 4, 6);
    expect(states.get('currentZero2')).toBeCloseTo(control - solved.solution.duty, 9);
  });
});

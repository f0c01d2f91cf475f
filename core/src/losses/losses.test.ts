import { execFileSync } from 'node:child_process';
import { describe, expect, test } from '@jest/globals';
import type { ModeTally } from '../../testing/modeSweep.js';
import { evaluateStage } from '../corners/evaluate.js';
import { typicalMosfet } from '../library/typicalMosfet.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint, type SolvedPoint } from '../steady/operatingPoint.js';
import { workingOf } from '../working/working.js';
import { bearingsOf } from './bearing.js';
import { lossesByKind } from './lossKinds.js';
import { mosfetOutputCharge } from './outputCharge.js';
import { edgeTimes } from './switchTerms.js';
import { paralleledMosfet } from '../stage/paralleledMosfet.js';

const MOSFET = typicalMosfet(40, 0.006);
function complete(part: object = {}, parts: object = {}): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 400e3,
    deadTime: 20e-9,
    targets: {
      inputVoltage: { min: 20, max: 29.2 },
      outputVoltage: 12,
      outputCurrent: { min: 0, max: 8 },
      ambientTemperature: { min: 0, max: 50 },
    },
    parts: {
      inductor: { inductance: 6.8e-6, resistance: 0.008 },
      outputCapacitors: [{ capacitance: 50e-6, esr: 0.002 }],
      inputCapacitors: [{ capacitance: 20e-6, esr: 0.002 }],
      highSide: MOSFET,
      lowSide: MOSFET,
      ...parts,
    },
    ...part,
  });
  if (!read.ok) throw new Error('not valid');
  const made = completeStage(read.value);
  if (!made.ok) throw new Error('not complete');
  return made.value;
}
function at(stage: CompleteStage, current: number, ambient = 25): SolvedPoint {
  const found = operatingPoint(stage, { inputVoltage: 25, ambient, load: { kind: 'current', current } });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found;
}
const bearing = (stage: CompleteStage, current: number, place: string) => {
  const { powerStage, solution } = at(stage, current);
  const found = bearingsOf(stage, powerStage, solution).find((one) => one.place === place);
  if (!found) throw new Error('no bearing');
  return found;
};

describe('edges in the waveforms', () => {
  test('a loaded buck turns its high side on against the input, at the valley, and off at the peak', () => {
    const stage = complete();
    const { point } = at(stage, 8);
    const { edges, frequency } = bearing(stage, 8, 'highSide');
    expect(frequency).toBeCloseTo(400e3, 6);
    expect(edges.map(({ kind }) => kind).sort()).toEqual(['off', 'on']);
    const on = edges.find(({ kind }) => kind === 'on');
    const off = edges.find(({ kind }) => kind === 'off');
    // The body diode of the low side carries the current before the edge: its drop is across the high side too.
    expect(on?.voltage).toBeGreaterThan(25.5);
    expect(on?.voltage).toBeLessThan(26.5);
    expect(on?.other).toBe('diode');
    expect(Math.abs((on?.current ?? NaN) / point.inductorCurrent.valley - 1)).toBeLessThan(0.02);
    expect(Math.abs((off?.current ?? NaN) / point.inductorCurrent.peak - 1)).toBeLessThan(0.02);
  });
  test('its low side turns on and off with hardly any voltage across it', () => {
    for (const { voltage } of bearing(complete(), 8, 'lowSide').edges) expect(voltage).toBeLessThanOrEqual(0);
  });
  test('with a negative valley the high side finds its voltage gone, and the low side turns off hard', () => {
    const stage = complete();
    expect(at(stage, 0.2).point.inductorCurrent.valley).toBeLessThan(0);
    const on = bearing(stage, 0.2, 'highSide').edges.find(({ kind }) => kind === 'on');
    expect(on?.voltage).toBeLessThanOrEqual(0);
    const off = bearing(stage, 0.2, 'lowSide').edges.find(({ kind }) => kind === 'off');
    expect(off?.voltage).toBeGreaterThan(25);
    expect(off?.current).toBeGreaterThan(0);
    const { losses } = at(stage, 0.2).point;
    expect(losses['highSideTurnOn']).toBeUndefined();
    expect(losses['highSideRecovery']).toBeUndefined();
    expect(losses['lowSideTurnOff']).toBeGreaterThan(0);
  });
  test('a reversed current moves of the output charge what it can within the dead time: no step at the border', () => {
    // Light load: the valley is about half the ripple below zero, and rises through it with the load.
    const charge = 2 * mosfetOutputCharge(MOSFET, 25).charge;
    const lost = (current: number, deadTime = 20e-9): number =>
      at(complete({ deadTime }), current).point.losses['highSideOutputCharge'] ?? 0;
    const valley = (current: number): number => bearing(complete(), current, 'highSide').edges[0]?.current ?? NaN;
    const hard = lost(8);
    // At the border hardly anything is moved; the loss leaves that of a hard edge without a step.
    const border = 0.5 * at(complete(), 1).point.inductorCurrent.ripple;
    expect(valley(border - 0.06)).toBeLessThan(0);
    expect(valley(border + 0.02)).toBeGreaterThan(0);
    expect(Math.abs(lost(border - 0.06) - lost(border + 0.02)) / hard).toBeLessThan(0.1);
    // Between: (1 − I t / Q)² of it.
    const reversed = -valley(border - 0.3);
    const share = (reversed * 20e-9) / charge;
    expect(share).toBeGreaterThan(0.1);
    expect(share).toBeLessThan(0.9);
    expect(lost(border - 0.3) / hard).toBeCloseTo((1 - share) ** 2, 1);
    // With time enough nothing is left, with none all of it.
    expect(lost(0, 100e-9)).toBe(0);
    expect(lost(border - 0.3, 0) / hard).toBeGreaterThan(0.9);
  });
  test('no edge is faster than package and loop let it be: 2 ns with parts for 40 V, 8 ns with those for 400 V', () => {
    const quick = { ...MOSFET, gateDrainCharge: 1e-12, gateSourceCharge: 1e-12 };
    expect(edgeTimes(quick, undefined)).toEqual({ on: 2e-9, fall: 2e-9, off: 2e-9 });
    expect(edgeTimes({ ...quick, drainSourceVoltageMax: 400 }, undefined)?.on).toBeCloseTo(8e-9, 15);
  });
  test('a diode stage in discontinuous conduction turns on against input less output, with no current yet', () => {
    const stage = complete(
      { rectifier: 'diode', deadTime: 0 },
      { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01, junctionCapacitance: 200e-12 } },
    );
    const { point } = at(stage, 0.1);
    expect(point.conductionMode).toBe('DCM');
    const on = bearing(stage, 0.1, 'highSide').edges.find(({ kind }) => kind === 'on');
    expect(on?.voltage).toBeCloseTo(13, 1);
    expect(on?.current).toBeCloseTo(0, 6);
    expect(on?.other).toBe('nothing');
    expect(point.losses['highSideTurnOn']).toBeUndefined();
    expect(point.losses['highSideOutputCharge']).toBeGreaterThan(0);
  });
});

describe('losses of an operating point', () => {
  test('each edge loses half of voltage, current and time; all of it in one line with a working', () => {
    const stage = complete();
    const solved = at(stage, 8);
    const times = edgeTimes(MOSFET, undefined);
    const on = bearing(stage, 8, 'highSide').edges.find(({ kind }) => kind === 'on');
    const expected = 0.5 * (on?.voltage ?? NaN) * (on?.current ?? NaN) * (times?.on ?? NaN) * 400e3;
    expect(solved.point.losses['highSideTurnOn']).toBeCloseTo(expected, 9);
    const working = workingOf('losses.highSideTurnOn', stage, solved);
    expect(working.value).toBe(solved.point.losses['highSideTurnOn']);
    expect(working.inputs.map(({ value }) => value)).toContain(times?.on);
  });
  test('conduction is taken at the temperature the device settles at', () => {
    const stage = complete();
    const cold = at(stage, 8, 25);
    const hot = at(stage, 8, 85);
    const temperature = hot.point.junctionTemperatures['highSide'] ?? NaN;
    expect(temperature).toBeGreaterThan(85);
    const rise = (t: number): number => 1 + MOSFET.onResistanceTemperatureCoefficient * (t - 25);
    const ratio = rise(temperature) / rise(cold.point.junctionTemperatures['highSide'] ?? NaN);
    expect(
      (hot.point.losses['highSideConduction'] ?? NaN) / (cold.point.losses['highSideConduction'] ?? NaN),
    ).toBeCloseTo(ratio, 9);
  });
  test('what a record leaves out is said, not guessed', () => {
    const stage = complete({}, { highSide: { onResistance: 0.006 } });
    const { heat, point } = at(stage, 8);
    expect(heat.unknown.join('; ')).toMatch(/overlap at its edges of the high-side switch/);
    expect(heat.unknown.join('; ')).toMatch(/gate charge of the high-side switch/);
    expect(point.losses['highSideTurnOff']).toBeUndefined();
    expect(point.junctionTemperatures['highSide']).toBeUndefined();
  });
  test('the kinds add up to the total', () => {
    const { losses } = at(complete(), 5).point;
    const sum = Object.values(lossesByKind(losses)).reduce((a, b) => a + b, 0);
    expect(sum).toBeCloseTo(losses['total'] ?? NaN, 12);
  });
  test('what protects the input and loads the output is a kind of its own', () => {
    const kinds = lossesByKind({ fuse: 1, reversePolarity: 2, preload: 4, senseResistor: 8, total: 15 });
    expect(kinds['input protection and preload']).toBe(7);
    expect(kinds['capacitors, filters and sense resistor']).toBe(8);
  });
  test('two devices in parallel conduct with half the resistance and switch twice the charge', () => {
    const pair = paralleledMosfet({ ...MOSFET, count: 2 });
    expect(pair.onResistance).toBe(MOSFET.onResistance / 2);
    expect(pair.gateCharge).toBe(MOSFET.gateCharge * 2);
    expect(pair.junctionToAmbient).toBe(MOSFET.junctionToAmbient / 2);
    const one = at(complete(), 8).point.losses;
    const two = at(complete({}, { highSide: { ...MOSFET, count: 2 } }), 8).point.losses;
    expect((two['highSideGate'] ?? NaN) / (one['highSideGate'] ?? NaN)).toBeCloseTo(2, 9);
    expect((two['highSideConduction'] ?? NaN) / (one['highSideConduction'] ?? NaN)).toBeLessThan(0.55);
  });
  test('a sense resistor carries the current of its inductor, and heats by it', () => {
    const senseResistance = 0.004;
    for (const phases of [1, 2]) {
      const bare = complete({ phases });
      const sensed = complete({ phases, control: { senseResistance } });
      const { point, powerStage } = at(sensed, 8);
      expect(powerStage.elements.senseResistors).toHaveLength(phases);
      const expected = phases * senseResistance * point.inductorCurrent.rms ** 2;
      expect(Math.abs((point.losses['senseResistor'] ?? NaN) / expected - 1)).toBeLessThan(1e-9);
      expect(point.duty).toBeGreaterThan(at(bare, 8).point.duty);
      expect(at(bare, 8).point.losses['senseResistor']).toBeUndefined();
      const working = workingOf('losses.senseResistor', sensed, at(sensed, 8));
      expect(working.value).toBe(point.losses['senseResistor']);
    }
  });
  test('output charge goes with the root of the voltage, its energy with the power of three halves', () => {
    const part = { onResistance: 0, outputCharge: 10e-9, outputEnergy: 40e-9, outputChargeVoltage: 20 };
    expect(mosfetOutputCharge(part, 5).charge).toBeCloseTo(5e-9, 15);
    expect(mosfetOutputCharge(part, 5).energy).toBeCloseTo(5e-9, 15);
    expect(mosfetOutputCharge({ onResistance: 0 }, 5)).toEqual({ charge: 0, energy: 0 });
  });
});

describe('thermal runaway', () => {
  const weak = { ...MOSFET, onResistance: 0.05, onResistanceTemperatureCoefficient: 0.006, junctionToAmbient: 120 };
  test('a switch past its thermal limit has no temperature, and the ledger says why', () => {
    const stage = complete({}, { highSide: weak });
    expect(at(stage, 8, 50).point.junctionTemperatures['highSide']).toBeNull();
    const evaluated = evaluateStage(stage.stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    const verdict = evaluated.value.evaluation.verdicts.find(({ target }) => target === 'highSideJunction');
    expect(verdict).toMatchObject({ pass: false, worst: null, margin: null });
    expect(verdict?.reason).toContain('thermal runaway');
    expect(evaluated.value.evaluation.verdicts.find(({ target }) => target === 'lowSideJunction')?.pass).toBe(true);
  });
  test('a leaking diode runs away where its leakage outgrows its cooling', () => {
    const diode = {
      forwardVoltage: 0.35,
      dynamicResistance: 0.01,
      leakageCurrent: 2e-3,
      leakageDoubling: 10,
      junctionToAmbient: 60,
    };
    const stage = complete({ rectifier: 'diode', deadTime: 0 }, { diode });
    expect(at(stage, 1, 25).point.junctionTemperatures['lowSide']).toBeLessThan(80);
    expect(at(stage, 1, 85).point.junctionTemperatures['lowSide']).toBeNull();
  });
});

describe('the balance of power, over random stages in every mode', () => {
  test('input less output power is the sum of the losses within 0.1 % (100 stages, seed 41)', () => {
    const program = new URL('../../testing/modeSweep.ts', import.meta.url).pathname;
    const printed = execFileSync(process.execPath, ['--import', 'tsx', program, '41', '100'], { encoding: 'utf8' });
    const tally = JSON.parse(printed) as ModeTally;
    expect(tally.wrong).toEqual([]);
    for (const mode of ['forced-pwm', 'pulse-skipping', 'ultrasonic'] as const)
      expect(tally.compared[mode]).toBeGreaterThan(120);
    expect(tally.worst).toBeLessThan(1e-3);
  }, 120_000);
});

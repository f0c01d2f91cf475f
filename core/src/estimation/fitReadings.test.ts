import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import { BenchBoard, InstrumentErrors, type BoardState } from '../board/benchBoard.js';
import { USUAL_INSTRUMENTS, type Instruments } from '../instruments/instruments.js';
import type { Reading } from '../readings/reading.js';
import { valueAt } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';
import { fitReadings, withFitted, type FittedReadings } from './fitReadings.js';
import { PARAMETERS, scaledBy, type ParameterKey } from './parameters.js';

const { stage } = benchStage();
const METER = { ofReading: 3e-4, fixed: 1e-3, resolution: 1e-4 };
/** The bench as it is stated: leads of no resistance, so that what is in them is to be found. */
const BENCH: Instruments = {
  ...USUAL_INSTRUMENTS,
  // A second meter stands at the supply.
  supply: { ...USUAL_INSTRUMENTS.supply, readback: { voltage: METER, current: METER } },
  oscilloscope: { bandwidth: 100e6, noise: 0.0003, accuracy: 0.012, currentProbe: { bandwidth: 50e6, accuracy: 0.01 } },
  leads: { input: 0, output: 0, inductance: 1e-6 },
};
const TRUTH: Readonly<Partial<Record<ParameterKey, number>>> = { inductance: 1.2, outputEsr: 2, inputLead: 0.01 };

const parameterOf = (key: ParameterKey) => {
  const found = PARAMETERS.find((one) => one.key === key);
  if (!found) throw new Error(key);
  return found;
};
const built: Stage = scaledBy(scaledBy(stage, parameterOf('inductance'), 1.2), parameterOf('outputEsr'), 2);

/** What is true at each point of an efficiency run at two input voltages. */
const board = new BenchBoard(built, { input: 0.01, output: 0 });
const STATES: readonly BoardState[] = [11.5, 13.5].flatMap((voltage) =>
  [0.5, 2, 4].map((value) => board.at({ on: true, voltage, limit: 8 }, { on: true, mode: 'current', value })),
);
const readingsBy = (seed: number): readonly Reading[] => {
  const errors = new InstrumentErrors(BENCH, seed);
  return STATES.map((state) => errors.reading(state));
};
const KEYS = Object.keys(TRUTH) as readonly ParameterKey[];
const fitted = (readings: readonly Reading[], keys = KEYS, instruments = BENCH): FittedReadings => {
  const found = fitReadings(stage, readings, instruments, keys);
  if (typeof found === 'string') throw new Error(found);
  return found;
};

describe('a board with a fifth more inductance, double ESR and 10 mΩ in the lead', () => {
  test('each is found within 5 %, and the intervals are honest: 95 % of them hold the truth over 200 sets of instruments', () => {
    const SEEDS = 200;
    const holds = new Map<ParameterKey, number>();
    const worst = new Map<ParameterKey, number>();
    for (let seed = 1; seed <= SEEDS; seed += 1)
      for (const { key, value, low, high } of fitted(readingsBy(seed)).parameters) {
        const truth = TRUTH[key] ?? NaN;
        if (low <= truth && truth <= high) holds.set(key, (holds.get(key) ?? 0) + 1);
        worst.set(key, Math.max(worst.get(key) ?? 0, Math.abs(value / truth - 1)));
      }
    for (const key of KEYS) {
      expect([key, (worst.get(key) ?? NaN) < 0.05]).toEqual([key, true]);
      const share = (holds.get(key) ?? 0) / SEEDS;
      expect([key, share >= 0.9 && share <= 0.98]).toEqual([key, true]);
    }
  });

  test('what is adopted explains the readings that the stated stage does not', () => {
    const readings = readingsBy(3);
    const found = fitted(readings);
    expect(found.left).toBeLessThan(1.5);
    const adopted = withFitted(stage, found.parameters);
    const inductance = Number(valueAt(adopted, ['parts', 'inductor', 'inductance']));
    expect(Math.abs(inductance / (1.2 * 10e-6) - 1)).toBeLessThan(0.05);
    const again = fitReadings(adopted, readings, BENCH, ['inductance', 'outputEsr']);
    if (typeof again === 'string') throw new Error(again);
    for (const { value } of again.parameters) expect(Math.abs(value - 1)).toBeLessThan(0.01);
  });
});

describe('what the readings leave open', () => {
  test('the ripple alone does not tell inductance from ESR, and says what would', () => {
    // At one input: at two their shares of the waveform differ a little.
    const without = readingsBy(4)
      .slice(0, 3)
      .map((line) => ({ ...line, inductorRipple: undefined }));
    const found = fitted(without, ['inductance', 'outputEsr']);
    const [inductance, esr] = found.parameters;
    expect(inductance?.open?.with).toEqual(['outputEsr']);
    expect(esr?.open?.with).toEqual(['inductance']);
    expect(inductance?.open?.toTell).toContain('current probe');
  });
  test('without the supply’s own reading nothing sees the lead', () => {
    const without = readingsBy(5).map((line) => ({ ...line, supplyVoltage: undefined }));
    const lead = fitted(without, ['inputLead', 'inductance']).parameters.find(({ key }) => key === 'inputLead');
    expect(lead?.open).toEqual({ with: [], toTell: parameterOf('inputLead').toTell });
  });
  test('input power alone does not tell the winding from the switches', () => {
    const power = readingsBy(6).map(({ inputVoltage, inputCurrent, outputVoltage, outputCurrent }) => ({
      inputVoltage,
      inputCurrent,
      outputVoltage,
      outputCurrent,
    }));
    const found = fitted(power, ['windingResistance', 'onResistance', 'outputVoltage']);
    const openOf = (key: ParameterKey) => found.parameters.find((one) => one.key === key)?.open?.with;
    expect(openOf('windingResistance')).toEqual(['onResistance']);
    expect(openOf('onResistance')).toEqual(['windingResistance']);
    expect(openOf('outputVoltage')).toBeUndefined();
  });
  test('too few readings are said to be too few', () => {
    expect(fitReadings(stage, [{ inputVoltage: 12, outputCurrent: 1, inputCurrent: 0.7 }], BENCH, KEYS)).toContain(
      'cannot tell',
    );
  });
});

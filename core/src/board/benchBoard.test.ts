import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import { fitReadings } from '../estimation/fitReadings.js';
import { predictedBand } from '../estimation/predictedBand.js';
import { USUAL_INSTRUMENTS, type Instruments } from '../instruments/instruments.js';
import { readingFlags } from '../readings/flags.js';
import { asBuilt } from './asBuilt.js';
import { BenchBoard, InstrumentErrors } from './benchBoard.js';

const complete = benchStage();
const { stage } = complete;
const LEADS = { input: 0.02, output: 0.01 };
const board = new BenchBoard(stage, LEADS);
const supply = { on: true, voltage: 12, limit: 5 };
const load = { on: true, mode: 'current', value: 4 } as const;

describe('a board on the table', () => {
  test('without power there is nothing; with it, leads drop what their resistance makes of the currents', () => {
    expect(board.at({ ...supply, on: false }, load).outputVoltage).toBe(0);
    const { supplyVoltage, inputVoltage, inputCurrent, outputVoltage, loadVoltage, limited } = board.at(supply, load);
    expect(supplyVoltage - inputVoltage).toBeCloseTo(LEADS.input * inputCurrent, 6);
    expect(outputVoltage - loadVoltage).toBeCloseTo(LEADS.output * 4, 6);
    expect(limited).toBe(false);
  });
  test('a load that is a resistance draws what the output drives through it', () => {
    const { outputVoltage, outputCurrent } = board.at(supply, { on: true, mode: 'resistance', value: 3 });
    expect(outputCurrent).toBeCloseTo(outputVoltage / 3.01, 3);
  });
  test('a supply that gives too little stands in its limit, and takes the output down', () => {
    const { limited, inputCurrent, outputVoltage, inputVoltage } = board.at({ ...supply, limit: 2 }, load);
    expect(limited).toBe(true);
    expect(inputCurrent).toBeCloseTo(2, 2);
    expect(outputVoltage).toBeLessThan(7);
    expect(inputVoltage).toBeLessThan(11.9);
  });
  test('boards built by one seed are the same, by another are not, and keep to their tolerances', () => {
    const inductance = (seed: number): number => asBuilt(complete, seed).inductor.inductance;
    expect(inductance(5)).toBe(inductance(5));
    expect(inductance(5)).not.toBe(inductance(6));
    for (let seed = 0; seed < 40; seed += 1) expect(Math.abs(inductance(seed) / 10e-6 - 1)).toBeLessThanOrEqual(0.2);
  });
});

describe('a run that is cut short by its supply', () => {
  const SMALL: Instruments = {
    ...USUAL_INSTRUMENTS,
    supply: { ...USUAL_INSTRUMENTS.supply, voltageMax: 30, currentMax: 2 },
    leads: { ...USUAL_INSTRUMENTS.leads, ...LEADS },
  };
  const errors = new InstrumentErrors(SMALL, 12);
  const readings = [4, 3, 2, 1, 0.5].map((value) =>
    errors.reading(board.at({ on: true, voltage: 12, limit: 2 }, { ...load, value })),
  );
  const flags = readingFlags(readings, SMALL, stage);

  test('the lines in its limit are kept and flagged', () => {
    expect(readings).toHaveLength(5);
    expect(flags.filter(({ code }) => code === 'supply-in-limit').map(({ row }) => row)).toEqual([0]);
  });
  test('the others are compared and fitted all the same', () => {
    const lines = predictedBand(stage, readings, SMALL.leads);
    for (const line of lines.slice(1)) expect(line?.efficiency.predicted).toBeGreaterThan(0.9);
    const found = fitReadings(stage, readings, SMALL, ['inductance', 'outputVoltage'], new Set([0]));
    if (typeof found === 'string') throw new Error(found);
    expect(found.unused).toEqual([{ row: 0, because: 'it is left out for its flags' }]);
    for (const { value, low, high } of found.parameters) {
      expect(Math.abs(value - 1)).toBeLessThan(0.05);
      expect(low).toBeLessThan(1);
      expect(high).toBeGreaterThan(1);
    }
  });
});

import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import { USUAL_INSTRUMENTS } from '../instruments/instruments.js';
import { derivedReading, regulationOf } from './derived.js';
import { readingFlags } from './flags.js';
import { readReadings } from './readReadings.js';
import { readingsCsv } from './readingsCsv.js';
import type { Reading } from './reading.js';

const { stage } = benchStage();
const read = (text: string) => {
  const found = readReadings(text);
  if (typeof found === 'string') throw new Error(found);
  return found;
};

describe('a table pasted from a spreadsheet', () => {
  const rows = Array.from({ length: 200 }, (_, k) => ({
    inputVoltage: 12 + k / 1000,
    inputCurrent: 0.345 + k / 100,
    outputVoltage: 7.5 - k / 10_000,
    outputCurrent: 0.5 + k / 80,
    outputRipple: 0.0185 + k / 1e5,
  }));
  const german = (value: number, factor = 1): string => (value * factor).toFixed(5).replace('.', ',');
  const table = [
    ['Vin (V)', 'Iin (A)', 'Vout (V)', 'Iout (A)', 'ripple (mVpp)', 'note'].join('\t'),
    ...rows.map((row, k) =>
      [
        german(row.inputVoltage),
        german(row.inputCurrent),
        german(row.outputVoltage),
        german(row.outputCurrent),
        german(row.outputRipple, 1000),
        k === 7 ? 'warm; 2,5 min' : '',
      ].join('\t'),
    ),
  ].join('\r\n');

  test('200 rows with decimal commas are understood', () => {
    const { readings, unread, taken } = read(table);
    expect(readings).toHaveLength(200);
    expect(unread).toEqual([]);
    expect(taken).toContain('decimal comma');
    readings.forEach((reading, k) => {
      for (const [channel, value] of Object.entries(rows[k] ?? {}))
        expect(Math.abs((reading[channel as keyof Reading] as number) - value)).toBeLessThan(1e-5);
    });
    expect(readings[7]?.note).toBe('warm; 2,5 min');
  });
  test('three digits behind every comma are a fraction of an ampere, not thousands', () => {
    expect(read('12,000\t1,250\t7,500\t1,950').readings[0]).toEqual({
      inputVoltage: 12,
      inputCurrent: 1.25,
      outputVoltage: 7.5,
      outputCurrent: 1.95,
    });
  });
  test('four columns without a heading are Vin, Iin, Vout, Iout; with commas between, semicolons or spaces', () => {
    for (const text of ['12.1,1.2,7.49,1.9', '12,1;1,2;7,49;1,9', '12.1 1.2 7.49 1.9', '12,1 1,2 7,49 1,9'])
      expect(read(text).readings[0]).toEqual({
        inputVoltage: 12.1,
        inputCurrent: 1.2,
        outputVoltage: 7.49,
        outputCurrent: 1.9,
      });
  });
  test('cells with units and prefixes, and cells that are no number are named', () => {
    const found = read('Iout;Vout\n250 mA;7,5 V\noff;7,51');
    expect(found.readings[0]).toEqual({ outputCurrent: 0.25, outputVoltage: 7.5 });
    expect(found.unread).toEqual([{ line: 3, column: 1, text: 'off' }]);
  });
  test('three columns without a heading are asked about', () => {
    expect(readReadings('1 2 3')).toContain('3 columns and no heading');
    expect(readReadings('colour;taste\n1;2')).toContain('None of the headings');
  });
  test('what is written as CSV is read back as it was', () => {
    const log: Reading[] = [
      { at: 1.5, inputVoltage: 12, inputCurrent: 1.3, outputVoltage: 7.5, outputCurrent: 2, note: 'fan, "on"' },
      { at: 3, inputVoltage: 12, inputCurrent: 2.6, outputVoltage: 7.49, outputCurrent: 4, limited: true },
    ];
    expect(
      read(readingsCsv(log)).readings.map(({ limited, ...rest }) => ({
        ...rest,
        ...(limited === true && { limited }),
      })),
    ).toEqual(log);
  });
  test('a note that a spreadsheet would run is text', () => {
    expect(readingsCsv([{ outputVoltage: 1, note: '=1+1' }])).toContain("'=1+1");
  });
});

describe('what follows from a line', () => {
  test('power, loss and efficiency with their uncertainties, against the law of propagation by hand', () => {
    const found = derivedReading(
      { inputVoltage: 12, inputCurrent: 2.6, outputVoltage: 7.5, outputCurrent: 4 },
      USUAL_INSTRUMENTS,
    );
    expect(found.inputPower?.value).toBeCloseTo(31.2, 9);
    expect(found.efficiency?.value).toBeCloseTo(30 / 31.2, 9);
    // Relative limits of each reading: gain, offset and the last digit, over √3 (JCGM 100:2008, 4.3.7 and 5.1.6).
    const relative = (value: number, gain: number, fixed: number, step: number): number =>
      Math.sqrt((gain * value) ** 2 + fixed ** 2 + step ** 2) / Math.sqrt(3) / value;
    const parts = [
      relative(12, 3e-4, 1e-3, 1e-4),
      relative(2.6, 1e-3, 1e-3, 1e-4),
      relative(7.5, 3e-4, 1e-3, 1e-4),
      relative(4, 1e-3, 1e-3, 1e-4),
    ];
    const expected = (30 / 31.2) * Math.hypot(...parts);
    expect((found.efficiency?.standard ?? 0) / expected).toBeCloseTo(1, 4);
  });
  test('the drop of a lead is taken off where the voltage was read at the supply', () => {
    const found = derivedReading(
      { supplyVoltage: 12.052, inputCurrent: 2.6, loadVoltage: 7.46, outputCurrent: 4 },
      USUAL_INSTRUMENTS,
    );
    // 20 mΩ and 10 mΩ
    expect(found.inputVoltage?.value).toBeCloseTo(12, 9);
    expect(found.outputVoltage?.value).toBeCloseTo(7.5, 9);
    expect(found.corrected).toHaveLength(2);
  });
  test('regulation over a run, lines in the supply’s limit left aside', () => {
    const run: Reading[] = [0, 2, 4].map((outputCurrent) => ({
      inputVoltage: 12,
      outputCurrent,
      outputVoltage: 7.5 - 0.005 * outputCurrent,
    }));
    const found = regulationOf(
      [...run, { inputVoltage: 9, outputCurrent: 5, outputVoltage: 5, limited: true }],
      USUAL_INSTRUMENTS,
      'outputCurrent',
    );
    expect(found?.value).toBeCloseTo(0.02 / 7.49, 6);
    expect([found?.from, found?.to]).toEqual([0, 4]);
  });
});

describe('readings that cannot be, or are not what they look like', () => {
  const good: Reading = { inputVoltage: 12, inputCurrent: 2.6, outputVoltage: 7.5, outputCurrent: 4 };
  const codes = (...readings: Reading[]) =>
    readingFlags(readings, USUAL_INSTRUMENTS, stage).map(({ code, row }) => [row, code]);
  test('an ordinary line has none', () => {
    expect(codes(good)).toEqual([]);
  });
  test('an efficiency above one, a supply in its limit, a sag, exchanged leads', () => {
    expect(codes({ ...good, inputCurrent: 2.4 })).toEqual([[0, 'efficiency-above-one']]);
    expect(codes({ ...good, inputCurrent: 4.95, outputVoltage: 7.2, outputCurrent: 7.5 })).toEqual([
      [0, 'supply-in-limit'],
    ]);
    expect(codes({ ...good, outputVoltage: 7.1 })).toEqual([[0, 'output-sags']]);
    expect(codes({ ...good, outputVoltage: -7.5 })).toEqual([[0, 'polarity']]);
  });
  test('an efficiency of one within its uncertainty is none of them', () => {
    expect(codes({ ...good, inputCurrent: 30 / 12 })).toEqual([]);
  });
  test('a sag behind a second filter is said to be the filter’s', () => {
    const filtered = benchStage(
      {},
      { outputFilter: { inductance: 1e-6, resistance: 0.1, capacitors: [{ capacitance: 22e-6 }] } },
    ).stage;
    const [flag] = readingFlags([{ ...good, outputVoltage: 7.1 }], USUAL_INSTRUMENTS, filtered);
    expect(flag?.sentence).toContain('second filter');
    expect(flag?.leftOut).toBe(false);
  });
  test('the same point again with more loss is heat; with less it is drift', () => {
    const warm = { ...good, inputCurrent: 2.61 };
    expect(codes(good, warm)).toEqual([[1, 'thermal-creep']]);
    expect(codes(warm, good)).toEqual([[1, 'drift']]);
  });
  test('a lead that drops much', () => {
    expect(codes({ ...good, supplyVoltage: 12.4 })).toEqual([[0, 'lead-drop']]);
  });
});

import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import { USUAL_INSTRUMENTS } from '../instruments/instruments.js';
import { standardUncertainty } from '../instruments/accuracy.js';
import { random } from '../tolerance/random.js';
import { accuracyOf, derivedReading, isRead, leadUncertainty, regulationOf } from './derived.js';
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
  test('a heading’s prefix is for bare numbers: a cell with a unit of its own means that', () => {
    const found = read('Iout (mA);Vout (V)\n250;7,5\n250 mA;7,5\n0,3 A;7,5');
    expect(found.readings.map(({ outputCurrent }) => outputCurrent)).toEqual([0.25, 0.25, 0.3]);
  });
  test('a comma that may mean either is said, and read the other way where that is asked for', () => {
    const text = 'Vin;Iout\n1,250;1,500';
    expect(read(text).taken).toContain('“1,250” was read as 1.25');
    const thousands = readReadings(text, { commas: 'thousands' });
    expect(typeof thousands !== 'string' && thousands.readings[0]).toEqual({ inputVoltage: 1250, outputCurrent: 1500 });
  });
  test('columns that the designer names stand over the headings; what is left aside is', () => {
    const found = readReadings('Vin;x;Vout\n12;99;7,5', {
      columns: ['supplyVoltage', undefined, 'loadVoltage'],
    });
    expect(typeof found !== 'string' && found.readings).toEqual([{ supplyVoltage: 12, loadVoltage: 7.5 }]);
  });
  test('5,000 lines are read at once, one more is not; a heading alone and nothing at all are told', () => {
    const lines = (count: number): string => Array.from({ length: count }, () => '12.1 1.2 7.49 1.9').join('\n');
    expect(read(lines(5000)).readings).toHaveLength(5000);
    expect(readReadings(lines(5001))).toContain('5001 lines; at most 5000');
    expect(readReadings('Vin;Iin')).toContain('no line of numbers');
    expect(readReadings('# a remark\n\n')).toContain('nothing to read');
  });
  test('a supply’s limit is read in the words that instruments have for it', () => {
    const found = read('Vin;Vout;limited\n12;7,5;yes\n12;7,5;no\n12;7,5;CC');
    expect(found.readings.map(({ limited }) => limited)).toEqual([true, false, true]);
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
  test('what no meter is stated for is read by supply and load, as well as they read back; nothing is exact', () => {
    const bare = { ...USUAL_INSTRUMENTS, meters: {}, oscilloscope: undefined };
    expect(accuracyOf(bare, 'inputVoltage')).toEqual(bare.supply.readback.voltage);
    expect(accuracyOf(bare, 'outputCurrent')).toEqual(bare.load.readback.current);
    expect([isRead(bare, 'inputVoltage'), isRead(bare, 'inputCurrent'), isRead(bare, 'outputRipple')]).toEqual([
      false,
      true,
      false,
    ]);
    // A screen of 3 % and a usual probe, where none is stated.
    for (const [channel, value, least] of [
      ['outputRipple', 0.02, 0.03 * 0.02],
      ['inductorRipple', 2, 0.03 * 2],
      ['temperature', 60, 2],
    ] as const)
      expect(standardUncertainty(accuracyOf(bare, channel), value)).toBeGreaterThan(least / Math.sqrt(3));
  });
  test('a lead is known to a fifth of itself, and so is what it takes off', () => {
    const instruments = { ...USUAL_INSTRUMENTS, leads: { ...USUAL_INSTRUMENTS.leads, input: 0.1 } };
    const found = derivedReading(
      { supplyVoltage: 12.26, inputCurrent: 2.6, outputVoltage: 7.5, outputCurrent: 4 },
      instruments,
    );
    const { voltage } = instruments.supply.readback;
    // V = Vs − R I: u² = u(Vs)² + (I u(R))² + (R u(I))²
    const expected = Math.hypot(
      standardUncertainty(voltage, 12.26),
      2.6 * leadUncertainty(0.1),
      0.1 * standardUncertainty(accuracyOf(instruments, 'inputCurrent'), 2.6),
    );
    expect(found.inputVoltage?.value).toBeCloseTo(12, 9);
    expect((found.inputVoltage?.standard ?? 0) / expected).toBeCloseTo(1, 6);
    expect(leadUncertainty(0.1)).toBeCloseTo(0.02 / Math.sqrt(3), 12);
  });
  test('a line that lacks one side has the power of the other, and neither loss nor efficiency', () => {
    const found = derivedReading({ inputVoltage: 12, inputCurrent: 2.6 }, USUAL_INSTRUMENTS);
    expect(found.inputPower?.value).toBeCloseTo(31.2, 9);
    expect([found.outputPower, found.loss, found.efficiency]).toEqual([undefined, undefined, undefined]);
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
  test('a line is compared with an earlier one at its own point, whatever stands between', () => {
    const draw = random(5);
    const log: Reading[] = Array.from({ length: 600 }, () => {
      const outputCurrent = 0.5 + Math.round(draw() * 60) / 20;
      // Half a percent either way: some of these are one point, some are not.
      return {
        inputVoltage: 12 * (1 + 0.004 * (draw() - 0.5)),
        inputCurrent: (outputCurrent * 7.5) / 12 / 0.93 + 0.02 * draw(),
        outputVoltage: 7.5,
        outputCurrent: outputCurrent * (1 + 0.004 * (draw() - 0.5)),
      };
    });
    const named = readingFlags(log, USUAL_INSTRUMENTS, stage).flatMap(({ code, row, sentence }) =>
      code === 'thermal-creep' || code === 'drift' ? [{ row, line: Number(/line (\d+)/.exec(sentence)?.[1]) - 1 }] : [],
    );
    expect(named.length).toBeGreaterThan(50);
    const near = (a: number, b: number): boolean => Math.abs(a / b - 1) <= 0.01;
    for (const { row, line } of named) {
      expect(line).toBeLessThan(row);
      expect(near(log[row]?.outputCurrent ?? 0, log[line]?.outputCurrent ?? 1)).toBe(true);
    }
  });
  test('a line far into a long log is compared as quickly as the first', () => {
    const long: Reading[] = Array.from({ length: 5000 }, (_, k) => ({ ...good, outputCurrent: 0.1 + k / 1000 }));
    const derived = long.map((reading) => derivedReading(reading, USUAL_INSTRUMENTS));
    const began = performance.now();
    readingFlags(long, USUAL_INSTRUMENTS, stage, derived);
    // All against all would be 12.5 million comparisons.
    expect(performance.now() - began).toBeLessThan(1000);
  });
  test('a sign of a current the other way round, and the limit of the supply as it says itself', () => {
    expect(codes({ ...good, inputCurrent: -2.6 }).map(([, code]) => code)).toContain('polarity');
    expect(codes({ ...good, limited: true })).toEqual([[0, 'supply-in-limit']]);
  });
  test('a lead that drops much', () => {
    expect(codes({ ...good, supplyVoltage: 12.4 })).toEqual([[0, 'lead-drop']]);
  });
});

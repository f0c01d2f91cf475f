import { describe, expect, test } from '@jest/globals';
import { standardUncertainty } from './accuracy.js';
import { instrumentsSchema, USUAL_INSTRUMENTS } from './instruments.js';
import { blockLength, bytesOf, definiteBlock, floatsOf, isHeader, messageUnits } from './language.js';

describe('messages', () => {
  test('units, queries and arguments of a line', () => {
    expect(messageUnits(':volt 12.5; OUTP ON;MEAS:VOLT?;*IDN?')).toEqual([
      { header: 'VOLT', query: false, arguments: ['12.5'] },
      { header: 'OUTP', query: false, arguments: ['ON'] },
      { header: 'MEAS:VOLT', query: true, arguments: [] },
      { header: '*IDN', query: true, arguments: [] },
    ]);
  });
  test('long and short forms, and nothing in between (SCPI-1999, volume 1, 6.2.1)', () => {
    for (const header of ['MEASURE:VOLTAGE', 'MEAS:VOLT', 'MEAS:VOLTAGE'])
      expect(isHeader('MEASure:VOLTage', header)).toBe(true);
    for (const header of ['MEASU:VOLT', 'MEAS', 'MEAS:VOLT:DC', 'MEAS:CURR'])
      expect(isHeader('MEASure:VOLTage', header)).toBe(false);
  });
});

describe('blocks (IEEE 488.2, 8.7.9)', () => {
  test('five bytes are #15 and the bytes', () => {
    const bytes = Uint8Array.from([1, 2, 3, 4, 5]);
    expect([...definiteBlock(bytes)]).toEqual([35, 49, 53, 1, 2, 3, 4, 5]);
    expect(blockLength(definiteBlock(bytes))).toEqual({ from: 3, to: 8 });
  });
  test('a head that has not all come yet, and what is no block', () => {
    expect(blockLength(new TextEncoder().encode('#4'))).toBeUndefined();
    expect(blockLength(new TextEncoder().encode('12.5'))).toBe('no-block');
  });
  test('numbers come back as they went', () => {
    expect([...floatsOf(bytesOf([1, -2.5, 0.125]))]).toEqual([1, -2.5, 0.125]);
  });
});

test('limits of a data sheet are a rectangular distribution: a/√3 (JCGM 100:2008, 4.3.7)', () => {
  expect(standardUncertainty({ ofReading: 0.01, fixed: 0, resolution: 0 }, 10)).toBeCloseTo(0.1 / Math.sqrt(3), 12);
  expect(standardUncertainty({ ofReading: 0.003, fixed: 0.004, resolution: 0 }, 1)).toBeCloseTo(
    0.005 / Math.sqrt(3),
    12,
  );
});

test('the usual bench is one that the schema takes', () => {
  expect(instrumentsSchema.parse(USUAL_INSTRUMENTS)).toEqual(USUAL_INSTRUMENTS);
});

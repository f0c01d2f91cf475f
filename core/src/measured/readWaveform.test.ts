import { describe, expect, test } from '@jest/globals';
import { readWaveform } from './readWaveform.js';

describe('records of an oscilloscope', () => {
  test('time and voltage, with the units of their headings', () => {
    const read = readWaveform('Model,x\nTime (µs);CH1 (mV)\n-1,0;3300\n0,5;3250\n1,5;3280\n');
    if (typeof read === 'string') throw new Error(read);
    expect([...read.time].map((t) => Math.round(t * 1e9))).toEqual([-1000, 500, 1500]);
    expect([...read.value].map((v) => Math.round(v * 1e3))).toEqual([3300, 3250, 3280]);
    expect(read.taken).toBe('3 points, semicolons between, decimal comma, CH1 (mV) against Time (µs)');
  });
  test('columns without a heading, and a time that is not the first', () => {
    const bare = readWaveform('0 1.2\n1e-6 1.3\n');
    expect(typeof bare === 'string' ? bare : [...bare.value]).toEqual([1.2, 1.3]);
    const turned = readWaveform('volts,seconds\n5,0\n6,1\n');
    expect(typeof turned === 'string' ? turned : [...turned.time]).toEqual([0, 1]);
    const second = readWaveform('t,a,b\n0,1,10\n1,2,20\n', { column: 2 });
    expect(typeof second === 'string' ? second : [...second.value]).toEqual([10, 20]);
  });
  test.each([
    ['no numbers here', /no line that begins with a number; expected are columns of time and voltage/],
    ['0,1\n1,x\n', /Line 2 has the value “x”/],
    ['0,1\n2,1\n1,1\n', /Line 3 goes back in time/],
    ['0,1\n', /fewer than two points/],
  ])('%j is refused in a sentence', (text, says) => {
    expect(readWaveform(text)).toMatch(says);
  });
});

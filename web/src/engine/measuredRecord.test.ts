import { describe, expect, test } from '@jest/globals';
import { keptRecord, measuredFit, type MeasuredHow } from './measuredRecord';

const HOW: MeasuredHow = {
  kind: 'ramp',
  voltage: 0,
  current: 1,
  resistance: 0.01,
  volts: 0,
  amps: 0,
  capacitance: 100e-9,
  tolerance: 0,
};
/** 10 V on 10 µH without saturation, in so many lines over 10 µs: 1 A in every microsecond. */
const ramp = (lines: number): string =>
  [
    'time,winding,current',
    ...Array.from({ length: lines }, (_, k) => {
      const t = (1e-5 * k) / (lines - 1);
      return `${String(t)},10,${String(1e6 * t)}`;
    }),
  ].join('\n');
const read = (text: string) => {
  const found = keptRecord(text);
  if (typeof found === 'string') throw new Error(found);
  return found;
};

describe('a record of the oscilloscope', () => {
  test('is kept whole where it is short, and evenly thinned where it is long, to its very length in time', () => {
    expect(read(ramp(500)).time).toHaveLength(500);
    const long = read(ramp(9001));
    expect(long.time.length).toBeLessThanOrEqual(4000);
    expect(long.traces.map(({ values }) => values.length)).toEqual([long.time.length, long.time.length]);
    expect(long.time[0]).toBe(0);
    expect(long.time.at(-1)).toBeCloseTo(1e-5, 7);
    const steps = [...long.time].slice(1).map((t, k) => t - (long.time[k] ?? 0));
    expect(Math.max(...steps) / Math.min(...steps)).toBeCloseTo(1, 6);
  });
  test('that is none is told', () => {
    expect(keptRecord('nothing')).toContain('no line that begins with a number');
  });
});

describe('what it says', () => {
  test('10 V that raise the current by 1 A in a microsecond are 10 µH, less what the winding drops', () => {
    const found = measuredFit(read(ramp(800)), HOW);
    if (typeof found === 'string' || !found.ramp) throw new Error(JSON.stringify(found));
    // Within 10 A the winding drops 50 mV of the 10 V on average.
    expect(found.ramp.inductance.value / 10e-6).toBeCloseTo(1, 2);
    expect(found.ramp.saturation).toBeUndefined();
  });
  test('the traces are those that were chosen: the other way round it is another choke', () => {
    const turned = measuredFit(read(ramp(800)), { ...HOW, voltage: 1, current: 0 });
    expect(turned).toContain('does not rise');
  });
  test('one trace is no ramp, and a trace that is not there none at all', () => {
    expect(measuredFit(read(ramp(800)), { ...HOW, current: 0 })).toContain('two traces');
    expect(measuredFit(read(ramp(800)), { ...HOW, voltage: 7 })).toContain('no such trace');
  });
  test('a ring takes one trace and the capacitor', () => {
    const time = Array.from({ length: 800 }, (_, k) => k * 1e-7);
    const text = time
      .map((t) => `${String(t)},${String(3 * Math.exp(-2e4 * t) * Math.cos(t / Math.sqrt(1e-12)))}`)
      .join('\n');
    const found = measuredFit(read(text), { ...HOW, kind: 'ring' });
    if (typeof found === 'string' || !found.ring) throw new Error(JSON.stringify(found));
    // 1/√(LC) = 10⁶ with 100 nF is 10 µH.
    expect(found.ring.inductance.value / 10e-6).toBeCloseTo(1, 2);
  });
});

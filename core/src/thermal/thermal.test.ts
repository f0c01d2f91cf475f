import { describe, expect, test } from '@jest/globals';
import { settledChannel, settledJunction } from './junction.js';
import { copperResistance } from './thermalPath.js';

describe('a junction that settles', () => {
  // T = (Ta + R (P₀ − P₁ · 25 α)) / (1 − R P₁ α), the linear case solved by hand: Ta 45 °C, 40 K/W, 1 W of channel at 0.4 %/K, 0.5 W beside.
  const by = (45 + 40 * (1.5 - 1 * 25 * 0.004)) / (1 - 40 * 1 * 0.004);
  const heat = { channel: 1, coefficient: 0.004, fixed: 0.5 };
  test('in one step where only the channel follows the temperature', () => {
    expect(settledChannel(heat, 40, 45)).toMatchObject({ kind: 'settled' });
    const found = settledChannel(heat, 40, 45);
    if (found.kind !== 'settled') throw new Error('runaway');
    expect(found.temperature).toBeCloseTo(by, 9);
    expect(45 + 40 * found.loss).toBeCloseTo(found.temperature, 9);
  });
  test('by search in any other case, at the lowest solution', () => {
    const linear = settledJunction((t) => 0.5 + 1 + 0.004 * (t - 25), 40, 45);
    if (linear.kind !== 'settled') throw new Error('runaway');
    expect(linear.temperature).toBeCloseTo(by, 6);
    // A leakage that doubles every 10 K crosses twice: the device warming up comes to the first.
    const leaky = (t: number): number => 0.5 + 0.002 * 2 ** ((t - 25) / 10);
    const found = settledJunction(leaky, 40, 45);
    if (found.kind !== 'settled') throw new Error('runaway');
    expect(45 + 40 * leaky(found.temperature)).toBeCloseTo(found.temperature, 6);
    expect(found.temperature).toBeLessThan(75);
    expect(found.loss).toBeCloseTo(leaky(found.temperature), 12);
  });
  test('not at all where loss grows faster than it is carried off', () => {
    expect(settledJunction((t) => 0.5 * 2 ** ((t - 25) / 10), 40, 45)).toEqual({ kind: 'runaway', beyond: 250 });
    expect(settledChannel({ channel: 10, coefficient: 0.004, fixed: 0 }, 40, 45).kind).toBe('runaway');
    // Just within, and just beyond, the highest temperature a junction works at.
    expect(settledChannel({ channel: 0, coefficient: 0, fixed: 5.1 }, 40, 45).kind).toBe('settled');
    expect(settledChannel({ channel: 0, coefficient: 0, fixed: 5.2 }, 40, 45).kind).toBe('runaway');
  });
});

describe('copper as a heatsink', () => {
  test('more of it carries off more, both sides more than one, and a large sheet less than in proportion', () => {
    expect(copperResistance(10e-4, 2)).toBeLessThan(copperResistance(10e-4, 1));
    expect(copperResistance(20e-4, 1)).toBeLessThan(copperResistance(10e-4, 1));
    expect(copperResistance(100e-4, 1)).toBeGreaterThan(copperResistance(10e-4, 1) / 10);
  });
});

import { describe, expect, test } from '@jest/globals';
import { magnitude, product, ratio, type Complex } from '../linalg/complex.js';
import { crossingsSentence, marginsOf } from './margins.js';

/** An integrator that crosses at 10 kHz, with a notch at `f0` and, where given, a resonance above it. */
const notched =
  (f0: number, depth: number, width: number, lag = 0) =>
  (frequency: number): Complex => {
    const x = frequency / f0;
    const notch = ratio({ re: 1 - x * x, im: depth * width * x }, { re: 1 - x * x, im: width * x });
    const integrator = ratio({ re: 1e4, im: 0 }, { re: 0, im: frequency });
    const angle = -frequency * lag;
    return product(product(notch, integrator), { re: Math.cos(angle), im: Math.sin(angle) });
  };
const grid = (count: number): readonly number[] =>
  Array.from({ length: count }, (_, i) => 100 * 10 ** ((3.3 * i) / (count - 1)));
const margins = (loop: (frequency: number) => Complex, count = 160) =>
  marginsOf(
    grid(count).map((frequency) => ({ frequency, value: loop(frequency) })),
    loop,
  );

describe('a loop gain that crosses one several times', () => {
  test('a notch below the crossover makes three crossings, and each is where the gain is one', () => {
    const loop = notched(5e3, 0.1, 0.3);
    const { crossings } = margins(loop);
    expect(crossings.map(({ direction }) => direction)).toEqual(['falling', 'rising', 'falling']);
    for (const { frequency } of crossings) expect(magnitude(loop(frequency))).toBeCloseTo(1, 6);
    const [first, second, last] = crossings;
    expect(first?.frequency).toBeLessThan(5e3);
    expect(second?.frequency).toBeGreaterThan(5e3);
    expect(last?.frequency).toBeGreaterThan(9e3);
  });
  test('the margins are those of the crossing with the least phase margin, be it first or last', () => {
    // The notch lags below its frequency: the first crossing is the worst. With a delay it is the last.
    const early = margins(notched(5e3, 0.1, 0.3));
    expect(early.phaseMargin).toMatchObject({ value: Math.min(...early.crossings.map((one) => one.phaseMargin)) });
    expect(early.crossover).toMatchObject({ frequency: early.crossings[0]?.frequency });
    const late = margins(notched(5e3, 0.25, 0.1, 1.5e-4));
    expect(late.crossover).toMatchObject({ frequency: late.crossings[2]?.frequency });
    expect(late.phaseMargin).toMatchObject({ value: Math.min(...late.crossings.map((one) => one.phaseMargin)) });
  });
  test('a dip that reaches below one only between two points of the grid is found all the same', () => {
    const loop = notched(4e3, 0.2, 0.4);
    const points = grid(21);
    expect(points.every((frequency) => frequency > 9e3 || magnitude(loop(frequency)) > 1)).toBe(true);
    expect(margins(loop, 21).crossings).toHaveLength(3);
  });
  test('a last rise above one towards half the switching frequency is told but not judged', () => {
    // What pulses about to alternate make of the loop gain there.
    const loop = (frequency: number): Complex =>
      product(
        ratio({ re: 1e4, im: 0 }, { re: 0, im: frequency }),
        ratio({ re: 1, im: 0 }, { re: 1 - frequency / 2.1e5, im: 0 }),
      );
    const { crossings, crossover } = margins(loop);
    expect(crossings.map(({ direction }) => direction)).toEqual(['falling', 'rising']);
    expect(crossover).toMatchObject({ frequency: crossings[0]?.frequency });
  });
  test('a gain that rises where the phase leads is far from −180°, on whichever side', () => {
    // An integrator of little gain and a resonance far above it: a dip below one in between, as of a slow compensator.
    const loop = (frequency: number): Complex => {
      const x = frequency / 5e3;
      const resonance = ratio({ re: 1, im: 0.3 * x }, { re: 1 - x * x, im: 0.05 * x });
      return product(
        product(ratio({ re: 400, im: 0 }, { re: 0, im: frequency }), { re: 1, im: frequency / 500 }),
        resonance,
      );
    };
    const { crossings, phaseMargin } = margins(loop);
    const rising = crossings.find(({ direction }) => direction === 'rising');
    expect(rising?.phaseMargin).toBeGreaterThan(90);
    expect(phaseMargin).toMatchObject({ frequency: crossings.at(-1)?.frequency });
  });
  test('one crossing needs no sentence; several are all told', () => {
    expect(crossingsSentence(margins(notched(5e3, 1, 0.3)).crossings)).toBeUndefined();
    const said = crossingsSentence(margins(notched(5e3, 0.1, 0.3)).crossings) ?? '';
    expect(said).toContain('crosses 0 dB 3 times');
    expect(said.match(/kHz/g)).toHaveLength(3);
    expect(said).toContain('rising');
  });
  test('a hump that reaches above one only between two points of the grid is found, and is where the gain is one', () => {
    // Below one throughout but for a resonance that lies between two points of a coarse grid.
    const loop = (frequency: number): Complex => {
      const x = frequency / 4e3;
      return product({ re: 0.3, im: 0 }, ratio({ re: 1, im: 0 }, { re: 1 - x * x, im: 0.25 * x }));
    };
    expect(grid(21).every((frequency) => magnitude(loop(frequency)) < 1)).toBe(true);
    const { crossings } = margins(loop, 21);
    expect(crossings.map(({ direction }) => direction)).toEqual(['rising', 'falling']);
    for (const { frequency } of crossings) expect(magnitude(loop(frequency))).toBeCloseTo(1, 6);
  });
});

describe('what lies between two points is looked into only where a crossing may hide', () => {
  /** Gains in dB at 1, 2, 3 … kHz, real and positive; how often the loop gain was worked between them. */
  const lookedInto = (gains: readonly number[]): number => {
    let worked = 0;
    const value = (gain: number): Complex => ({ re: 10 ** (gain / 20), im: 0 });
    marginsOf(
      gains.map((gain, k) => ({ frequency: 1e3 * (k + 1), value: value(gain) })),
      () => {
        worked += 1;
        return value(gains[1] ?? 0);
      },
    );
    return worked;
  };
  test.each([
    ['a gain that falls all the way above one', [9, 6, 3], false],
    ['one that rises all the way above one', [3, 6, 9], false],
    ['one that falls all the way below one', [-3, -6, -9], false],
    ['one that rises all the way below one', [-9, -6, -3], false],
    ['a hump above one', [3, 6, 3], false],
    ['a dip below one', [-3, -6, -3], false],
    ['a dip that stays far above one', [20, 13, 20], false],
    ['a hump that stays far below one', [-20, -13, -20], false],
    ['a dip near one', [20, 3, 20], true],
    ['a hump near one', [-20, -3, -20], true],
    ['a dip between two points that are alike', [20, 3, 3, 20], true],
    ['a hump between two points that are alike', [-20, -3, -3, -20], true],
  ] as const)('%s', (_, gains, looks) => {
    if (looks) expect(lookedInto(gains)).toBeGreaterThan(0);
    else expect(lookedInto(gains)).toBe(0);
  });
});

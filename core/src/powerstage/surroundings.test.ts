import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { magnitude } from '../linalg/complex.js';
import { hotPlug } from '../selection/hotPlug.js';
import { feedImpedance, inputImpedances } from '../smallsignal/inputImpedance.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { loadStep } from '../transient/scenario.js';
import { simulate } from '../transient/simulate.js';
import { inputSide } from './surroundings.js';

const CONDITION = { inputVoltage: 12, load: { kind: 'current' as const, current: 10 } };
const SOURCE = { resistance: 0.01, inductance: 0.5e-6 };
const FUSE = { resistance: 0.012 };
const DIODE = { forwardVoltage: 0.45, resistance: 0.008 };
const SWITCH = { resistance: 0.004 };

const pointOf = (parts: object, current = 10) => {
  const load = { kind: 'current' as const, current };
  const found = operatingPoint(complete({}, VOLTAGE, parts), { inputVoltage: 12, load });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found.point;
};
const lineOf = (parts: object): string[] =>
  inputSide(complete({}, VOLTAGE, parts), 12).flatMap((e) =>
    e.a === '0' || e.b === '0' ? [] : [`${e.name} ${e.a}-${e.b}`],
  );

describe('what stands before the input', () => {
  test('is a line from the source to the input, whatever of it there is', () => {
    const filter = { inputFilter: { inductance: 1e-6, resistance: 0.01 } };
    expect(lineOf({})).toEqual(['feed supply-in']);
    expect(lineOf({ source: SOURCE })).toEqual(['sourceImpedance supply-in']);
    expect(lineOf({ source: SOURCE, ...filter })).toEqual(['sourceImpedance supply-filter', 'inputFilter filter-in']);
    expect(lineOf(filter)).toEqual(['inputFilter supply-in']);
    // Without a source stated the capacitors are still fed through the ideal choke: a fuse does not make the source stiff.
    expect(lineOf({ fuse: FUSE })).toEqual(['feed supply-leads', 'fuse leads-in']);
    expect(lineOf({ source: SOURCE, fuse: FUSE, reversePolarity: DIODE, ...filter })).toEqual([
      'sourceImpedance supply-leads',
      'fuse leads-fused',
      'reversePolarity fused-filter',
      'inputFilter filter-in',
    ]);
    expect(lineOf({ fuse: FUSE, reversePolarity: SWITCH, inputCapacitors: [] })).toEqual([
      'fuse supply-fused',
      'reversePolarity fused-in',
    ]);
    const terminal = { inputFilter: { ...filter.inputFilter, terminal: { capacitance: 1e-6 } }, fuse: FUSE };
    const at = (parts: object) =>
      inputSide(complete({}, VOLTAGE, parts), 12).find(({ name }) => name === 'inputTerminal')?.a;
    // Before the fuse; a source without impedance would leave it idle.
    expect([at({ ...terminal, source: SOURCE }), at(terminal)]).toEqual(['leads', undefined]);
    expect(lineOf({ fuse: { resistance: 0 }, reversePolarity: { resistance: 0 } })).toEqual(['feed supply-in']);
  });

  test.each([
    ['a fuse and a switch', { fuse: FUSE, reversePolarity: SWITCH }, 0.016, 0],
    ['a fuse and a diode', { fuse: FUSE, reversePolarity: DIODE }, 0.02, 0.45],
  ])(
    '%s lose I²R and I·V of what the stage draws, and the stage regulates behind them',
    (_, parts, resistance, drop) => {
      const bare = pointOf({});
      const point = pointOf(parts);
      const { inputCurrent } = point;
      const lost = (point.losses['fuse'] ?? 0) + (point.losses['reversePolarity'] ?? 0);
      // The ripple through the feed choke is some ten-thousandths of the current.
      expect(lost / (inputCurrent ** 2 * resistance + inputCurrent * drop)).toBeCloseTo(1, 3);
      expect(point.inputPower - point.outputPower).toBeCloseTo(point.losses['total'] ?? NaN, 6);
      expect(point.outputVoltage).toBeCloseTo(bare.outputVoltage, 9);
      // Less is left at the input of the stage: its duty ratio rises by that share.
      expect(point.duty / bare.duty).toBeCloseTo(12 / (12 - inputCurrent * resistance - drop), 3);
    },
  );

  test('their resistance damps what feeds the stage, and a diode is its dynamic resistance there', () => {
    const peak = (parts: object): number => {
      const feed = feedImpedance(complete({}, VOLTAGE, { source: SOURCE, ...parts }), 12);
      return Math.max(...Array.from({ length: 200 }, (_, k) => magnitude(feed(1e4 * 10 ** (k / 100)))));
    };
    // A series resonance of L and C with R in the branch of L: L/(C R) at the top, Z0²/R.
    const top = (resistance: number): number => 0.5e-6 / 22e-6 / resistance;
    expect(peak({ reversePolarity: DIODE }) / peak({ reversePolarity: { resistance: DIODE.resistance } })).toBeCloseTo(
      1,
      9,
    );
    expect(peak({ fuse: FUSE }) / top(0.01 + 0.012 + 0.003)).toBeCloseTo(1, 1);
    expect(peak({ fuse: FUSE })).toBeLessThan(0.6 * peak({}));
  });

  test('they belong to what feeds the stage: its own impedance is what it is without them', () => {
    const at = (parts: object) => {
      const met = inputImpedances(complete({}, VOLTAGE, { source: SOURCE, ...parts }), CONDITION, [2e3, 20e3]);
      if (typeof met === 'string') throw new Error(met);
      return met.points;
    };
    const fused = at({ fuse: { resistance: 0.05 }, reversePolarity: DIODE });
    at({}).forEach(({ closed, filter }, k) => {
      const other = fused[k];
      expect(magnitude(other?.closed ?? closed) / magnitude(closed)).toBeCloseTo(1, 12);
      expect(magnitude(other?.filter ?? filter) / magnitude(filter)).not.toBeCloseTo(1, 2);
    });
  });

  test('a supply put on at once rings less through a precharge, and no higher than the suppressor clamps', () => {
    const plugged = (parts: object): number =>
      hotPlug(complete({}, VOLTAGE, { source: SOURCE, ...parts }), 12)?.peak ?? NaN;
    expect(plugged({})).toBeGreaterThan(1.8 * 12);
    // Above twice the characteristic resistance, 0.15 ohm, nothing rings: textbook, second order.
    expect(plugged({ precharge: { resistance: 1 } })).toBeLessThan(12.01);
    expect(plugged({ suppressor: { clampingVoltage: 18 } })).toBe(18);
  });
});

describe('what is not stated', () => {
  test.each([
    ['fuse', { ratedCurrent: 8 }],
    ['reversePolarity', { forwardVoltage: 0.5 }],
  ])('%s without a resistance is refused, as it would lose less than it does', (place, part) => {
    expect(() => complete({}, VOLTAGE, { [place]: part })).toThrow(`"parts.${place}.resistance"`);
  });
});

describe('a preload', () => {
  test('loses V²/R, is no load, and the stage draws for it', () => {
    const bare = pointOf({});
    const point = pointOf({ preload: { resistance: 10 } });
    expect(point.outputCurrent).toBe(10);
    expect(point.outputPower).toBeCloseTo(bare.outputPower, 6);
    expect(point.losses['preload']).toBeCloseTo(point.outputVoltage ** 2 / 10, 3);
    expect(point.inductorCurrent.average - bare.inductorCurrent.average).toBeCloseTo(point.outputVoltage / 10, 6);
    expect(point.efficiency).toBeLessThan(bare.efficiency);
  });

  test('stands behind the second filter, where the load does', () => {
    const outputFilter = { inductance: 100e-9, resistance: 0.002, capacitors: [{ capacitance: 47e-6, esr: 0.005 }] };
    const found = operatingPoint(complete({}, VOLTAGE, { outputFilter, preload: { resistance: 10 } }), CONDITION);
    if (found.kind !== 'solved') throw new Error(found.reason);
    const at = (name: string) => found.powerStage.circuit.elements.find((e) => e.name === name)?.a;
    expect([at('preload'), at('load')]).toEqual(['filtered', 'filtered']);
  });
});

describe('in the simulator', () => {
  const run = (parts: object, by: number, current: number) => {
    const stage = complete({}, { ...VOLTAGE, dutyMax: 0.95 }, { source: SOURCE, ...parts });
    const made = simulate(
      stage,
      { inputVoltage: 12, load: { kind: 'current', current } },
      loadStep(by, undefined, 150),
    );
    if (made.kind === 'failed') throw new Error(made.reason);
    return made;
  };
  const least = (made: ReturnType<typeof run>, name: string): number =>
    Math.min(...(made.waveforms.signals.find((one) => one.name === name)?.least ?? [NaN]));
  const most = (made: ReturnType<typeof run>, name: string): number =>
    Math.max(...(made.waveforms.signals.find((one) => one.name === name)?.most ?? [NaN]));

  test('a settled stage behind fuse and diode stays settled, and every joule is found', () => {
    const made = run({ fuse: FUSE, reversePolarity: DIODE, preload: { resistance: 10 } }, 0, 10);
    expect(Object.keys(made.energy.byElement)).toEqual(expect.arrayContaining(['fuse', 'reversePolarity', 'preload']));
    expect(Math.abs(made.energy.stored)).toBeLessThan(1e-6 * made.energy.source);
    expect(Math.abs(made.energy.residual)).toBeLessThan(1e-6 * made.energy.source);
    const point = pointOf({ source: SOURCE, fuse: FUSE, reversePolarity: DIODE, preload: { resistance: 10 } });
    // 150 periods of 2 µs.
    expect((made.energy.byElement['reversePolarity'] ?? 0) / 300e-6).toBeCloseTo(
      point.losses['reversePolarity'] ?? NaN,
      3,
    );
  });

  test('a diode lets nothing back when the load is taken off, and the input rises; a switch does', () => {
    const behindDiode = run({ reversePolarity: DIODE }, -11, 12);
    const behindSwitch = run({ reversePolarity: SWITCH }, -11, 12);
    expect(least(behindDiode, 'input current')).toBeGreaterThan(-1e-6);
    expect(least(behindSwitch, 'input current')).toBeLessThan(-1);
    expect(most(behindDiode, 'input voltage')).toBeGreaterThan(12);
    expect(Math.abs(behindDiode.energy.residual)).toBeLessThan(1e-6 * behindDiode.energy.source);
  });
});

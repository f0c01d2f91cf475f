import { describe, expect, jest, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { runNetlist } from '../../testing/ngspice.js';
import { spiceNetlist } from '../netlist/spiceNetlist.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import {
  conductedNoise,
  ditheredBy,
  excessOver,
  limitAt,
  NETWORKS,
  readLimit,
  type Network,
} from './conductedNoise.js';

jest.setTimeout(120_000);

const CONDITION = { inputVoltage: 12, load: { kind: 'current' as const, current: 8 } };
const FILTER = {
  inputFilter: { inductance: 2.2e-6, resistance: 0.01, damping: { capacitance: 88e-6, resistance: 0.3 } },
};
const HARMONICS = 10;

/** The netlist of a stage behind a network, with the receiver beside it, and the Fourier integrals of what it sees over the last period. */
function measuredNetlist(stage: CompleteStage, network: Network): { readonly text: string; readonly period: number } {
  const { inductance, resistance, coupling, receiver } = NETWORKS[network];
  const fed = {
    ...stage,
    stage: { ...stage.stage, parts: { ...stage.stage.parts, source: { inductance, resistance } } },
  };
  const solved = operatingPoint(fed, CONDITION);
  if (solved.kind !== 'solved') throw new Error(solved.reason);
  const { period } = solved.solution;
  const node = stage.stage.parts.inputFilter ? 'filter' : 'in';
  const lines = [
    `c_receiver ${node} receiver ${String(coupling)} IC=12`,
    `r_receiver receiver 0 ${String(receiver)}`,
    ...Array.from({ length: HARMONICS }, (_, k) =>
      (['cos', 'sin'] as const).flatMap((of) => [
        `b_${of}${String(k + 1)} ${of}${String(k + 1)} 0 V = v(receiver)*${of}(${String((2 * Math.PI * (k + 1)) / period)}*time)`,
        `.meas tran got_${of}_${String(k + 1)}_ INTEG v(${of}${String(k + 1)}) FROM=${String(39 * period)} TO=${String(40 * period)}`,
      ]),
    ).flat(),
  ];
  return { text: spiceNetlist('noise', solved).replace('.end\n', `${lines.join('\n')}\n.end\n`), period };
}

describe('conducted noise, against the transform of what ngspice shows the receiver', () => {
  test.each<[string, object, Network]>([
    ['50 µH, without a filter', {}, 'mains'],
    ['5 µH, without a filter', {}, 'vehicle'],
    ['5 µH, behind a damped filter', FILTER, 'vehicle'],
  ])('%s: within 1 dB up to the tenth harmonic', async (_, parts, network) => {
    const stage = complete({}, VOLTAGE, parts);
    const noise = conductedNoise(stage, network, CONDITION);
    if (typeof noise === 'string') throw new Error(noise);
    expect(noise.edge).toBeUndefined();
    const { text, period } = measuredNetlist(stage, network);
    const measured = await runNetlist(text);
    for (let k = 1; k <= HARMONICS; k += 1) {
      const size = Math.hypot(measured(`got_cos_${String(k)}_`), measured(`got_sin_${String(k)}_`)) * (2 / period);
      const level = 20 * Math.log10(size / Math.SQRT2 / 1e-6);
      expect(Math.abs((noise.lines[k - 1]?.level ?? NaN) - level)).toBeLessThan(1);
    }
  });
});

const RISING = {
  onResistance: 0.01,
  gateSourceCharge: 4e-9,
  gateDrainCharge: 30e-9,
  thresholdVoltage: 1.6,
  plateauVoltage: 2.8,
  gateDriveVoltage: 5,
};

const sentenceOf = (text: string): string => {
  const read = readLimit(text);
  return read.kind === 'fault' ? read.sentence : '';
};

describe('noise and its limits', () => {
  test('slow edges take off high harmonics, by sin(x)/x, and hardly the first', () => {
    const sudden = conductedNoise(complete({}, VOLTAGE), 'mains', CONDITION);
    const slow = conductedNoise(complete({}, VOLTAGE, { highSide: RISING }), 'mains', CONDITION);
    if (typeof sudden === 'string' || typeof slow === 'string') throw new Error('no noise');
    const x = (frequency: number): number => Math.PI * frequency * (slow.edge ?? 0);
    expect(slow.edge).toBeGreaterThan(10e-9);
    for (const k of [0, 20, 50]) {
      const { frequency, level } = sudden.lines[k] ?? { frequency: NaN, level: NaN };
      const less = 20 * Math.log10(Math.abs(Math.sin(x(frequency)) / x(frequency)));
      expect((slow.lines[k]?.level ?? NaN) - level).toBeCloseTo(less, 6);
    }
    expect(sudden.lines.at(-1)?.frequency).toBeLessThanOrEqual(30e6);
    expect(sudden.lines).toHaveLength(60);
  });
  test('of several legs the quickest edge counts, and where one is not stated all are sudden', () => {
    const quick = { ...RISING, gateDrainCharge: 8e-9 };
    const edgeOf = (legs: object) => {
      const over = {
        topology: 'four-switch-buck-boost',
        targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 12, outputCurrent: { min: 1, max: 3 } },
      };
      const noise = conductedNoise(complete(over, { scheme: 'open-loop' }, legs), 'mains', {
        inputVoltage: 12,
        load: { kind: 'current', current: 3 },
      });
      if (typeof noise === 'string') throw new Error(noise);
      return noise.edge;
    };
    const outer = { outputHighSide: { onResistance: 0.01 } };
    const both = edgeOf({ ...outer, highSide: RISING, outputLowSide: quick });
    expect(both).toBeDefined();
    expect(both).toBe(edgeOf({ ...outer, highSide: quick, outputLowSide: RISING }));
    expect(both).toBeLessThan(edgeOf({ ...outer, highSide: RISING, outputLowSide: RISING }) ?? 0);
    expect(edgeOf({ ...outer, highSide: RISING, outputLowSide: { onResistance: 0.01 } })).toBeUndefined();
  });
  test('a limit is straight over the logarithm, and nothing outside its line', () => {
    const line = [
      { frequency: 150e3, level: 66 },
      { frequency: 500e3, level: 56 },
      { frequency: 5e6, level: 60 },
    ];
    expect(limitAt(line, 150e3)).toBe(66);
    expect(limitAt(line, Math.sqrt(150e3 * 500e3))).toBeCloseTo(61, 9);
    expect(limitAt(line, 500e3)).toBe(56);
    expect([limitAt(line, 100e3), limitAt(line, 6e6)]).toEqual([undefined, undefined]);
    const noise = [
      { frequency: 500e3, level: 70 },
      { frequency: 1e6, level: 75 },
      { frequency: 20e6, level: 120 },
    ];
    const worst = excessOver(noise, line, 6, 0);
    expect(worst?.frequency).toBe(1e6);
    expect(worst?.over).toBeCloseTo(75 + 6 - (56 + 4 * Math.log10(2)), 9);
    expect(excessOver(noise, line, 0, 0)?.over).toBeCloseTo((worst?.over ?? 0) - 6, 9);
    // Spread over ±5 % of 1 MHz the receiver sees 9 of 100 kHz.
    expect(ditheredBy(1e6, 0.05)).toBeCloseTo(10 * Math.log10(100 / 9), 9);
    expect(ditheredBy(1e6, 0)).toBe(0);
    expect(excessOver(noise, line, 0, 0.05)?.over).toBeCloseTo((worst?.over ?? 0) - 6 - ditheredBy(1e6, 0.05), 9);
    expect(excessOver([{ frequency: 50e6, level: 1 }], line, 0, 0)).toBeUndefined();
  });
  test('a limit line is read as it is typed, and what cannot be read is named with its line', () => {
    expect(readLimit('150k 66\n500 kHz, 56')).toMatchObject({ kind: 'fault' });
    expect(readLimit('150k 66\n\n500k, 56; 5M 60\n')).toEqual({
      kind: 'line',
      line: [
        { frequency: 150e3, level: 66 },
        { frequency: 500e3, level: 56 },
        { frequency: 5e6, level: 60 },
      ],
    });
    expect(sentenceOf('150k 66\nfast 56')).toMatch(/^Line 2, “fast 56”/);
    expect(sentenceOf('150k high')).toContain('no level');
    expect(sentenceOf('500k 66\n150k 56')).toContain('above');
  });
});

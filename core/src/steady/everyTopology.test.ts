import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { completeStage } from '../stage/completeStage.js';
import { problemsSentence } from '../stage/problemSentence.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint } from './operatingPoint.js';

const between = (min: number, max: number) =>
  fc.double({ min: Math.log(min), max: Math.log(max), noNaN: true }).map((x) => Math.exp(x));

/** Random stages of every topology: values within what the schema allows and a designer might type, good or poor. */
const stages = fc
  .record({
    topology: fc.constantFrom('buck', 'boost', 'inverting-buck-boost', 'four-switch-buck-boost'),
    rectifier: fc.constantFrom('synchronous', 'diode'),
    phases: fc.constantFrom(1, 1, 1, 1, 2, 4),
    legs: fc.constantFrom('regions', 'simultaneous'),
    vIn: between(2, 200),
    ratio: between(0.05, 12),
    load: between(0.01, 60),
    fSw: between(20e3, 3e6),
    rippleRatio: between(0.05, 3),
    holdUp: between(2, 500),
    ohms: between(1e-5, 0.08),
    esrShare: fc.constantFrom(0, 0.1, 1, 5),
    esl: fc.constantFrom(0, 0.3e-9, 2e-9),
    deadShare: fc.constantFrom(0, 0, 0.01, 0.03),
    banks: fc.constantFrom(1, 2),
    inputBanks: fc.constantFrom(0, 1),
    filter: fc.boolean(),
    second: fc.boolean(),
    source: fc.constantFrom(0, 1e-3),
    coupled: fc.constantFrom('none', 'none', 'inverse', 'direct'),
    dutyMax: fc.constantFrom(1, 0.95, 0.6),
    resistive: fc.boolean(),
  })
  .map((r) => {
    const ratio =
      r.topology === 'buck'
        ? Math.min(r.ratio, 1 / r.ratio, 0.97)
        : r.topology === 'boost'
          ? Math.max(r.ratio, 1 / r.ratio, 1.03)
          : r.ratio;
    const vOut = (r.topology === 'inverting-buck-boost' ? -1 : 1) * r.vIn * ratio;
    const boosted = r.topology === 'buck' ? 1 : 1 + ratio;
    const iL = (r.load * boosted) / r.phases;
    const load = Math.abs(vOut) / r.load;
    const inductance = Math.min(1, Math.max(1e-9, r.vIn / (r.fSw * r.rippleRatio * iL)));
    const capacitance = Math.min(1, Math.max(1e-9, r.holdUp / (load * r.fSw)));
    const ohms = (r.ohms * r.vIn) / iL;
    const mosfet = { onResistance: Math.min(900, ohms) };
    return {
      condition: {
        vIn: r.vIn,
        load: r.resistive
          ? ({ kind: 'resistance', resistance: load } as const)
          : ({ kind: 'current', current: r.load } as const),
      },
      document: {
        format: 'yundro-stage',
        version: 1,
        topology: r.topology,
        rectifier: r.rectifier,
        phases: r.phases,
        ...(r.topology === 'four-switch-buck-boost' && { legs: r.legs }),
        ...(r.phases > 1 && r.coupled !== 'none' && { coupling: { kind: r.coupled, coefficient: 0.4 } }),
        switchingFrequency: r.fSw,
        deadTime: r.deadShare / r.fSw,
        targets: { inputVoltage: { min: r.vIn, max: r.vIn }, outputVoltage: vOut, outputCurrent: { max: r.load } },
        parts: {
          inductor: { inductance, resistance: Math.min(900, ohms) },
          outputCapacitors: Array.from({ length: r.banks }, (_, j) => ({
            capacitance: capacitance * (j + 1),
            esr: Math.min(900, (ohms * r.esrShare) / (j + 1)),
            esl: r.esl * j,
          })),
          inputCapacitors: Array.from({ length: r.inputBanks }, () => ({
            capacitance,
            esr: Math.min(900, ohms * r.esrShare),
          })),
          highSide: mosfet,
          lowSide: mosfet,
          outputHighSide: mosfet,
          outputLowSide: mosfet,
          diode: { forwardVoltage: Math.min(1, 0.03 * r.vIn), dynamicResistance: Math.min(900, ohms) },
          ...(r.source > 0 && { source: { resistance: r.source, inductance: inductance / 50 } }),
          ...(r.filter &&
            r.inputBanks > 0 && {
              inputFilter: {
                inductance: inductance / 10,
                resistance: 0.001,
                damping: { capacitance: 4 * capacitance, resistance: 0.1 },
              },
            }),
          ...(r.second && {
            outputFilter: {
              inductance: inductance / 20,
              resistance: ohms / 10,
              capacitors: [{ capacitance, esr: ohms / 2 }],
            },
          }),
        },
        control: { dutyMax: r.dutyMax },
      },
    };
  });

/** Searches that may end without a solution or a proof that there is none, of 500: none is a wrong number. */
const MOST_GIVEN_UP = 2;

function numbersIn(value: unknown): number[] {
  if (typeof value === 'number') return [value];
  return typeof value === 'object' && value !== null ? Object.values(value).flatMap(numbersIn) : [];
}

describe('random stages of every topology', () => {
  test('each ends in a balanced solution or in a reason, never in a number that is none (500 stages, seed 31)', () => {
    const tally = { solved: 0, unreachable: 0, other: new Map<string, number>() };
    fc.assert(
      fc.property(stages, ({ document, condition }) => {
        const read = stageFromDocument(document);
        if (!read.ok) throw new Error(problemsSentence(read.problems));
        const complete = completeStage(read.value);
        if (!complete.ok) throw new Error(problemsSentence(complete.problems));
        const found = operatingPoint(complete.value, { inputVoltage: condition.vIn, load: condition.load });
        if (found.kind === 'unsolved') {
          expect(found.reason).not.toBe('');
          if (/out of reach|below the shortest/.test(found.reason)) tally.unreachable += 1;
          else tally.other.set(found.reason, (tally.other.get(found.reason) ?? 0) + 1);
          return;
        }
        tally.solved += 1;
        const { point } = found;
        for (const number of numbersIn(point)) expect(Number.isFinite(number)).toBe(true);
        expect(found.solution.iterations).toBeLessThan(2000);
        expect(point.outputVoltage / read.value.targets.outputVoltage).toBeCloseTo(1, 6);
        const balance = (point.outputPower + (point.losses['total'] ?? NaN)) / point.inputPower;
        expect(Math.abs(balance - 1)).toBeLessThan(1e-3);
      }),
      { seed: 31, numRuns: 500 },
    );
    // Most of these designs are sound enough to work; nearly all others are out of reach. A search that gives up says so.
    expect(tally.solved).toBeGreaterThan(300);
    const gaveUp = [...tally.other.values()].reduce((sum, n) => sum + n, 0);
    expect(gaveUp).toBeLessThanOrEqual(MOST_GIVEN_UP);
  });

  test('2,000 damaged stages are refused with a sentence (seed 37)', () => {
    const damage = fc.constantFrom<[string, unknown]>(
      ['switchingFrequency', -1],
      ['switchingFrequency', 'fast'],
      ['phases', 0],
      ['phases', 17],
      ['phases', 2.5],
      ['deadTime', 1],
      ['targets', {}],
      ['topology', 'sepic-like'],
      ['pinned', ['everything']],
      ['parts', { inductor: { inductance: 0 } }],
      ['parts', { outputCapacitors: [] }],
      ['colour', 1],
      ['version', 99],
      ['control', { dutyMax: 1.5 }],
    );
    fc.assert(
      fc.property(stages, damage, ({ document }, [key, value]) => {
        const read = stageFromDocument({ ...document, [key]: value });
        expect(read.ok).toBe(false);
        if (!read.ok) expect(problemsSentence(read.problems)).toMatch(/^At .*\.$/);
      }),
      { seed: 37, numRuns: 2000 },
    );
  });
});

import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { randomOf } from '../tolerance/random.js';
import { boardRun, type BenchCondition, type BoardRun } from '../board/boardRun.js';
import { boardFeatures, type BoardFeatures } from './features.js';
import { FAULTS } from './faults.js';
import { asBuilt } from '../board/asBuilt.js';
import { diagnose, faultAtlas, HEALTHY, scalesOf, type FaultAtlas } from './rank.js';

const CONDITION: BenchCondition = { inputVoltage: 12, supplyLimit: 8, loadResistance: 7.5 / 4 };
const SEEDS = 20;

const kindsOf = { synchronous: benchStage(), diode: benchStage({ rectifier: 'diode' }) };
const atlasOf = (complete: CompleteStage): FaultAtlas => {
  const atlas = faultAtlas(complete, CONDITION);
  if (typeof atlas === 'string') throw new Error(atlas);
  return atlas;
};
const faultCalled = (key: string) => FAULTS.find((one) => one.key === key);

/** A board built by a seed, with a fault as bad as the seed has it, seen on an oscilloscope with errors of its own. */
function seen(complete: CompleteStage, key: string, seed: number): BoardFeatures {
  const built = asBuilt(complete, 1000 + seed);
  const run = boardRun(faultCalled(key)?.board(built, randomOf(seed, 31)()) ?? built, CONDITION);
  if (typeof run === 'string') throw new Error(run);
  return boardFeatures(run.waveforms, run.period, scalesOf(complete), { seed, gain: 0.02, noise: 0.003 });
}

describe.each(Object.entries(kindsOf))('boards built within tolerance, %s rectifier', (rectifier, complete) => {
  const atlas = atlasOf(complete);
  const possible = FAULTS.filter((fault) => fault.barred(complete) === undefined).map(({ key }) => key);

  test('every fault the stage can have is in the atlas', () => {
    expect(atlas.failed).toEqual([]);
    expect(atlas.pictures.map(({ key }) => key)).toEqual([HEALTHY, ...possible]);
  });

  // What both rectifiers have in common is gone over once.
  const own = rectifier === 'diode' ? ['swapped-diode', 'shorted-low-side'] : [HEALTHY, ...possible];
  test.each(own)('%s is named first in nine of ten at least', (key) => {
    const found = Array.from({ length: SEEDS }, (__, seed) => diagnose(atlas, seen(complete, key, seed + 1)));
    const first = found.filter(({ ranked }) => ranked[0]?.key === key).length;
    expect(first).toBeGreaterThanOrEqual(0.9 * SEEDS);
    // What is said to be found is right.
    for (const { answer, ranked } of found) if (answer === 'found') expect(ranked[0]?.key).toBe(key);
  });
});

describe('what cannot be told apart', () => {
  const complete = kindsOf.synchronous;
  const atlas = atlasOf(complete);
  const only = (features: BoardFeatures, ...nodes: string[]): BoardFeatures =>
    Object.fromEntries(Object.entries(features).filter(([node]) => nodes.includes(node)));

  test('an output at nothing says that one of those is it that leave nothing; the switch node and the supply tell which', () => {
    const all = seen(complete, 'shorted-low-side', 3);
    const little = diagnose(atlas, only(all, 'output voltage'));
    expect(little.answer).toBe('cannot tell');
    expect([little.ranked[0]?.key, ...little.alike].sort()).toEqual(['main-drive', 'shorted-low-side']);
    const more = diagnose(atlas, only(all, 'output voltage', 'input voltage'));
    expect([more.answer, more.ranked[0]?.key]).toEqual(['found', 'shorted-low-side']);
  });

  test('a rectifier without its drive is not seen at the output', () => {
    const all = seen(complete, 'rectifier-drive', 5);
    const little = diagnose(atlas, only(all, 'output voltage'));
    expect(little.answer).toBe('cannot tell');
    expect([little.ranked[0]?.key, ...little.alike]).toEqual(expect.arrayContaining([HEALTHY, 'rectifier-drive']));
    expect(diagnose(atlas, only(all, 'gate, lowSide')).ranked[0]?.key).toBe('rectifier-drive');
  });
});

describe('pictures that are known', () => {
  const look = (key: string, severity = 0.5, complete = kindsOf.synchronous) => {
    const run = boardRun(faultCalled(key)?.board(complete, severity) ?? complete, CONDITION) as BoardRun;
    return boardFeatures(run.waveforms, run.period, scalesOf(complete));
  };

  test('an open feedback leaves the output at the largest duty ratio', () => {
    const { 'output voltage': output, feedback } = look('open-feedback');
    // D Vin, less what 4 A and more drop.
    expect(Math.abs((output?.mean ?? 0) - 0.95 * 12)).toBeLessThan(0.3);
    expect(feedback?.mean).toBeCloseTo(0, 3);
  });
  test('a wrong divider regulates the voltage that it says, the feedback at the reference', () => {
    const { 'output voltage': output, feedback } = look('wrong-divider', 1);
    // 0.75 V (1 + 1.3 · 90/10)
    expect(Math.abs((output?.mean ?? 0) - 0.75 * (1 + 11.7))).toBeLessThan(0.05);
    expect(feedback?.mean).toBeCloseTo(0.75, 2);
  });
  test('a shorted device puts the supply into its limit', () => {
    const { 'input current': input, 'input voltage': voltage } = look('shorted-low-side');
    expect(input?.mean).toBeCloseTo(8, 2);
    expect(voltage?.peak).toBeLessThan(1);
  });
  test('a switch node that rings goes to nearly twice the input (an undamped step: Ogata, Modern Control Engineering, ch. 5)', () => {
    const { 'switch node': node } = look('ringing', 1);
    expect(node?.peak).toBeGreaterThan(1.5 * 12);
    expect(node?.peak).toBeLessThan(2.1 * 12);
  });
  test('a subharmonic oscillation alternates at half the clock, and slope compensation ends it', () => {
    expect(look('subharmonic')['switch node']?.alternation).toBeGreaterThan(0.3);
    expect(look('none')['switch node']?.alternation).toBeLessThan(0.01);
  });
  test('without its drive the rectifier’s body diode carries the current for all of the off-time', () => {
    // 0.8 V and more where there were 40 mV.
    expect(look('rectifier-drive')['switch node']?.low).toBeLessThan(-0.75);
    expect(look('none')['switch node']?.low).toBeGreaterThan(-0.1);
  });
});

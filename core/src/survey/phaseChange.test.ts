import { describe, expect, test } from '@jest/globals';
import { complete, CURRENT, VOLTAGE } from '../../testing/loopStage.js';
import { simulate, type SimulatedRun } from '../transient/simulate.js';
import type { Happening } from '../transient/scenario.js';
import type { Waveforms } from '../transient/recorder.js';
import { phaseChange } from './phaseChange.js';

const LOAD = { inputVoltage: 12, load: { kind: 'current', current: 8 } } as const;
const PERIOD = 2e-6;

function run(
  phases: number,
  happenings: readonly Happening[],
  cycles: number,
  control: object = CURRENT,
): SimulatedRun {
  const found = simulate(complete({ phases }, control), LOAD, { start: 'settled', happenings, cycles });
  if (found.kind === 'failed') throw new Error(found.reason);
  return found;
}
/** Extremes of a signal over the last periods before a time. */
function ends({ time, signals }: Waveforms, name: string, before: number): readonly [number, number] {
  const signal = signals.find((one) => one.name === name);
  if (!signal) throw new Error(`no ${name}`);
  const at = [...time.keys()].filter((i) => (time[i] ?? 0) > before - 10 * PERIOD && (time[i] ?? 0) <= before);
  return [Math.min(...at.map((i) => signal.least[i] ?? NaN)), Math.max(...at.map((i) => signal.most[i] ?? NaN))];
}

describe('phases that are shed and come back', () => {
  const away = 400 * PERIOD;
  const both = run(3, [{ kind: 'phases', at: 0, working: 2 }, { kind: 'phases', at: away, working: 3 }], 800); // prettier-ignore

  test('while they rest the stage is one with fewer phases, evenly interleaved, and theirs carry nothing', () => {
    const two = run(2, [], 400);
    for (const name of ['output voltage', 'inductor current 1', 'inductor current 2'])
      ends(both.waveforms, name, away).forEach((value, k) => {
        const alone = ends(two.waveforms, name, away)[k] ?? NaN;
        expect(Math.abs(value - alone)).toBeLessThan(2e-4 * Math.abs(alone));
      });
    for (const value of ends(both.waveforms, 'inductor current 3', away)) expect(Math.abs(value)).toBeLessThan(1e-6);
  });
  test('when they are back it is what it was', () => {
    const three = run(3, [], 400);
    const end = 800 * PERIOD;
    for (const name of ['output voltage', 'inductor current 1', 'inductor current 3'])
      ends(both.waveforms, name, end).forEach((value, k) => {
        const before = ends(three.waveforms, name, away)[k] ?? NaN;
        expect(Math.abs(value - before)).toBeLessThan(2e-4 * Math.abs(before));
      });
  });
  test('no energy is lost in between', () => {
    expect(Math.abs(both.energy.residual / both.energy.source)).toBeLessThan(1e-9);
  });
  test('one at least stays at work, and no more than there are', () => {
    for (const working of [0, 4]) {
      const found = simulate(complete({ phases: 3 }, CURRENT), LOAD, {
        start: 'settled',
        happenings: [{ kind: 'phases', at: 0, working }],
        cycles: 10,
      });
      expect(found).toMatchObject({ kind: 'failed', reason: expect.stringContaining(`${String(working)} phases`) });
    }
  });
});

describe('phases that share cores', () => {
  const PAIRS = { kind: 'inverse', coefficient: 0.5 } as const;
  const stage = (phases: number) => complete({ phases, coupling: PAIRS }, CURRENT);
  const ran = (phases: number, happenings: readonly Happening[]): SimulatedRun => {
    const found = simulate(stage(phases), LOAD, { start: 'settled', happenings, cycles: 400 });
    if (found.kind === 'failed') throw new Error(found.reason);
    return found;
  };
  test('are shed core by core, and those at work are a stage of their own', () => {
    const shed = ran(4, [{ kind: 'phases', at: 0, working: 2 }]).waveforms;
    const two = ran(2, []).waveforms;
    const end = 400 * PERIOD;
    // Phases 1 and 3 share a core; so do 2 and 4, which rest.
    for (const [name, alone] of [
      ['output voltage', 'output voltage'],
      ['inductor current 1', 'inductor current 1'],
      ['inductor current 3', 'inductor current 2'],
    ] as const)
      ends(shed, name, end).forEach((value, k) => {
        const other = ends(two, alone, end)[k] ?? NaN;
        expect(Math.abs(value - other)).toBeLessThan(2e-4 * Math.abs(other));
      });
    for (const name of ['inductor current 2', 'inductor current 4'])
      for (const value of ends(shed, name, end)) expect(Math.abs(value)).toBeLessThan(1e-6);
  });
  test('are not split', () => {
    const half = simulate(stage(4), LOAD, {
      start: 'settled',
      happenings: [{ kind: 'phases', at: 0, working: 3 }],
      cycles: 10,
    });
    expect(half).toMatchObject({ kind: 'failed', reason: expect.stringContaining('share a core go together') });
    expect(phaseChange(stage(4), 12, 8, { from: 2, to: 4 })).toMatchObject({ from: 2, to: 4 });
  });
});

describe('a change of phases at a load', () => {
  const change = (control: object, from: number, to: number) => {
    const found = phaseChange(complete({ phases: 2 }, control), 12, 8, { from, to });
    if (typeof found === 'string') throw new Error(found);
    return found;
  };
  test('with peak current mode a phase that comes in carries its share within a few periods, and the output rises until the loop gives way', () => {
    const added = change(CURRENT, 1, 2);
    expect(added.shared).toBeLessThan(5 * PERIOD);
    expect(added.above).toBeGreaterThan(5 * added.below);
    // It brings what the other carries, until the loop answers: more than a tenth of the ripple of one phase in the capacitors.
    expect(added.above).toBeGreaterThan(1e-3);
  });
  test('dropping one takes the output down by what it carried', () => {
    const dropped = change(CURRENT, 2, 1);
    expect(dropped.below).toBeGreaterThan(5 * dropped.above);
  });
  test('in voltage mode nothing but resistance makes the currents alike, and it takes longer', () => {
    const { shared = Infinity } = change(VOLTAGE, 1, 2);
    expect(shared).toBeGreaterThan(10 * PERIOD);
  });
  test('what cannot be simulated is a sentence', () => {
    expect(phaseChange(complete({ phases: 2 }, { scheme: 'open-loop' }), 12, 8, { from: 1, to: 2 })).toEqual(
      expect.any(String),
    );
  });
});

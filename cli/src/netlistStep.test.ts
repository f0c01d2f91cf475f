import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, jest, test } from '@jest/globals';
import { complete, CURRENT, VOLTAGE } from '../../core/testing/loopStage.js';
import { runNetlist } from '../../core/testing/ngspice.js';
import {
  closedLoopNetlist,
  closeLoop,
  completeStage,
  loadStep,
  operatingPoint,
  otherClamps,
  simulate,
} from '@yundro/core';

jest.setTimeout(180_000);

const folder = mkdtempSync(join(tmpdir(), 'yundro-step-'));
const program = new URL('../../bin/yundro', import.meta.url).pathname;

/** The voltage mode of the tests with an amplifier of limited output. */
const held = (amplifier: object): object => ({ ...VOLTAGE, compensator: { ...VOLTAGE.compensator, amplifier } });
const OTA = { kind: 'ota', transconductance: 1e-3, outputResistance: 1e6, outputMax: 0.78 };
const heldOta = {
  ...CURRENT,
  compensator: {
    network: 'type-2',
    amplifier: OTA,
    components: { rUpper: 45e3, rLower: 10e3, rZero: 10e3, cZero: 4.7e-9, cPole: 47e-12 },
  },
};

const PAIR = { phases: 2, deadTime: 20e-9 };
/** A choke of which a step takes most. */
const GIVING_WAY = {
  inductor: { inductance: 2.2e-6, resistance: 0.005, saturationCurrent: 9, saturationDrop: 0.4 },
};

describe('a step of the load, simulated and in ngspice on the netlist of the same stage', () => {
  test.each<[string, object, object, number, object?]>([
    ['voltage mode, loaded', {}, VOLTAGE, 4],
    ['voltage mode, unloaded', {}, VOLTAGE, -4],
    ['peak current mode, two phases with dead time', PAIR, CURRENT, 6],
    ['voltage mode, its duty ratio at the limit', {}, { ...VOLTAGE, dutyMax: 0.5 }, 6],
    ['voltage mode, the current at its limit', {}, { ...VOLTAGE, currentLimit: 15.5 }, 6],
    ['voltage mode, its amplifier at its lowest output', {}, held({ kind: 'op-amp', outputMin: 0.2 }), -7.5],
    ['voltage mode, its amplifier at its highest output', {}, held({ kind: 'op-amp', outputMax: 0.4 }), 6],
    ['peak current mode, a transconductance at its highest output', {}, heldOta, 6],
    ['voltage mode, an inductor that saturates', {}, VOLTAGE, 6, GIVING_WAY],
    ['peak current mode, two phases with dead time, inductors that saturate', PAIR, CURRENT, 6, GIVING_WAY],
  ])('%s', async (name, over, control, by, parts = {}) => {
    const stage = complete(over, control, parts);
    const condition = { inputVoltage: 12, load: { kind: 'current' as const, current: 8 } };
    const cycles = 120;
    const solved = operatingPoint(stage, condition);
    if (solved.kind !== 'solved') throw new Error(solved.reason);
    const closed = closeLoop(stage, condition, solved);
    if (closed.kind !== 'closed') throw new Error(closed.reason);
    const { dutyMax, currentLimit } = stage.stage.control;
    const step = {
      by,
      slewRate: 4e6,
      cycles,
      limits: { dutyMax, currentLimit },
      saturates: { solved, part: stage.inductor },
    };
    const netlist = closedLoopNetlist(name, closed.loop, stage.stage.deadTime, step);
    if (!netlist.ok) throw new Error(netlist.reason);
    const measured = await runNetlist(netlist.text);
    const run = simulate(stage, condition, loadStep(by, step.slewRate, cycles));
    if (run.kind === 'failed') throw new Error(run.reason);
    const { undershoot, overshoot } = run.measures;
    if (name.includes('output')) {
      // The limits are met: without them it goes otherwise.
      const other = completeStage(otherClamps(stage.stage)?.stage ?? stage.stage);
      const free = other.ok ? simulate(other.value, condition, loadStep(by, step.slewRate, cycles)) : undefined;
      if (free?.kind !== 'run') throw new Error('not simulated without limits');
      const apart = [free.measures.undershoot - undershoot, free.measures.overshoot - overshoot].map(Math.abs);
      expect(Math.max(...apart) / Math.max(undershoot, overshoot)).toBeGreaterThan(0.03);
    } else if (name.includes('limit'))
      expect(run.occurrences.some(({ what }) => what === 'limit' || what === 'duty-limit')).toBe(true);
    const larger = Math.max(undershoot, overshoot);
    const before = measured('output_before');
    expect(Math.abs(before - measured('output_least') - undershoot) / larger).toBeLessThan(0.005);
    expect(Math.abs(measured('output_most') - before - overshoot) / larger).toBeLessThan(0.005);
  });
  test('the command writes that netlist, and says that it needs the loop', () => {
    const file = join(folder, 'stepped.json');
    writeFileSync(file, JSON.stringify(complete({}, VOLTAGE).stage));
    const command = (...words: string[]): string =>
      execFileSync(program, ['netlist', file, '--vin', '12', '--iout', '8', ...words], { encoding: 'utf8' });
    expect(command('--closed-loop', '--step', '-4', '--slew', '4M')).toMatch(
      /^i_loadTest \S+ 0 PWL\(0 0 .* -4\.0+e\+0\)$/m,
    );
    expect(() => command('--step', '4')).toThrow(/add --closed-loop/);
  });
});

import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { runNetlist } from '../../testing/ngspice.js';
import { evaluateStage } from '../corners/evaluate.js';
import { ringingWith, worstLoops } from '../layout/worstLoops.js';
import { edgeNetlist } from './edgeNetlist.js';

const SWITCH = {
  onResistance: 0.01,
  gateSourceCharge: 4e-9,
  gateDrainCharge: 6e-9,
  thresholdVoltage: 1.6,
  plateauVoltage: 2.8,
  gateDriveVoltage: 5,
  gateResistance: 1,
  drainSourceVoltageMax: 60,
  outputCharge: 24e-9,
  outputChargeVoltage: 12,
  recoveryCharge: 15e-9,
};
const BANK = [{ capacitance: 22e-6, esr: 0.003, esl: 0.5e-9, count: 4 }];
const PARTS = { highSide: SWITCH, lowSide: SWITCH, inputCapacitors: BANK, outputCapacitors: BANK };

/** A stage at its one corner with the loops of it. */
function drawn(over: object, parts: object) {
  const evaluated = evaluateStage(
    complete(
      {
        targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 3.3, outputCurrent: { min: 8, max: 8 } },
        ...over,
      },
      { scheme: 'voltage-mode' },
      { ...PARTS, ...parts },
    ).stage,
  );
  if (!evaluated.ok) throw new Error('not evaluated');
  const solved = evaluated.value.corners.find(({ result }) => result.kind === 'solved');
  if (solved?.result.kind !== 'solved') throw new Error('unsolved');
  const loops = worstLoops({ complete: evaluated.value.complete, corners: [solved] });
  return { solved: solved.result, loops };
}

const aim = (min: number, outputVoltage: number, max: number) => ({
  targets: { inputVoltage: { min, max: min }, outputVoltage, outputCurrent: { min: max, max } },
});

describe('a stage with the parasitics of its hot loops, against ngspice', () => {
  test.each([
    ['a buck with dead time', { deadTime: 20e-9 }, {}, 2e-9],
    ['a buck with a long loop', { deadTime: 20e-9 }, {}, 12e-9],
    ['a buck without dead time', {}, {}, 3e-9],
    ['a buck whose diode gives nothing back', { deadTime: 20e-9 }, { lowSide: { ...SWITCH, recoveryCharge: 0 } }, 5e-9],
    [
      'a buck with a diode',
      { rectifier: 'diode' },
      { lowSide: undefined, diode: { forwardVoltage: 0.4, junctionCapacitance: 400e-12, recoveryCharge: 5e-9 } },
      3e-9,
    ],
    ['a boost', { topology: 'boost', deadTime: 20e-9, ...aim(5, 12, 2) }, {}, 3e-9],
    ['an inverting stage', { topology: 'inverting-buck-boost', deadTime: 20e-9, ...aim(12, -5, 2) }, {}, 3e-9],
    ['two phases', { phases: 2, deadTime: 20e-9, ...aim(12, 3.3, 16) }, {}, 3e-9],
  ] as const)('%s: overshoot within 10 %%', async (name, over, parts, inductance) => {
    const { solved, loops } = drawn(over, parts);
    expect(loops.length).toBe('phases' in over ? 2 : 1);
    for (const loop of loops) {
      const text = edgeNetlist(name, solved, loop, inductance);
      if (!text.ok) throw new Error('no netlist');
      const peak = (await runNetlist(text.value))('blocked');
      const ringing = ringingWith(loop, inductance);
      if (!ringing) throw new Error('it does not ring');
      expect(ringing.overshoot).toBeGreaterThan(0.1 * loop.blocked);
      expect(Math.abs(ringing.overshoot / (peak - loop.blocked) - 1)).toBeLessThan(0.1);
      expect(peak - loop.blocked).toBeLessThan(1.02 * ringing.most);
    }
  });
});

import { describe, expect, test } from '@jest/globals';
import { complete, CURRENT } from '../../testing/loopStage.js';
import { evaluateStage } from '../corners/evaluate.js';
import type { Stage } from '../stage/schema.js';
import { layoutChecklist, viaCurrent } from './checklist.js';
import { netsOf } from './nets.js';
import { worstLoops } from './worstLoops.js';

function listOf(stage: Stage) {
  const evaluated = evaluateStage(stage);
  if (!evaluated.ok) throw new Error('not evaluated');
  const nets = netsOf(evaluated.value);
  const loops = worstLoops(evaluated.value);
  return { lines: layoutChecklist(evaluated.value, loops, nets), nets, loops };
}
const keys = ({ lines }: ReturnType<typeof listOf>): readonly string[] => lines.map(({ key }) => key);

describe('the checklist of a board', () => {
  test('has its values from the stage', () => {
    const list = listOf(complete({}).stage);
    const ground = list.nets.find(({ node }) => node === '0');
    const vias = list.lines.find(({ key }) => key === 'return vias');
    expect(vias?.line).toContain(`${String(Math.ceil((ground?.current ?? 0) / viaCurrent()))} vias`);
    const [loop] = list.loops;
    expect(list.lines[0]?.key).toContain('loop');
    // V = L di/dt, of a nanohenry
    expect(list.lines[0]?.reason).toMatch(/each nanohenry of it makes [\d.]+/);
    expect(loop?.rate).toBeGreaterThan(0);
    expect(list.lines[0]?.reason).toContain('the record of the switch does not say');
    expect(new Set(keys(list)).size).toBe(list.lines.length);
  });
  test('asks only what this stage gives cause for', () => {
    const plain = keys(listOf(complete({}).stage));
    expect(plain).toContain('controller');
    for (const key of ['kelvin', 'phases', 'two loops', 'insulation', 'input protection', 'reverse polarity'])
      expect(plain).not.toContain(key);
    const two = keys(listOf(complete({ phases: 2 }, { ...CURRENT, senseResistance: 2e-3 }).stage));
    expect(two).toEqual(expect.arrayContaining(['kelvin', 'phases']));
    expect(two.filter((key) => key.startsWith('loop'))).toHaveLength(2);
    expect(two.filter((key) => key.startsWith('switch node'))).toHaveLength(2);
    const parts = { suppressor: { clampingVoltage: 20 }, reversePolarity: { resistance: 0.01 } };
    expect(keys(listOf(complete({}, CURRENT, parts).stage))).toEqual(
      expect.arrayContaining(['input protection', 'reverse polarity']),
    );
    const high = complete({
      targets: { inputVoltage: { min: 72, max: 72 }, outputVoltage: 12, outputCurrent: { min: 1, max: 2 } },
    });
    expect(keys(listOf(high.stage))).toContain('insulation');
  });
});

import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { evaluateStage } from '../corners/evaluate.js';
import { INSULATORS, sharedSink, tabGround, type SharedSink } from './sharedHeatsink.js';

const SWITCH = {
  onResistance: 0.01,
  gateCharge: 20e-9,
  gateDriveVoltage: 5,
  junctionToCase: 1.2,
  junctionToAmbient: 40,
  length: 10e-3,
  width: 9e-3,
};
function groundOf(over: object = {}, parts: object = {}) {
  const found = evaluateStage(
    complete(over, { scheme: 'voltage-mode' }, { highSide: SWITCH, lowSide: SWITCH, ...parts }).stage,
  );
  if (!found.ok) throw new Error('not evaluated');
  return { ground: tabGround(found.value), worked: found.value };
}
const SINK: SharedSink = { sink: 6, insulator: 'pad', area: 1e-4 };

describe('several tabs on one heatsink', () => {
  test('their losses are those that warm the junctions of the ledger', () => {
    const { ground, worked } = groundOf();
    worked.corners.forEach(({ corner, result }, k) => {
      if (result.kind !== 'solved') throw new Error('unsolved');
      for (const { place, losses } of ground.tabs) {
        const junction = result.point.junctionTemperatures[place] ?? NaN;
        expect(corner.temperature + 40 * (losses[k] ?? NaN)).toBeCloseTo(junction, 9);
      }
    });
  });
  test('a switch whose way for the heat is not stated warms the heatsink all the same, and the usual limit holds', () => {
    const bare = groundOf({}, { highSide: { onResistance: 0.01 } }).ground;
    const known = groundOf().ground;
    expect((bare.tabs[0]?.losses[0] ?? 0) / (known.tabs[0]?.losses[0] ?? NaN)).toBeCloseTo(1, 6);
    expect(bare.limit).toBe(125);
  });
  test('all of them warm it; each junction lies above it by its own loss', () => {
    const { ground } = groundOf({ phases: 2 });
    const shared = sharedSink(ground, SINK);
    if (!shared) throw new Error('no sink');
    const whole = shared.tabs.reduce((sum, { tab, loss }) => sum + tab.count * loss, 0);
    expect(shared.tabs.map(({ tab }) => tab.count)).toEqual([2, 2]);
    expect(shared.sink).toBeCloseTo(25 + 6 * whole, 9);
    for (const { loss, insulator, junction } of shared.tabs) {
      expect(insulator).toBeCloseTo(3e-4 / 90e-6, 9);
      expect(junction).toBeCloseTo(shared.sink + loss * (1.2 + insulator), 9);
    }
    const better = sharedSink(ground, { ...SINK, insulator: 'ceramic' });
    expect(better?.tabs[0]?.junction).toBeLessThan(shared.tabs[0]?.junction ?? 0);
  });
  test('bare tabs at different potentials are joined by it, and named; a pad keeps them apart', () => {
    const { ground } = groundOf();
    expect(ground.tabs.map(({ potentials }) => potentials)).toEqual([['input of the stage'], ['switch node 1']]);
    expect(sharedSink(ground, { ...SINK, insulator: 'bare' })?.joins).toEqual(['input of the stage', 'switch node 1']);
    expect(sharedSink(ground, SINK)?.joins).toEqual([]);
    expect(Object.values(INSULATORS).filter(({ insulates }) => !insulates)).toHaveLength(1);
  });
  test('parallel switches share what one place loses, and what is not stated is not reckoned', () => {
    const one = groundOf().ground;
    const two = groundOf({}, { lowSide: { ...SWITCH, count: 2, length: undefined, junctionToCase: undefined } }).ground;
    const [, tab] = two.tabs;
    expect(tab).toMatchObject({ count: 2, area: undefined, junctionToCase: undefined });
    expect(tab?.losses[0]).toBeLessThan(0.6 * (one.tabs[1]?.losses[0] ?? 0));
    const shared = sharedSink(two, SINK);
    expect(shared?.tabs[1]?.junction).toBeUndefined();
    expect(shared?.tabs[1]?.insulator).toBeCloseTo(3, 9);
  });
  test('the tab of a diode is its cathode', () => {
    const diode = { forwardVoltage: 0.5, junctionToAmbient: 50, junctionToCase: 3 };
    const { ground } = groundOf({ rectifier: 'diode' }, { lowSide: undefined, diode });
    expect(ground.tabs[1]).toMatchObject({ words: 'diode', potentials: ['switch node 1'] });
  });
});

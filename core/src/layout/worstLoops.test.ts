import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { evaluateStage } from '../corners/evaluate.js';
import { edgeTimes } from '../losses/switchTerms.js';
import { mosfetSchema } from '../stage/partsSchema.js';
import { layoutChecklist } from './checklist.js';
import { netsOf } from './nets.js';
import { ringingOf } from './ringing.js';
import { leastSpacing } from './spacing.js';
import { ringingWith, ringWorking, worstLoops } from './worstLoops.js';

const HIGH = {
  onResistance: 0.01,
  gateSourceCharge: 4e-9,
  gateDrainCharge: 6e-9,
  thresholdVoltage: 1.6,
  plateauVoltage: 2.8,
  gateDriveVoltage: 5,
  gateResistance: 1,
  drainSourceVoltageMax: 60,
};
const LOW = {
  onResistance: 0.008,
  outputCharge: 24e-9,
  outputChargeVoltage: 12,
  recoveryCharge: 30e-9,
  drainSourceVoltageMax: 30,
};

function evaluated(parts: object = {}, over: object = {}) {
  const stage = complete(over, undefined, { highSide: HIGH, lowSide: LOW, ...parts }).stage;
  const found = evaluateStage(stage);
  if (!found.ok) throw new Error('not evaluated');
  return found.value;
}

describe('what makes a loop ring, out of the records', () => {
  const stage = evaluated();
  const [loop] = worstLoops(stage);
  if (!loop?.rings) throw new Error('it does not ring');
  const { rings } = loop;
  test('the edge is the fall of the main switch, the rating and the charges those of what blocks', () => {
    const times = edgeTimes(mosfetSchema.parse(HIGH), undefined);
    expect(loop).toMatchObject({ edge: times?.fall, edgeStated: true, rating: 30 });
    expect(times?.on).not.toBe(times?.fall);
    expect(rings.recoveryCharge).toBe(30e-9);
    // An abrupt junction holds Q ∝ √V: C = dQ/dV = Q/(2V).
    const charge = (voltage: number): number => 24e-9 * Math.sqrt(voltage / 12);
    const step = 1e-3;
    const slope = (charge(loop.blocked + step) - charge(loop.blocked - step)) / (2 * step);
    expect(rings.capacitance / slope).toBeCloseTo(1, 6);
  });
  test('it rings as the main switch closes, with the current that it takes over then: the least of the choke, not the most', () => {
    const solved = stage.corners.flatMap(({ result }) => (result.kind === 'solved' ? [result.point] : []));
    const valley = Math.max(...solved.map(({ inductorCurrent }) => inductorCurrent.valley));
    expect(loop.main).toBe('highSide1');
    expect(rings.current / valley).toBeCloseTo(1, 2);
    expect(loop.current).toBeGreaterThan(1.05 * rings.current);
    const { recoveryCharge = NaN, ...of } = rings;
    expect(ringWorking(loop, 3e-9).at(-1)?.value).toBe(ringingWith(loop, 3e-9)?.most);
    expect(ringWorking({ ...loop, rings: undefined }, 3e-9)).toEqual([]);
    expect(ringingWith(loop, 3e-9)).toEqual(ringingOf({ ...of, recoveryCharge, inductance: 3e-9 }));
  });
  test('each device takes over its own current, in whatever order their edges come within a period', () => {
    const targets = { inputVoltage: { min: 12, max: 12 }, outputVoltage: 8, outputCurrent: { min: 16, max: 16 } };
    const read = evaluateStage(
      complete({ phases: 2, targets }, { scheme: 'voltage-mode' }, { highSide: HIGH, lowSide: LOW }).stage,
    );
    if (!read.ok) throw new Error('not evaluated');
    const loops = worstLoops(read.value);
    expect(loops).toHaveLength(2);
    for (const { closing, devices, main = '' } of loops) {
      const [rectifier = ''] = devices.filter((name) => name !== main);
      expect(closing[main]).toBeLessThan(0.9 * (closing[rectifier] ?? 0));
    }
  });
  test('a recovery that is not stated is left out and said to be, and takes nothing for none', () => {
    const [other] = worstLoops(evaluated({ lowSide: { ...LOW, recoveryCharge: undefined } }));
    expect(other?.rings?.recoveryCharge).toBeUndefined();
    if (!other) throw new Error('no loop');
    expect(ringingWith(other, 5e-9)?.most).toBeLessThan(ringingWith(loop, 5e-9)?.most ?? 0);
  });
  test('its resistance is the main switch, which has just closed, and the better of two banks side by side', () => {
    const banks = [
      { capacitance: 22e-6, esr: 0.003 },
      { capacitance: 100e-6, esr: 0.4 },
    ];
    const [two] = worstLoops(evaluated({ inputCapacitors: banks, source: { inductance: 1e-6, resistance: 0.01 } }));
    expect(two?.rings?.resistance).toBeCloseTo(HIGH.onResistance + 0.003, 9);
    expect(two?.hops[0]?.elements).toHaveLength(2);
  });
  test('what turns over is the lesser of what leaves one device and what the other takes', () => {
    // With body diodes beside a dead time the current goes over in two steps, the whole of it in each.
    const [dead] = worstLoops(evaluated({}, { deadTime: 20e-9 }));
    const solved = stage.corners.flatMap(({ result }) => (result.kind === 'solved' ? [result.point] : []));
    const peak = Math.max(...solved.map(({ inductorCurrent }) => inductorCurrent.peak));
    expect((dead?.current ?? 0) / peak).toBeCloseTo(1, 2);
    expect(loop.current).toBeLessThanOrEqual(peak * (1 + 1e-9));
  });
});

describe('nets and spacing', () => {
  test('an inverting stage spans more between its nets than any of them has to ground', () => {
    const read = evaluateStage(
      complete(
        {
          topology: 'inverting-buck-boost',
          targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: -24, outputCurrent: { min: 1, max: 2 } },
        },
        { scheme: 'open-loop' },
      ).stage,
    );
    if (!read.ok) throw new Error('not evaluated');
    const nets = netsOf(read.value);
    const net = nets.find(({ node }) => node === 'in');
    expect(net?.toGround).toBeLessThan(14);
    expect(net?.apart).toBeGreaterThan(35);
    const list = layoutChecklist(read.value, worstLoops(read.value), nets);
    const highest = Math.max(...nets.map(({ apart }) => apart));
    // 36 V lies in the row where bare copper needs four times what coated copper does.
    expect(leastSpacing('bare', highest)).toBe(0.6e-3);
    expect(list.find(({ key }) => key === 'spacing')?.line).toMatch(/^Keep 600\Dµm/);
  });
  test('the choke that stands in for an ideal source carries nothing on the board', () => {
    const nets = netsOf(evaluated());
    expect(nets.map(({ carrier }) => carrier)).not.toContain('ideal feed choke');
  });
});

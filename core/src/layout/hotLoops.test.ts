import { describe, expect, test } from '@jest/globals';
import { capacitor, diode, inductor, resistor, switchBetween, voltageSource } from '../circuit/elements.js';
import { evaluateStage } from '../corners/evaluate.js';
import { solvePeriodic } from '../orbit/periodic.js';
import { at } from '../orbit/schedule.js';
import { sizeStage } from '../sizing/size.js';
import { completeStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { hotLoops, type HotLoop } from './hotLoops.js';
import { worstLoops } from './worstLoops.js';

const OUTPUT = { buck: 5, boost: 24, 'inverting-buck-boost': -12, 'four-switch-buck-boost': 12 } as const;
type Topology = keyof typeof OUTPUT;

function sized(topology: Topology, over: object) {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology,
    switchingFrequency: 300e3,
    targets: {
      inputVoltage: { min: 10, max: 14 },
      outputVoltage: OUTPUT[topology],
      outputCurrent: { min: 0.5, max: 3 },
    },
    ...over,
  });
  const found = read.ok ? sizeStage(read.value) : read;
  if (!found.ok) throw new Error(JSON.stringify(found.problems));
  return found.value;
}

function loopsAt(topology: Topology, over: object): readonly HotLoop[] {
  const complete = completeStage(sized(topology, over).evaluation.stage);
  if (!complete.ok) throw new Error('not complete');
  const point = operatingPoint(complete.value, { inputVoltage: 12, load: { kind: 'current', current: 3 } });
  if (point.kind !== 'solved') throw new Error(point.reason);
  return hotLoops(point);
}

const INPUT = ['inputCapacitor1'];
const OUT = ['outputCapacitor1'];
const LOOPS: Readonly<Record<Topology, readonly (readonly string[])[]>> = {
  buck: [INPUT],
  boost: [OUT],
  'inverting-buck-boost': [[...INPUT, ...OUT]],
  'four-switch-buck-boost': [INPUT, OUT],
};
const FORMS = [
  ['with a switch', {}],
  ['with dead time', { deadTime: 30e-9 }],
  ['with a diode', { rectifier: 'diode' }],
  ['in two phases', { phases: 2, deadTime: 30e-9 }],
  ['with sense resistors', { control: { senseResistance: 5e-3 } }],
  ['fed through a source with inductance', { parts: { source: { inductance: 1e-6, resistance: 0.01 } } }],
] as const;

describe('hot loops, from what conducts alone', () => {
  for (const topology of Object.keys(OUTPUT) as Topology[])
    for (const [words, over] of FORMS) {
      if (topology === 'four-switch-buck-boost' && 'rectifier' in over) continue;
      test(`${topology} ${words}`, () => {
        const loops = loopsAt(topology, over);
        const phases = 'phases' in over ? over.phases : 1;
        const banks = loops.map(({ hops }) => hops.flatMap(({ elements }) => elements).sort());
        expect(banks.map((one) => one.join(' ')).sort()).toEqual(
          Array.from({ length: phases }, () => LOOPS[topology])
            .flat()
            .map((one) => [...one].sort().join(' '))
            .sort(),
        );
        for (const { devices, current, rms } of loops) {
          // Both devices of a loop are of one phase.
          expect(new Set(devices.map((name) => /\d/.exec(name)?.[0])).size).toBe(1);
          expect(current).toBeGreaterThan(0);
          expect(rms).toBeGreaterThan(0);
        }
      });
    }
  test('what turns over is the current of the choke at the edge, and what blocks bears the input', () => {
    const [loop] = loopsAt('buck', {});
    const complete = completeStage(sized('buck', {}).evaluation.stage);
    if (!complete.ok || !loop) throw new Error('no loop');
    const point = operatingPoint(complete.value, { inputVoltage: 12, load: { kind: 'current', current: 3 } });
    if (point.kind !== 'solved') throw new Error(point.reason);
    expect(loop.current).toBeCloseTo(point.point.inductorCurrent.peak, 6);
    expect(Math.abs(Math.max(...Object.values(loop.blocking)) / 12 - 1)).toBeLessThan(0.02);
    expect(loop.hops.map(({ from, to }) => [from, to])).toEqual([['in', '0']]);
  });
  test('a topology that nobody drew for it: two chokes and a capacitor between them', () => {
    const circuit = {
      elements: [
        voltageSource('source', 'in', '0', 12),
        inductor('choke1', 'in', 'sw', 47e-6, 0.01),
        switchBetween('main', 'sw', '0', 0.01),
        capacitor('between', 'sw', 'mid', 10e-6, 0.005),
        inductor('choke2', 'mid', '0', 47e-6, 0.01),
        diode('rectifier', 'mid', 'out', 0.5, 0.01),
        capacitor('bank', 'out', '0', 100e-6, 0.005),
        resistor('load', 'out', '0', 10),
      ],
      couplings: [],
    };
    const result = solvePeriodic({
      circuit,
      rotation: { order: 1, next: new Map() },
      phases: [
        {
          offset: 0,
          inductor: 'choke1',
          diodes: ['rectifier'],
          intervals: [
            { start: at(0), begins: 'clock', closed: ['main'] },
            { start: at(0, 1), begins: 'command-end', closed: [], freewheel: { forward: ['rectifier'], reverse: [] } },
          ],
        },
      ],
      period: 1 / 200e3,
      control: { kind: 'duty', duty: 0.5 },
    });
    if (result.kind !== 'solved') throw new Error(result.reason);
    const loops = hotLoops({
      powerStage: { circuit, elements: { inductors: ['choke1', 'choke2'], senseResistors: [] } },
      solution: result.solution,
    });
    expect(loops).toHaveLength(1);
    expect(loops[0]?.devices).toEqual(['main', 'rectifier']);
    expect(loops[0]?.hops.flatMap(({ elements }) => elements).sort()).toEqual(['bank', 'between']);
  });
});

describe('the loops of a stage over its corners', () => {
  test('the largest current, and an edge that is fast where the record says nothing', () => {
    const evaluated = evaluateStage(sized('buck', { deadTime: 30e-9 }).evaluation.stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    const [loop] = worstLoops(evaluated.value);
    const each = evaluated.value.corners.flatMap(({ result }) => (result.kind === 'solved' ? hotLoops(result) : []));
    expect(loop?.current).toBe(Math.max(...each.map(({ current }) => current)));
    expect(loop?.corner.outputCurrent).toBe(3);
    expect(loop?.rate).toBeCloseTo((loop?.current ?? 0) / (loop?.edge ?? 1), 3);
    const bare = sized('buck', {
      parts: { highSide: { onResistance: 0.01 }, lowSide: { onResistance: 0.01 } },
    }).evaluation.stage;
    const other = evaluateStage(bare);
    if (!other.ok) throw new Error('not evaluated');
    expect(worstLoops(other.value)[0]).toMatchObject({ edge: 2e-9, edgeStated: false, rings: undefined });
  });
});

import { describe, expect, test } from '@jest/globals';
import { complete, CURRENT, VOLTAGE } from '../../testing/loopStage.js';
import type { Element } from '../circuit/elements.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { closeLoop } from '../smallsignal/closedLoop.js';
import { closedLoopNetlist } from './closedLoopNetlist.js';
import { elementLines } from './elementLines.js';
import { number } from './spiceValue.js';
import { registerLines } from './registerLines.js';
import { spiceNetlist } from './spiceNetlist.js';

const lines = (element: Partial<Element> & { readonly kind: Element['kind'] }): readonly string[] =>
  elementLines(
    { name: 'x', a: 'p', b: 'n', ...element } as Element,
    () => 3,
    () => 2,
  );
const values = (line: string | undefined): readonly string[] => (line ?? '').split(' ');

describe('elements as lines of SPICE', () => {
  test('a number keeps ten digits', () => {
    expect(number(1 / 3)).toBe('3.333333333e-1');
  });
  test('start in the state given, and nothing has less resistance than the program can divide by', () => {
    expect(lines({ kind: 'inductor', inductance: 1e-6, resistance: 0 })).toEqual([
      'l_x p x_w 1.000000000e-6 IC=2.000000000e+0',
      'r_x x_w n 1.000000000e-6',
    ]);
    expect(lines({ kind: 'capacitor', capacitance: 1e-6, esr: 0.01, esl: 0 }).at(-1)).toBe(
      'c_x x_r n 1.000000000e-6 IC=3.000000000e+0',
    );
    expect(values(lines({ kind: 'resistor', resistance: 0 })[0]).at(-1)).toBe('1.000000000e-6');
  });
  test('a series inductance has a resistor beside it that holds a stepped current to what an edge of 10 ns makes', () => {
    const [, inductance, beside, capacitance] = lines({ kind: 'capacitor', capacitance: 1e-6, esr: 0.01, esl: 1e-9 });
    expect(inductance).toBe('l_x x_r x_l 1.000000000e-9 IC=2.000000000e+0');
    expect(beside).toBe('rd_x x_r x_l 1.000000000e-1');
    expect(capacitance).toMatch(/^c_x x_l n /);
  });
  test('sources, switches, diodes and amplifiers', () => {
    expect(lines({ kind: 'voltageSource', voltage: 12 })).toEqual(['v_x p n DC 1.200000000e+1']);
    expect(lines({ kind: 'currentSource', current: -1 })).toEqual(['i_x p n DC -1.000000000e+0']);
    expect(lines({ kind: 'switch', onResistance: 0.01 })[0]).toBe('s_x p n g_x 0 m_x');
    expect(lines({ kind: 'diode', forwardVoltage: 0.4, dynamicResistance: 0.02 })).toHaveLength(4);
    expect(lines({ kind: 'transconductor', plus: 'a', minus: 'b', transconductance: 1e-3 })).toEqual([
      'g_x p n a b 1.000000000e-3',
    ]);
    expect(lines({ kind: 'currentSense', inductor: 'inductor1', gain: 0.05 })[0]).toContain('i(l_inductor1)');
    expect(lines({ kind: 'idealAmplifier', plus: 'a', minus: 'b' })[0]).toMatch(/^e_x p n a b /);
  });
});

describe('registers as sample-and-hold pairs', () => {
  const updates = [
    { at: 0, assignments: [{ capacitor: 'acts', terms: [{ node: 'pending', weight: 1 }] }] },
    {
      at: 0.75,
      assignments: [
        {
          capacitor: 'pending',
          terms: [
            { node: 'acts', weight: 0.5 },
            { node: 'e', weight: -2 },
          ],
        },
      ],
    },
  ];
  const made = registerLines(updates, 2e-6, (name) => (name === 'acts' ? 0.3 : 0.4));
  test('each follows its sum until its instant, and hands it on after', () => {
    const pulse = (name: string): number =>
      Number(/PULSE\(0 1 (\S+)/.exec(made.find((line) => line.startsWith(`v${name} `)) ?? '')?.[1]);
    // At the clock: taken just before the next one, given right after it.
    expect(pulse('take_1')).toBeGreaterThan(1.99e-6);
    expect(pulse('give_1')).toBeGreaterThan(0);
    expect(pulse('take_2')).toBeLessThan(1.5e-6);
    expect(pulse('give_2')).toBeGreaterThan(1.5e-6);
    expect(made.find((line) => line.startsWith('bn_pending'))).toMatch(/5\.0+e-1\*v\(acts\) \+ -2\.0+e\+0\*v\(e\)$/);
  });
  test('all begin where they are told', () => {
    const held = made.filter((line) => line.startsWith('ch_'));
    expect(held.map((line) => line.split('IC=')[1])).toEqual(['3.000000000e-1', '4.000000000e-1']);
  });
  test('without updates there is nothing to write', () => {
    expect(registerLines([], 2e-6, () => 0)).toEqual([]);
  });
});

describe('whole netlists', () => {
  const condition = { inputVoltage: 12, load: { kind: 'current' as const, current: 8 } };
  const written = (over: object, control: object, amplitude?: number): string => {
    const stage = complete(over, control);
    const point = operatingPoint(stage, condition);
    if (point.kind !== 'solved') throw new Error(point.reason);
    const closed = closeLoop(stage, condition, point);
    if (closed.kind !== 'closed') throw new Error(closed.reason);
    const injection = amplitude === undefined ? undefined : { frequency: 25e3, amplitude };
    const made = closedLoopNetlist('a\nname', closed.loop, stage.stage.deadTime, injection);
    if (!made.ok) throw new Error(made.reason);
    return made.text;
  };
  test('one clock, ramp and latch for each phase, and a name of one line', () => {
    const text = written({ phases: 3 }, CURRENT);
    expect(text.match(/^vclk_/gm)).toHaveLength(3);
    expect(text.match(/^cq_/gm)).toHaveLength(3);
    expect(text.split('\n')[0]).toBe('* a name: closed loop');
    expect(text).toContain('i(l_inductor2)');
  });
  test('a sine runs long enough for its beginning to die away', () => {
    const end = (text: string): number => Number(/^\.tran \S+ (\S+)/m.exec(text)?.[1]);
    expect(end(written({}, VOLTAGE, 1e-3))).toBeGreaterThan(end(written({}, VOLTAGE)));
    expect(written({}, VOLTAGE, 1e-3)).toMatch(/^v_injection out dividerTop SIN\(0 1\.0+e-3 2\.50+e\+4\)/m);
    expect(written({}, VOLTAGE)).toMatch(/^v_injection out dividerTop DC 0/m);
  });
  test('legs that switch each in their own time are not written, and the reason is', () => {
    const over = {
      topology: 'four-switch-buck-boost',
      targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 12, outputCurrent: { max: 8 } },
    };
    const integrator = { network: 'integrator', components: { rUpper: 190e3, rLower: 10e3, cZero: 1e-6 } };
    const legs = { outputHighSide: { onResistance: 0.01 }, outputLowSide: { onResistance: 0.01 } };
    const stage = complete(over, { ...VOLTAGE, compensator: integrator }, legs);
    const point = operatingPoint(stage, condition);
    if (point.kind !== 'solved') throw new Error(point.reason);
    const closed = closeLoop(stage, condition, point);
    if (closed.kind !== 'closed') throw new Error(closed.reason);
    expect(closedLoopNetlist('x', closed.loop, 0)).toEqual({
      ok: false,
      reason: 'the netlist of legs that switch each in its own time is not written',
    });
    expect(spiceNetlist('x', point)).toContain('vg_highSide1 g_highSide1 0 PULSE');
  });
});

import { describe, expect, test } from '@jest/globals';
import { runNetlist } from '../../testing/ngspice.js';
import { evaluateStage } from '../corners/evaluate.js';
import { complete } from '../../testing/loopStage.js';
import {
  CONDUCTOR_K,
  conductorCurrent,
  conductorWidth,
  openLoopInductance,
  planeLoopInductance,
} from './conductorForms.js';
import { netsOf } from './nets.js';
import { ringingOf, takeoverOf, transitTime } from './ringing.js';
import { leastSpacing, SPACING_COLUMNS, type SpacingColumn } from './spacing.js';

describe('ringing of a loop', () => {
  // The whole of it in the simulator: the diode carries the current and is turned off, its charge by the transit time of its model.
  test.each([
    [8e-9, 0.05, 600e-12, 12, 4e-9, 6, 0],
    [3e-9, 0.1, 1e-9, 48, 1e-9, 5, 20e-9],
    [20e-9, 0.3, 300e-12, 400, 10e-9, 4, 60e-9],
    [30e-9, 0.1, 300e-12, 12, 1e-9, 8, 10e-9],
  ])(
    '%d H, %d Ω, %d F: overshoot as in ngspice',
    async (inductance, resistance, capacitance, blocked, edge, current, recoveryCharge) => {
      const loop = { inductance, resistance, capacitance, blocked, edge, current, recoveryCharge };
      const { overshoot, frequency } = ringingOf(loop);
      const takeover = takeoverOf(loop);
      const { held, time, surplus } = takeover;
      // What blocks in the end is what the resistance leaves of it, as in the stage; the gate lets the current rise whatever it takes.
      const [from, to] = [held + resistance * (current + surplus), blocked + resistance * current];
      const rest = Math.max(takeover.rest, 1e-13);
      const transit = Math.max(transitTime(takeover), 1e-15);
      const start = 20 * transit + 1e-9;
      const released = start + time;
      const end = released + rest + 3 / frequency;
      const netlist = [
        '* a loop that rings',
        `v_drive a 0 PWL(0 0 ${String(start)} 0 ${String(start + 1e-12)} ${String(held)} ${String(released)} ${String(from)} ${String(released + rest)} ${String(to)})`,
        `r_loop a b ${String(resistance)}`,
        `l_loop b c ${String(inductance)} IC=0`,
        `c_device c 0 ${String(capacitance)} IC=0`,
        `i_choke c 0 ${String(current)}`,
        'd_device 0 c ideal',
        `.model ideal D(IS=1e-12 N=0.005 TT=${String(transit)})`,
        `.tran ${String(end / 20000)} ${String(end)} 0 ${String(end / 20000)} uic`,
        `.meas tran peak MAX v(c)`,
        '.end',
        '',
      ].join('\n');
      const peak = (await runNetlist(netlist))('peak');
      expect(Math.abs((blocked + overshoot) / peak - 1)).toBeLessThan(0.02);
      expect(Math.abs(overshoot / (peak - blocked) - 1)).toBeLessThan(0.05);
    },
  );
  const loop = {
    inductance: 5e-9,
    resistance: 1e-6,
    capacitance: 500e-12,
    blocked: 12,
    current: 0.01,
    recoveryCharge: 0,
  };
  test('none where the resistance damps it, all of the voltage without resistance and with no time for the edge', () => {
    expect(ringingOf({ ...loop, resistance: 7, edge: 1e-15 }).overshoot).toBe(0);
    expect(ringingOf({ ...loop, edge: 1e-15 }).overshoot).toBeCloseTo(12, 2);
    // An edge as long as a period of the ring leaves nothing to ring with.
    const { frequency } = ringingOf({ ...loop, edge: 1e-9 });
    expect(ringingOf({ ...loop, edge: 1 / frequency }).overshoot).toBeLessThan(0.02);
    // However edge and recovery fall together, it is never more than said.
    for (let k = 1; k < 60; k += 1) {
      const own = { ...loop, resistance: 0.02, edge: k * 0.2e-9, current: k % 7, recoveryCharge: (k % 5) * 1e-9 };
      const { overshoot, most } = ringingOf({ ...own, current: 0.01 + own.current });
      expect(overshoot).toBeLessThanOrEqual(most * (1 + 1e-9));
      expect(overshoot).toBeGreaterThan(0);
    }
  });
  test('the gate lets the current rise, or the inductance does; the recovery goes by that', () => {
    const slow = takeoverOf({ ...loop, edge: 10e-9, current: 5, recoveryCharge: 4e-9 });
    expect(slow).toMatchObject({ rate: 0.5e9, surplus: 2, held: 2.5 });
    expect(slow.time).toBeCloseTo(14e-9, 18);
    const quick = takeoverOf({ ...loop, edge: 1e-12, current: 5, recoveryCharge: 4e-9 });
    expect(quick.rate / (12 / 5e-9)).toBeCloseTo(1, 12);
    expect(quick).toMatchObject({ held: 12, rest: 0 });
  });
});

describe('conductors', () => {
  test('width and current are one chart both ways', () => {
    const width = conductorWidth.compute({ current: 4, rise: 20, thickness: 70e-6, k: CONDUCTOR_K.internal });
    expect(conductorCurrent.compute({ area: width * 70e-6, rise: 20, k: CONDUCTOR_K.internal })).toBeCloseTo(4, 9);
  });
  test('a loop is less over a plane, and a square of thin wire is that of the textbook', () => {
    // F. W. Grover, Inductance Calculations, ch. 8, a square of round wire: (2μ₀a/π)(ln(a/r) − 0.774), from memory
    const [a, width] = [0.1, 1e-3];
    const square = ((2 * 4e-7 * Math.PI * a) / Math.PI) * (Math.log(a / (0.2235 * width)) - 0.774);
    expect(openLoopInductance.compute({ length: a, breadth: a, width }) / square).toBeCloseTo(1, 3);
    const flat = planeLoopInductance.compute({ length: 0.02, width: 5e-3, height: 0.2e-3 });
    // Wide over a near plane it tends to that of a parallel-plate line, μ₀ l h/w.
    expect(planeLoopInductance.compute({ length: 1, width: 1, height: 1e-4 }) / (4e-7 * Math.PI * 1e-4)).toBeCloseTo(
      1,
      2,
    );
    expect(flat).toBeLessThan(openLoopInductance.compute({ length: 0.01, breadth: 0.01, width: 5e-3 }));
    // Both forms of the line meet where width and height are equal.
    const [below, above] = [0.999999, 1].map((w) => planeLoopInductance.compute({ length: 1, width: w, height: 1 }));
    expect(Math.abs((below ?? 0) / (above ?? 1) - 1)).toBeLessThan(0.01);
  });
  test('spacing never falls with the voltage, in no column', () => {
    for (const column of Object.keys(SPACING_COLUMNS) as SpacingColumn[])
      for (let voltage = 1; voltage < 1200; voltage += 1)
        expect(leastSpacing(column, voltage)).toBeGreaterThanOrEqual(leastSpacing(column, voltage - 1));
    expect(leastSpacing('bare', -48)).toBe(leastSpacing('bare', 48));
  });
});

describe('nets of a stage', () => {
  const evaluated = evaluateStage(complete({}).stage);
  if (!evaluated.ok) throw new Error('not evaluated');
  const nets = netsOf(evaluated.value);
  const net = (node: string) => nets.find((one) => one.node === node);
  test('the switch node carries the choke and swings to the input; ground carries the most', () => {
    const solved = evaluated.value.corners.flatMap(({ result }) => (result.kind === 'solved' ? [result.point] : []));
    const choke = Math.max(...solved.map(({ inductorCurrent }) => inductorCurrent.rms));
    const switchNode = nets.find(({ words }) => words.startsWith('switch node'));
    expect(switchNode?.current).toBeCloseTo(choke, 6);
    expect(switchNode?.toGround).toBeGreaterThan(11.5);
    expect(net('out')?.carrier).toContain('inductor');
    expect(net('0')?.current).toBeGreaterThan(0);
    expect(net('in')?.apart).toBeGreaterThanOrEqual(net('in')?.toGround ?? Infinity);
  });
});

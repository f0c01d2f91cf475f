import { describe, expect, test } from '@jest/globals';
import { dot, product } from '../linalg/dense.js';
import { propagator } from '../linalg/propagator.js';
import {
  capacitor,
  currentSource,
  diode,
  inductor,
  resistor,
  switchBetween,
  voltageSource,
  type Circuit,
  type Element,
} from './elements.js';
import type { Rows } from './rows.js';
import { stateEquations } from './stateEquations.js';
import { UnsolvableCircuitError } from './unsolvable.js';

const circuit = (...elements: Element[]): Circuit => ({ elements, couplings: [] });

/** State after a time, from an initial state (without the constant). */
function after(c: Circuit, conducting: readonly string[], x0: readonly number[], time: number) {
  const equations = stateEquations(c, new Set(conducting));
  const size = equations.order + 1;
  let z: Float64Array = Float64Array.from([...x0, 1]);
  if (equations.entry) z = product(equations.entry, z, size, size, 1);
  return { equations, z: product(propagator(equations.dynamics, size, time).phi, z, size, size, 1) };
}
const row = (rows: Rows, name: string): Float64Array => {
  const found = rows.get(name);
  if (!found) throw new Error(name);
  return found;
};

describe('state equations against the textbook solutions of small circuits', () => {
  test('RC charging: v = V (1 − e^(−t/RC))', () => {
    const rc = circuit(voltageSource('v', 'a', '0', 10), resistor('r', 'a', 'b', 1e3), capacitor('c', 'b', '0', 1e-6));
    const { equations, z } = after(rc, [], [0], 0.7e-3);
    expect(dot(row(equations.node, 'b'), z)).toBeCloseTo(10 * (1 - Math.exp(-0.7)), 10);
    expect(dot(row(equations.current, 'v'), z)).toBeCloseTo((-10 / 1e3) * Math.exp(-0.7), 12);
  });
  test('LC ringing: energy stays, and a quarter period exchanges voltage and current', () => {
    const lc = circuit(inductor('l', 'a', '0', 1e-6), capacitor('c', 'a', '0', 1e-6));
    const { z } = after(lc, [], [5, 0], (Math.PI / 2) * 1e-6);
    expect(z[0]).toBeCloseTo(0, 9);
    expect(z[1]).toBeCloseTo(5, 9);
  });
  test('a capacitor with ESR and ESL is the same as its three parts drawn apart', () => {
    const drive = [voltageSource('v', 'a', '0', 3), resistor('r', 'a', 'b', 0.5)];
    const whole = circuit(...drive, capacitor('c', 'b', '0', 1e-6, 0.02, 2e-9));
    const apart = circuit(
      ...drive,
      inductor('l', 'b', 'm', 2e-9),
      resistor('e', 'm', 'n', 0.02),
      capacitor('c', 'n', '0', 1e-6),
    );
    const one = after(whole, [], [0.5, 0.1], 30e-9);
    const other = after(apart, [], [0.5, 0.1], 30e-9);
    expect(dot(row(one.equations.node, 'b'), one.z)).toBeCloseTo(dot(row(other.equations.node, 'b'), other.z), 10);
  });
  test('coupled inductors in series aiding: L1 + L2 + 2M', () => {
    const pair: Circuit = {
      elements: [voltageSource('v', 'a', '0', 1), inductor('l1', 'a', 'b', 4e-6), inductor('l2', 'b', '0', 9e-6)],
      couplings: [{ first: 'l1', second: 'l2', coefficient: 0.5 }],
    };
    const { z } = after(pair, [], [0, 0], 1e-6);
    expect(z[0]).toBeCloseTo(1e-6 / (4e-6 + 9e-6 + 2 * 0.5 * 6e-6), 9);
    expect(z[1]).toBeCloseTo(z[0] ?? NaN, 12);
  });
});

describe('circuits whose states are not free', () => {
  test('two capacitors switched together share their charge at once', () => {
    const c = circuit(
      capacitor('c1', 'a', '0', 1e-6),
      capacitor('c2', 'b', '0', 3e-6),
      switchBetween('s', 'a', 'b', 0),
    );
    const { z } = after(c, ['s'], [8, 0], 0);
    expect(z[0]).toBeCloseTo(2, 10);
    expect(z[1]).toBeCloseTo(2, 10);
  });
  test('a capacitor across a voltage source takes its voltage', () => {
    const c = circuit(voltageSource('v', 'a', '0', 5), capacitor('c', 'a', '0', 1e-6), resistor('r', 'a', '0', 10));
    const { z, equations } = after(c, [], [1], 1e-6);
    expect(z[0]).toBeCloseTo(5, 10);
    expect(dot(row(equations.current, 'c'), z)).toBeCloseTo(0, 9);
  });
  test('two inductors in series carry one current, found with the flux conserved', () => {
    const c = circuit(voltageSource('v', 'a', '0', 1), inductor('l1', 'a', 'b', 1e-6), inductor('l2', 'b', '0', 3e-6));
    const { z } = after(c, [], [4, 0], 0);
    expect(z[0]).toBeCloseTo(1, 10);
    expect(z[1]).toBeCloseTo(1, 10);
  });
  test('an idle switch node: no current flows and the node follows the output', () => {
    const c = circuit(
      voltageSource('v', 'in', '0', 12),
      switchBetween('s', 'in', 'sw', 0.01),
      diode('d', '0', 'sw', 0.5, 0.01),
      inductor('l', 'sw', 'out', 1e-6),
      capacitor('c', 'out', '0', 1e-6),
      resistor('r', 'out', '0', 10),
    );
    const { z, equations } = after(c, [], [5, 0.3], 1e-6);
    expect(z[1]).toBeCloseTo(0, 12);
    expect(dot(row(equations.node, 'sw'), z)).toBeCloseTo(dot(row(equations.node, 'out'), z), 9);
  });
  test('contradicting sources are refused by name', () => {
    const c = circuit(voltageSource('battery', 'a', '0', 5), voltageSource('panel', 'a', '0', 6));
    expect(() => stateEquations(c, new Set())).toThrow(UnsolvableCircuitError);
    expect(() => stateEquations(c, new Set())).toThrow(/battery.*panel/);
    const stuck = circuit(currentSource('pump', '0', 'a', 1), switchBetween('s', 'a', '0', 0.1));
    expect(() => stateEquations(stuck, new Set())).toThrow(/pump/);
  });
});

import type { Complex } from '../linalg/complex.js';
import { ComplexSystem } from '../linalg/complexDense.js';
import { zeros } from '../linalg/zeros.js';
import type { Circuit } from './elements.js';
import { diodesIn, isSource } from './elements.js';
import { sourcedEquations } from './stateEquations.js';

/** The response of a node voltage to a source, in a circuit in which nothing switches. */
export function linearResponse(circuit: Circuit, source: string, nodeName: string): (frequency: number) => Complex {
  const { order, dynamics, node } = sourcedEquations(circuit, new Set(diodesIn(circuit.elements)));
  const width = dynamics.length / Math.max(1, order);
  const row = node.get(nodeName);
  const column = order + circuit.elements.filter(isSource).findIndex(({ name }) => name === source);
  if (!row || column < order) throw new Error(`The circuit has no node ${nodeName} or no source ${source}.`);
  const system = new ComplexSystem(order);
  const xr = zeros(order);
  const xi = zeros(order);
  return (frequency) => {
    const omega = 2 * Math.PI * frequency;
    for (let i = 0; i < order; i += 1) {
      for (let j = 0; j < order; j += 1) {
        system.re[i * order + j] = -(dynamics[i * width + j] as number);
        system.im[i * order + j] = i === j ? omega : 0;
      }
      xr[i] = dynamics[i * width + column] as number;
      xi[i] = 0;
    }
    system.factorise();
    system.solve(xr, xi);
    let re = row[column] as number;
    let im = 0;
    for (let i = 0; i < order; i += 1) {
      re += (row[i] as number) * (xr[i] as number);
      im += (row[i] as number) * (xi[i] as number);
    }
    return { re, im };
  };
}

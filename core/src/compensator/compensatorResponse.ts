import { GROUND, voltageSource, type Circuit } from '../circuit/elements.js';
import { sourcedEquations } from '../circuit/stateEquations.js';
import type { Complex } from '../linalg/complex.js';
import { ComplexSystem } from '../linalg/complexDense.js';
import { zeros } from '../linalg/zeros.js';
import { compensatorElements, LOOP, type CompleteCompensator } from './compensatorCircuit.js';

/**
 * From output to control voltage through divider, amplifier and network, from the same drawing as the closed loop's, with the
 * sign that makes the loop gain plant times compensator.
 */
export function compensatorResponse(compensator: CompleteCompensator): (frequency: number) => Complex {
  const circuit: Circuit = {
    elements: [voltageSource('drive', 'out', GROUND, 0), ...compensatorElements(compensator, 'out', 1)],
    couplings: [],
  };
  const { order, dynamics, node } = sourcedEquations(circuit, new Set());
  const width = dynamics.length / Math.max(1, order);
  const control = node.get(LOOP.control);
  if (!control) throw new Error('The compensator has no control node.');
  // The drive is the first of the sources.
  const column = order;
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
    let re = control[column] as number;
    let im = 0;
    for (let i = 0; i < order; i += 1) {
      re += (control[i] as number) * (xr[i] as number);
      im += (control[i] as number) * (xi[i] as number);
    }
    return { re: -re, im: -im };
  };
}

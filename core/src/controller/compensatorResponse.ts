import { GROUND, voltageSource, type Circuit } from '../circuit/elements.js';
import { linearResponse } from '../circuit/linearResponse.js';
import { scaled, type Complex } from '../linalg/complex.js';
import { compensatorElements, type CompleteCompensator } from './compensatorCircuit.js';
import { LOOP } from './loopNames.js';

/**
 * From output to control voltage through divider, amplifier and network, from the same drawing as the closed loop's, with the
 * sign that makes the loop gain plant times compensator.
 *
 * @public
 */
export function compensatorResponse(compensator: CompleteCompensator): (frequency: number) => Complex {
  const circuit: Circuit = {
    elements: [voltageSource('drive', 'out', GROUND, 0), ...compensatorElements(compensator, 'out', 1)],
    couplings: [],
  };
  const response = linearResponse(circuit, 'drive', LOOP.control);
  return (frequency) => scaled(response(frequency), -1);
}

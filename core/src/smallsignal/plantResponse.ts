import { scaled, type Complex } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { openOrbit } from './openOrbit.js';
import { linearPeriod } from './linearPeriod.js';
import { nodeProbe, OrbitResponse } from './response.js';

/**
 * Control voltage to output of a solved stage with its modulator, and with its current loop where it has one, exact about the
 * orbit: the control voltage at the comparator, or at the current amplifier where there is one. The words for what is missing
 * where the stage says too little of its control.
 *
 * @public
 */
export function plantResponse(
  complete: CompleteStage,
  condition: OperatingCondition,
  solved: SolvedCircuit,
): ((frequency: number) => Complex) | string {
  const orbit = openOrbit(complete, condition, solved);
  if (typeof orbit === 'string') return orbit;
  const { disturbance } = orbit;
  const response = new OrbitResponse(linearPeriod(orbit, disturbance.kind === 'source' ? 'all' : 'current'));
  const probes = [nodeProbe(orbit.outputNode)];
  const { sign } = orbit.comparator;
  return (frequency) => {
    const [out = { re: NaN, im: NaN }] = response.at(frequency, disturbance, probes);
    // The comparator takes its threshold turned over for a negative output; a source at the node is what it is.
    return disturbance.kind === 'threshold' ? scaled(out, sign) : out;
  };
}

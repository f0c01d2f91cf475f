import { diodesIn, type Circuit } from '../circuit/elements.js';
import { stateEquations } from '../circuit/stateEquations.js';
import { dot } from '../linalg/dense.js';
import { propagator, stateAfter } from '../linalg/propagator.js';
import { zeros } from '../linalg/zeros.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import { inputSide } from '../powerstage/surroundings.js';
import type { CompleteStage } from '../stage/completeStage.js';

/** Leads of half a metre, out and back, where no source is stated. Common practice: about 1 µH and 20 mΩ to the metre. */
const LEADS = { inductance: 0.5e-6, resistance: 10e-3 };
/** Instants looked at in a period of the slowest resonance, and periods watched. */
const STEPS = 400;
const PERIODS = 2;

/** A supply put on at once. @public */
export interface HotPlug {
  /** Highest voltage at the input of the switches, V. */
  readonly peak: number;
  /** Inductance between the supply and the stage, H, and whether the stage states it; with that of the filter. */
  readonly inductance: number;
  readonly total: number;
  readonly stated: boolean;
}

/**
 * What the input of a stage rings to when its supply is put on at once, every state at zero and no switch closed: the exact response of
 * source, filter and input capacitors, these at the bias of the supply, through the precharge where there is one, no higher than the
 * suppressor clamps. Without loss it is twice the supply.
 *
 * @returns undefined where the stage has no input capacitors.
 * @public
 */
export function hotPlug(complete: CompleteStage, inputVoltage: number): HotPlug | undefined {
  if (complete.inputCapacitors.length === 0) return undefined;
  const { stage } = complete;
  const { source, inputFilter, precharge, suppressor } = stage.parts;
  const stated = source !== undefined && source.inductance > 0;
  const leads = stated ? source : { ...LEADS, resistance: Math.max(LEADS.resistance, source?.resistance ?? 0) };
  // Whatever charges the input first is in the line while it is plugged in.
  const feed = { ...leads, resistance: leads.resistance + (precharge?.resistance ?? 0) };
  const circuit: Circuit = {
    elements: inputSide({ ...complete, stage: { ...stage, parts: { ...stage.parts, source: feed } } }, inputVoltage),
    couplings: [],
  };
  const capacitance = capacitanceOf(complete.inputCapacitors, inputVoltage);
  const inductance = feed.inductance + (inputFilter?.inductance ?? 0);
  const period = 2 * Math.PI * Math.sqrt(inductance * (capacitance + (inputFilter?.damping?.capacitance ?? 0)));
  const { dynamics, order, node } = stateEquations(circuit, new Set(diodesIn(circuit.elements)));
  const row = node.get('in');
  if (!row) throw new RangeError('The input side has no node "in".');
  const n = order + 1;
  const [excess] = propagator(dynamics, n, period / STEPS).excess;
  if (!excess) throw new RangeError('The input side has no propagator.');
  let state = zeros(n);
  state[order] = 1;
  let peak = 0;
  for (let step = 0; step < PERIODS * STEPS; step += 1) {
    state = stateAfter(state, n, excess);
    peak = Math.max(peak, dot(row, state));
  }
  return {
    peak: Math.min(peak, suppressor?.clampingVoltage ?? Infinity),
    inductance: feed.inductance,
    total: inductance,
    stated,
  };
}

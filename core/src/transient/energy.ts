import type { Element } from '../circuit/elements.js';
import { stateLayout } from '../circuit/stateLayout.js';
import { LOOP } from '../controller/loopNames.js';
import { bilinear } from '../linalg/dense.js';
import { inductanceCurveOf } from '../parts/inductanceCurve.js';
import { LOAD_TEST } from '../smallsignal/loopCircuit.js';
import type { Configuration } from './configuration.js';
import type { Moments } from './moments.js';
import { SHORT, type SimulatedStage } from './simulatedStage.js';

/** Where the energy of a run went, J. @public */
export interface EnergyBalance {
  /** Out of the source. */
  readonly source: number;
  readonly load: number;
  readonly losses: number;
  /** Drawn from the power stage by the controller. */
  readonly control: number;
  /** More in capacitors and inductors than at time 0. */
  readonly stored: number;
  /** What is left of the source's energy when all others are taken from it. */
  readonly residual: number;
  /** Losses by element. */
  readonly byElement: Readonly<Record<string, number>>;
}

const LOADS = new Set(['load', LOAD_TEST, 'loadSlope', SHORT]);
/** Elements of the controller through which it draws from the power stage. */
const DRAWS = new Set<string>([LOOP.injection, 'rippleResistor']);

/** The energy in the capacitors and inductors of the power stage, J. */
export function storedIn(
  { circuits, saturating, biased, complete }: SimulatedStage,
  power: ReadonlySet<string>,
): (z: Float64Array) => number {
  const circuit = circuits.free;
  const curve = saturating.length > 0 ? inductanceCurveOf(complete.inductor) : undefined;
  const banks = new Map(biased.map(({ name, energy }) => [name, energy] as const));
  const curved = new Set(saturating.map(({ state }) => state));
  const { indexOfCapacitor, indexOfInductor } = stateLayout(circuit);
  const state = (z: Float64Array, index: number | undefined): number => (index === undefined ? 0 : (z[index] ?? 0));
  const inductances = new Map(
    circuit.elements.flatMap((e) => (e.kind === 'inductor' ? [[e.name, e.inductance] as const] : [])),
  );
  return (z) => {
    let sum = 0;
    for (const e of circuit.elements) {
      if (!power.has(e.name)) continue;
      const current = state(z, indexOfInductor.get(e.name));
      if (e.kind === 'capacitor') {
        const voltage = state(z, indexOfCapacitor.get(e.name));
        sum += banks.get(e.name)?.(voltage) ?? (e.capacitance * voltage ** 2) / 2;
        sum += (e.esl * current ** 2) / 2;
      }
      if (e.kind !== 'inductor') continue;
      sum +=
        curve && curved.has(indexOfInductor.get(e.name) ?? -1)
          ? curve.energy(current)
          : (e.inductance * current ** 2) / 2;
    }
    for (const { first, second, coefficient } of circuit.couplings) {
      const mutual = coefficient * Math.sqrt((inductances.get(first) ?? 0) * (inductances.get(second) ?? 0));
      sum += mutual * state(z, indexOfInductor.get(first)) * state(z, indexOfInductor.get(second));
    }
    return sum;
  };
}

/** What an element turns into heat over a configuration's second moment, J. */
function heatOf(e: Element, configuration: Configuration, moment: Float64Array): number {
  const through = configuration.current(e.name);
  if (e.kind === 'switch' || e.kind === 'diode' || e.kind === 'resistor')
    return bilinear(configuration.voltage(e.name), moment, through);
  const resistance = e.kind === 'inductor' ? e.resistance : e.kind === 'capacitor' ? e.esr : 0;
  return resistance === 0 ? 0 : resistance * bilinear(through, moment, through);
}

/** Names of the elements that are the power stage's, not the controller's. */
export function powerElements({ controller, circuits }: SimulatedStage): ReadonlySet<string> {
  const control = new Set(
    controller ? [...controller.inner.elements, ...controller.elements].map(({ name }) => name) : [],
  );
  return new Set(circuits.free.elements.flatMap(({ name }) => (control.has(name) ? [] : [name])));
}

/** The energy balance of a run from its second moments: every part is worked by itself, so that the residual is a check. */
export function energyBalance(
  drawn: SimulatedStage,
  moments: Moments,
  first: Float64Array,
  last: Float64Array,
): EnergyBalance {
  const power = powerElements(drawn);
  const stored = storedIn(drawn, power);
  let source = 0;
  let load = 0;
  let control = 0;
  const heat = new Map<string, number>();
  const add = (name: string, energy: number): void => void heat.set(name, (heat.get(name) ?? 0) + energy);
  for (const [configuration, moment] of moments.integrals()) {
    const absorbed = (name: string): number =>
      bilinear(configuration.voltage(name), moment, configuration.current(name));
    for (const e of drawn.circuits.free.elements) {
      if (e.name === drawn.powerStage.elements.source) source -= absorbed(e.name);
      else if (LOADS.has(e.name)) load += absorbed(e.name);
      else if (DRAWS.has(e.name)) control += bilinear(configuration.node(e.a), moment, configuration.current(e.name));
      else if (power.has(e.name)) add(e.name, heatOf(e, configuration, moment));
    }
  }
  for (const { before, after } of moments.jumps) add('commutation', stored(before) - stored(after));
  const losses = [...heat.values()].reduce((sum, energy) => sum + energy, 0);
  const kept = stored(last) - stored(first);
  return {
    source,
    load,
    losses,
    control,
    stored: kept,
    residual: source - load - losses - control - kept,
    byElement: Object.fromEntries([...heat].filter(([, energy]) => energy !== 0)),
  };
}

import { paralleledMosfet } from './paralleledMosfet.js';
import { good, refused, type Problem, type Result } from '../result.js';
import type { CapacitorBank, Diode, Inductor, Mosfet } from './partsSchema.js';
import { topologyOf } from '../topology/topologies.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { Stage } from './schema.js';

/** The device that carries the current while the main switch is off. */
export type Rectifier =
  { readonly kind: 'switch'; readonly mosfet: Mosfet } | { readonly kind: 'diode'; readonly diode: Diode };

/** A main switch and what carries the inductor current while it is off, by their places in the stage file. */
export interface Leg {
  readonly mainPlace: SwitchPlace;
  readonly rectifierPlace: SwitchPlace;
  readonly main: Mosfet;
  readonly rectifier: Rectifier;
}

/** A stage with every part that its circuit needs. @public */
export interface CompleteStage {
  readonly stage: Stage;
  /** Hz, of the pulses. */
  readonly switchingFrequency: number;
  /** Hz, of the control: pulses come more slowly where some are skipped. */
  readonly clock: number;
  /** Whether a rectifying switch opens where its current would turn round, as a diode does. */
  readonly diodeEmulation: boolean;
  /** Whether body diodes are drawn without a dead time too: where both switches of a leg may stay open. */
  readonly bodyDiodes?: boolean;
  readonly inductor: Inductor;
  readonly outputCapacitors: readonly CapacitorBank[];
  readonly inputCapacitors: readonly CapacitorBank[];
  /** In the order of its topology. */
  readonly legs: readonly Leg[];
}

/** @public */
export const SWITCH_WORDS: Readonly<Record<SwitchPlace, string>> = {
  highSide: 'high-side switch',
  lowSide: 'low-side switch',
  outputHighSide: 'output high-side switch',
  outputLowSide: 'output low-side switch',
};

/** Resistance in the way of the current of each inductor, Ω: its winding and the sense resistor. */
export const seriesResistance = ({ inductor, stage }: CompleteStage): number =>
  inductor.resistance + (stage.control.senseResistance ?? 0);

const missing = (path: string, quantity: string): Problem => ({
  code: 'missing',
  path,
  quantity,
  expected: 'it in the file, or let `size` choose it',
});

/** The stage with its parts at hand, or the list of what has not been chosen yet. @public */
export function completeStage(stage: Stage): Result<CompleteStage> {
  const { parts, rectifier } = stage;
  const { inductor, outputCapacitors, diode } = parts;
  const problems: Problem[] = [];
  const switchAt = (place: SwitchPlace): Mosfet | undefined => {
    const found = parts[place];
    if (!found) problems.push(missing(`parts.${place}`, SWITCH_WORDS[place]));
    return found && paralleledMosfet(found);
  };
  if (stage.switchingFrequency === undefined) problems.push(missing('switchingFrequency', 'switching frequency'));
  if (!inductor) problems.push(missing('parts.inductor', 'inductor'));
  if (!outputCapacitors) problems.push(missing('parts.outputCapacitors', 'list of output capacitors'));
  if (rectifier === 'diode' && !diode) problems.push(missing('parts.diode', 'rectifier diode'));
  const legs = topologyOf(stage).legs.flatMap((places): Leg[] => {
    const main = switchAt(places.main);
    const mosfet = rectifier === 'synchronous' ? switchAt(places.rectifier) : undefined;
    const carried: Rectifier | undefined = mosfet
      ? { kind: 'switch', mosfet }
      : diode
        ? { kind: 'diode', diode }
        : undefined;
    return main && carried
      ? [{ mainPlace: places.main, rectifierPlace: places.rectifier, main, rectifier: carried }]
      : [];
  });
  if (problems.length > 0 || !inductor || !outputCapacitors || stage.switchingFrequency === undefined)
    return refused(...problems);
  return good({
    stage,
    switchingFrequency: stage.switchingFrequency,
    clock: stage.switchingFrequency,
    diodeEmulation: false,
    inductor,
    outputCapacitors,
    inputCapacitors: parts.inputCapacitors ?? [],
    legs,
  });
}

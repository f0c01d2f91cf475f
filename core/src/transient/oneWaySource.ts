import { diode, type Element } from '../circuit/elements.js';
import type { PowerStage } from '../powerstage/powerStage.js';

/** The rectifier that a source which cannot sink stands for. */
export const SOURCE_DIODE = 'sourceDiode';
/** What of a supply and its leads is in the way, ohm, where no impedance of the source is stated: common practice. */
const LEADS = 0.01;
const BEHIND = 'oneWay';

/**
 * The elements of a stage with a source that gives current and takes none, as a bench supply or a rectifier does. What a stage sends back
 * stays on its input capacitors, which are drawn then beside a stiff source too.
 */
export function withOneWaySource(
  elements: readonly Element[],
  { circuit, elements: named }: Pick<PowerStage, 'circuit' | 'elements'>,
): readonly Element[] {
  return [
    ...elements.flatMap((e) =>
      e.name === named.source ? [{ ...e, a: BEHIND }, diode(SOURCE_DIODE, BEHIND, e.a, 0, LEADS)] : [e],
    ),
    ...idleInputBanks(elements, { circuit, elements: named }),
  ];
}

/** The input banks that are not drawn beside a stiff source, which leaves them idle. */
export function idleInputBanks(
  elements: readonly Element[],
  { circuit, elements: named }: Pick<PowerStage, 'circuit' | 'elements'>,
): readonly Element[] {
  const there = new Set(elements.map(({ name }) => name));
  return circuit.elements.filter(({ name }) => named.inputBanks.includes(name) && !there.has(name));
}

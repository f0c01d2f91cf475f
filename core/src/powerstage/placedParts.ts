import { coresOf } from '../stage/coupling.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';

/** What any part of a stage file may say of itself. */
export interface Described {
  readonly name?: string | undefined;
  readonly length?: number | undefined;
  readonly width?: number | undefined;
  readonly price?: number | undefined;
}

/** A part that a stage puts on its board. */
export interface PlacedPart {
  /** The element of the circuit that it is, without the number of its phase; a name of its own where the circuit does not draw it. */
  readonly element: string;
  readonly side: 'power' | 'input' | 'output';
  readonly part: Described;
  /** Equal ones on the board. */
  readonly count: number;
}

/** What protects the input: where it stands in the stage file is what it is called. */
export const INPUT_PROTECTION = ['fuse', 'reversePolarity', 'suppressor', 'precharge'] as const;

/** Every part that a stage file states, and how often it stands on the board. */
export function placedParts(stage: Stage): readonly PlacedPart[] {
  const { parts, phases, rectifier } = stage;
  const { inductor, diode, preload, inputFilter, outputFilter } = parts;
  const placed: PlacedPart[] = [];
  const place = (element: string, side: PlacedPart['side'], part: Described | undefined, count = 1): void => {
    if (part) placed.push({ element, side, part, count });
  };
  const banks = (stem: string, side: PlacedPart['side'], all: readonly CapacitorBank[] = []): void =>
    all.forEach((bank, j) => place(`${stem}${String(j + 1)}`, side, bank, bank.count));
  place('inductor', 'power', inductor, inductor && coresOf(stage));
  const { legs } = topologyOf(stage);
  const switches = legs.flatMap(({ main, rectifier: other }) => (rectifier === 'diode' ? [main] : [main, other]));
  for (const name of switches) place(name, 'power', parts[name], phases * (parts[name]?.count ?? 1));
  // One for each leg. A record that is left from before the rectifier was changed is not on the board.
  if (rectifier === 'diode') place('diode', 'power', diode, phases * legs.length);
  banks('outputCapacitor', 'power', parts.outputCapacitors);
  banks('inputCapacitor', 'power', parts.inputCapacitors);
  for (const name of INPUT_PROTECTION) place(name, 'input', parts[name]);
  place('inputFilter', 'input', inputFilter);
  place('inputDamping', 'input', inputFilter?.damping);
  place('inputTerminal', 'input', inputFilter?.terminal);
  place('outputFilter', 'output', outputFilter);
  banks('outputFilterCapacitor', 'output', outputFilter?.capacitors);
  place('preload', 'output', preload);
  return placed;
}

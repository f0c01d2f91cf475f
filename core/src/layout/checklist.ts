import type { EvaluatedStage } from '../corners/evaluate.js';
import { elementWords } from '../powerstage/elementWords.js';
import { formatQuantity } from '../quantity/engineering.js';
import { CONDUCTOR_K, conductorCurrent, conductorWidth } from './conductorForms.js';
import { GROUND } from '../circuit/elements.js';
import type { Net } from './nets.js';
import { leastSpacing } from './spacing.js';
import type { WorstLoop } from './worstLoops.js';

/** A line of the review of a board, out of this stage. @public */
export interface ChecklistLine {
  readonly key: string;
  readonly line: string;
  readonly reason: string;
}

/** Rise that conductors are laid out for, K; foil, m; a usual via: its drill and plating, m. Common practice. */
export const BOARD = { rise: 20, foil: 35e-6, drill: 0.3e-3, plating: 20e-6 } as const;

/** The barrel of a usual via as a conductor within the board, with a rise, K. */
export const viaBarrel = (rise: number) => ({
  area: Math.PI * (BOARD.drill + BOARD.plating) * BOARD.plating,
  rise,
  k: CONDUCTOR_K.internal,
});

/** Current of one via, A. */
export const viaCurrent = (rise: number = BOARD.rise): number => conductorCurrent.compute(viaBarrel(rise));

const millimetres = (metres: number): string => formatQuantity(metres, 'm', 2);
/** Limit of the class in which a steady direct voltage is not felt to hurt, V: IEC 62368-1, from memory. */
const ES1 = 60;

const partsOf = ({ devices, hops }: WorstLoop): string => {
  const names = [...devices, ...hops.flatMap(({ elements }) => elements)].map((name) => elementWords(name).words);
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1) ?? ''}`;
};

/**
 * What is to be looked at on the board of this stage, with its values, each with the reason. Common practice throughout, but for the numbers.
 *
 * @public
 */
export function layoutChecklist(
  { complete, evaluation }: EvaluatedStage,
  loops: readonly WorstLoop[],
  nets: readonly Net[],
): readonly ChecklistLine[] {
  const { stage } = complete;
  const { control, phases } = stage;
  const lines: ChecklistLine[] = [];
  const add = (key: string, line: string, reason: string): void => {
    lines.push({ key, line, reason });
  };
  for (const loop of loops) {
    const perNano = loop.rate * 1e-9;
    add(
      `loop ${loop.devices.join(' ')}`,
      `Close the loop of ${partsOf(loop)} with the least copper: these parts first, side by side.`,
      `${formatQuantity(loop.current, 'A', 3)} turns over in ${formatQuantity(loop.edge, 's', 2)}${loop.edgeStated ? '' : ' (a fast edge is assumed: the record of the switch does not say)'}: each nanohenry of it makes ${formatQuantity(perNano, 'V', 2)}.`,
    );
  }
  add(
    'one side',
    'Keep the power parts on one side, joined without vias.',
    'A via adds about a nanohenry to the loop it stands in.',
  );
  const ground = nets.find(({ node }) => node === GROUND);
  if (ground)
    add(
      'return vias',
      `Give the return ${String(Math.max(2, Math.ceil(ground.current / viaCurrent())))} vias or more where it changes layers, without thermal relief.`,
      `It carries ${formatQuantity(ground.current, 'A', 3)} rms; a via of ${millimetres(BOARD.drill)} with ${formatQuantity(BOARD.plating, 'm', 2)} of plating carries ${formatQuantity(viaCurrent(), 'A', 2)} at ${String(BOARD.rise)} K.`,
    );
  add(
    'plane',
    'Lay a whole plane under the stage, on the next layer, without a slot under a loop.',
    'The way back under the way out takes most of the inductance away; a slot sends it round.',
  );
  for (const net of nets.filter(({ words }) => /switch node/.test(words)))
    add(
      `switch node ${net.node}`,
      `Make the ${net.words} as small as its current and heat allow: from ${millimetres(conductorWidth.compute({ current: net.current, rise: BOARD.rise, thickness: BOARD.foil, k: CONDUCTOR_K.external }))} wide on the outside.`,
      `It carries ${formatQuantity(net.current, 'A', 3)} rms and swings by ${formatQuantity(net.apart, 'V', 3)} at every edge: its area radiates and couples.`,
    );
  if (control.senseResistance !== undefined) {
    const peak = Math.max(...loops.map(({ current }) => current));
    add(
      'kelvin',
      'Sense at the pads of the sense resistor, with two lines of their own, side by side to the pins.',
      `The whole signal is ${formatQuantity(control.senseResistance * peak, 'V', 2)}: a millimetre of shared copper counts.`,
    );
  }
  add(
    'ground',
    'Join the quiet ground of the controller to the power ground at one point, at its pin or the output capacitors.',
    'What pulses through shared copper stands in the feedback and in the reference.',
  );
  add(
    'feedback',
    'Put the divider at the feedback pin, and bring the output to it by a line away from every switch node and choke.',
    'The pin is the highest resistance of the board: the long line belongs on the side of the output.',
  );
  if (stage.parts.fuse || stage.parts.suppressor)
    add(
      'input protection',
      'Put the fuse first at the terminal and the suppressor right behind it, its way to ground short and wide, before everything it protects.',
      'A millimetre of line adds about a nanohenry to the clamp: at the current of a surge that is volts over its clamping voltage; what fails short opens the fuse.',
    );
  if (stage.parts.reversePolarity)
    add(
      'reverse polarity',
      'Put nothing with a polarity, no capacitor and no controller, before the reverse-polarity element.',
      'What stands before it sees the supply turned round.',
    );
  if (complete.legs.length > 1)
    add(
      'two loops',
      'Keep the loops of both legs apart, each with capacitors of its own at its switches.',
      'Both carry edges, at different instants: what they share couples one into the other.',
    );
  if (phases > 1)
    add(
      'phases',
      `Spread the ${String(phases)} phases evenly: the same lengths from choke to output, capacitors shared out among them.`,
      'Unequal copper is unequal current, and what interleaving cancels is gone by as much.',
    );
  const highest = Math.max(0, ...nets.map(({ apart }) => apart));
  add(
    'spacing',
    `Keep ${millimetres(leastSpacing('bare', highest))} between bare conductors with ${formatQuantity(highest, 'V', 3)} between them, ${millimetres(leastSpacing('internal', highest))} within the board.`,
    'IPC-2221, table 6-1, from memory; ringing comes on top of the voltage. It keeps a board working and is no safety insulation.',
  );
  if (highest > ES1)
    add(
      'insulation',
      'Have creepage, clearance and insulation of the parts within reach settled by the standard of the product.',
      `${formatQuantity(highest, 'V', 3)} is above 60 V: IEC 62368-1 and your local code decide, and who is licensed to.`,
    );
  if (evaluation.stage.control.controller === undefined)
    add(
      'controller',
      'Take from the data of the controller: which pins are quiet, where its pad goes, how its driver is fed and decoupled.',
      'No controller is named in the stage: this list cannot know them.',
    );
  return lines;
}

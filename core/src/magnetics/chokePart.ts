import type { PartOf } from '../library/libraryPart.js';
import { shapeOverSine } from '../losses/waveformShape.js';
import type { ChokeDemand, WorkedChoke } from './figures.js';
import { wattsFor } from './chokeForms.js';
import { chokePrice } from './judgeChoke.js';
import { lossLaw } from './materials.js';
import { bodyOf, chokeCurve, fluxPaths, gapWords, type WoundChoke } from './woundChoke.js';
import { conductorWords } from './wires.js';
import { sixDigits } from '../quantity/sixDigits.js';

/** K, that the heating current of a part is stated for. */
const HEATING = 40;
/** What is left of inductance at the saturation current of a part. Common practice. */
const LEFT = 0.7;
/** Scatter of inductance: a ground gap, a spacer of paper, a powder. Common practice. */
const TOLERANCE = { ground: 0.07, spacer: 0.12, powder: 0.1 };

/** Where a falling curve passes a value, on the straight lines between its points; undefined where it stays above. */
function currentAt(table: WorkedChoke['table'], value: number): number | undefined {
  const k = table.findIndex(([, inductance]) => inductance <= value);
  const [from, to] = [table[k - 1], table[k]];
  if (!from || !to) return undefined;
  return from[0] + ((to[0] - from[0]) * (from[1] - value)) / (from[1] - to[1]);
}

/**
 * A wound choke as a part of the library: what the engine, the losses, the simulator and the netlist work with. Inductance against current
 * is its own curve. The loss of its core is the law of its material at the swing of its worst corner, and its alternating resistance what
 * makes the loss there by harmonics, so that the stage finds the very loss that was designed.
 *
 * @public
 */
export function chokePart(
  choke: WoundChoke,
  worked: WorkedChoke,
  demand: ChokeDemand,
  name: string,
): PartOf<'inductor'> {
  const { laid, table, worst, resistance, surface } = worked;
  const curve = chokeCurve(table.map(([i, l]): [number, number] => [i, l]));
  const [path] = fluxPaths(choke);
  const corner = demand.corners.find(
    ({ inputVoltage, outputCurrent }) => inputVoltage === worst.inputVoltage && outputCurrent === worst.outputCurrent,
  );
  if (!path || !corner) throw new RangeError('The choke was worked for another demand.');
  const law = lossLaw(path.material, corner.frequency, worst.temperature);
  // P = k (f/100 kHz)^α (Δλ/1 µV s)^β · shape, as the losses of a stage have it
  const coefficient =
    worst.core /
    ((corner.frequency / 100e3) ** law.frequencyExponent *
      (corner.swing / 1e-6) ** law.fluxExponent *
      shapeOverSine(law.frequencyExponent, corner.pieces));
  const saturationCurrent = currentAt(table, LEFT * (table[0]?.[1] ?? 0));
  const alternatingSquare = worst.rms ** 2 - corner.average ** 2;
  const [length, width, height] = bodyOf(choke, laid);
  const open = choke.gap > 0 || choke.core.airGap > 0;
  return {
    name,
    inductance: sixDigits(curve.inductance(0)),
    resistance: sixDigits(resistance),
    tolerance:
      choke.core.material.kind === 'powder'
        ? TOLERANCE.powder
        : open && choke.gaps === 2
          ? TOLERANCE.spacer
          : TOLERANCE.ground,
    ...(saturationCurrent !== undefined && {
      saturationCurrent: sixDigits(saturationCurrent),
      saturationDrop: 1 - LEFT,
    }),
    inductanceCurve: table.map(([current, inductance]): [number, number] => [
      sixDigits(current),
      sixDigits(inductance),
    ]),
    heatingCurrent: sixDigits(Math.sqrt(wattsFor(HEATING, surface) / resistance)),
    // The stage's line is (R_alternating − R) I²: what eddy currents add, copper as warm as it gets.
    alternatingResistance: sixDigits(resistance + (alternatingSquare > 0 ? worst.alternating / alternatingSquare : 0)),
    coreLossCoefficient: sixDigits(coefficient),
    coreLossFrequencyExponent: law.frequencyExponent,
    coreLossFluxExponent: law.fluxExponent,
    length: sixDigits(length),
    width: sixDigits(width),
    height: sixDigits(height),
    price: sixDigits(chokePrice(choke, worked)),
    notes: `Wound: ${String(choke.turns)} turns, ${conductorWords(choke.conductor)}, on ${choke.core.name}${choke.beside ? ` beside ${choke.beside.name}` : ''}; gap ${gapWords(choke)}.`,
  };
}

import type { Instruments } from '../instruments/instruments.js';
import type { Stage } from '../stage/schema.js';
import { formatQuantity } from '../quantity/engineering.js';
import { accuracyOf, derivedReading, type DerivedReading } from './derived.js';
import type { Reading } from './reading.js';

/** What is the matter with a line of the log. @public */
export interface ReadingFlag {
  readonly code:
    | 'efficiency-above-one'
    | 'supply-in-limit'
    | 'output-sags'
    | 'thermal-creep'
    | 'drift'
    | 'polarity'
    | 'not-loaded'
    | 'lead-drop';
  /** Index of the reading. */
  readonly row: number;
  readonly sentence: string;
  /** Whether the line is left out where it is compared with the prediction. */
  readonly leftOut: boolean;
}

/** Of the current limit, from which on a supply is taken to limit. */
const NEAR_LIMIT = 0.985;
/** Of the output's tolerance, where none is stated: half of it is a sag. */
const USUAL_TOLERANCE = 0.02;
/** Relative rise of the loss between readings at one point that is taken for heat. */
const CREEPS = 0.02;
/** Two readings are at one point within this. */
const SAME = 0.005;
/** Share of the supply's voltage that a lead may drop without a word. */
const LEAD_DROP = 0.02;

/**
 * What cannot be, or is not what it looks like, in the lines of a log: an efficiency above one beyond its uncertainty, a supply in its
 * limit, an output that sags, readings that creep with heat or drift, exchanged leads, a lead that drops much.
 *
 * @param derived what follows from each line, where it is at hand.
 * @public
 */
export function readingFlags(
  readings: readonly Reading[],
  instruments: Instruments,
  stage: Stage,
  derived: readonly DerivedReading[] = readings.map((reading) => derivedReading(reading, instruments)),
): readonly ReadingFlag[] {
  const { outputVoltage: set, outputVoltageTolerance = USUAL_TOLERANCE } = stage.targets;
  const filtered = stage.parts.outputFilter !== undefined;
  const flags: ReadingFlag[] = [];
  const add = (row: number, code: ReadingFlag['code'], sentence: string, leftOut: boolean): void => {
    flags.push({ row, code, sentence, leftOut });
  };
  const points = new Points();
  readings.forEach((reading, row) => {
    const { efficiency, outputVoltage, inputVoltage, loss } = derived[row] ?? derivedReading(reading, instruments);
    const limited =
      reading.limited === true ||
      (reading.inputCurrent !== undefined && reading.inputCurrent >= NEAR_LIMIT * instruments.supply.currentMax);
    if (limited)
      add(
        row,
        'supply-in-limit',
        `The supply is in its limit of ${formatQuantity(instruments.supply.currentMax, 'A', 3)}: what is read is the supply’s doing, not the stage’s.`,
        true,
      );
    if (efficiency && efficiency.value - 2 * efficiency.standard > 1)
      add(
        row,
        'efficiency-above-one',
        `The efficiency comes to ${(100 * efficiency.value).toFixed(1)} %, more than there can be: two columns exchanged, a wrong range, or a meter in the wrong place.`,
        true,
      );
    if (
      (reading.inputVoltage ?? reading.supplyVoltage ?? 1) < 0 ||
      (reading.inputCurrent ?? 1) < 0 ||
      (outputVoltage && outputVoltage.value !== 0 && Math.sign(outputVoltage.value) !== Math.sign(set))
    )
      add(
        row,
        'polarity',
        'A sign is the other way round than the stage has it: leads of a meter are exchanged.',
        true,
      );
    else if (outputVoltage && !limited) {
      const off = (Math.abs(outputVoltage.value) - Math.abs(set)) / Math.abs(set);
      if (off < -2 * outputVoltageTolerance)
        add(
          row,
          'output-sags',
          `The output is ${(-100 * off).toFixed(1)} % below ${formatQuantity(set, 'V', 4)}${
            filtered
              ? ': the stage regulates in front of its second filter, whose winding and leads drop this; measure at both ends of it.'
              : ': the duty ratio or a current limit is at its end, or the lead to the load drops it.'
          }`,
          // What the filter drops belongs to the stage.
          !filtered,
        );
    }
    if (reading.supplyVoltage !== undefined && inputVoltage && reading.inputVoltage !== undefined) {
      const drop = reading.supplyVoltage - reading.inputVoltage;
      if (drop > LEAD_DROP * reading.supplyVoltage)
        add(
          row,
          'lead-drop',
          `The lead to the board drops ${formatQuantity(drop, 'V', 3)}: efficiency is worked with the voltage at the board.`,
          false,
        );
    }
    const earlier = points.before(reading, row);
    const then = earlier === undefined ? undefined : derived[earlier]?.loss;
    if (earlier !== undefined && then && loss) {
      // Two readings of the same meters: errors of gain fall out of their difference.
      const steps = resolutionOfLoss(reading, instruments);
      if (loss.value - then.value > Math.max(CREEPS * then.value, 3 * steps))
        add(
          row,
          'thermal-creep',
          `The loss has risen by ${formatQuantity(loss.value - then.value, 'W', 2)} since line ${String(earlier + 1)} at the same point: parts are getting warm; wait until it stands.`,
          false,
        );
      else if (then.value - loss.value > Math.max(CREEPS * 2 * then.value, 3 * steps))
        add(
          row,
          'drift',
          `The loss has fallen by ${formatQuantity(then.value - loss.value, 'W', 2)} since line ${String(earlier + 1)} at the same point: a reading drifts, or was taken before it stood.`,
          false,
        );
    }
  });
  return flags;
}

/** Lines by the point they were read at: the last one at a point is found without going through all before. */
class Points {
  private readonly byLoad = new Map<number, { readonly load: number; readonly input: number; row: number }[]>();

  /** The last line before at the same point, this one being the last from now on; undefined where there is none. */
  before({ outputCurrent, inputVoltage, supplyVoltage }: Reading, row: number): number | undefined {
    const input = inputVoltage ?? supplyVoltage;
    if (outputCurrent === undefined || input === undefined) return undefined;
    // Loads that are the same lie in one class or in two beside each other.
    const place = Math.round(Math.log(Math.max(Math.abs(outputCurrent), LEAST_LOAD)) / SAME);
    const near = [place, place - 1, place + 1].flatMap((at) => this.byLoad.get(at) ?? []);
    const found = near.find((one) => close(one.load, outputCurrent) && close(one.input, input));
    const earlier = found?.row;
    if (found) found.row = row;
    else this.byLoad.set(place, [...(this.byLoad.get(place) ?? []), { load: outputCurrent, input, row }]);
    return earlier;
  }
}

/** A: smaller loads are one. */
const LEAST_LOAD = 1e-6;
const close = (a: number, b: number): boolean =>
  Math.abs(a - b) <= SAME * Math.max(Math.abs(a), Math.abs(b), LEAST_LOAD);

/** W, that the steps of the displays leave of a difference of losses. */
function resolutionOfLoss(reading: Reading, instruments: Instruments): number {
  const vin = Math.abs(reading.inputVoltage ?? reading.supplyVoltage ?? 0);
  const vout = Math.abs(reading.outputVoltage ?? reading.loadVoltage ?? 0);
  return Math.hypot(
    vin * accuracyOf(instruments, 'inputCurrent').resolution,
    vout * accuracyOf(instruments, 'outputCurrent').resolution,
  );
}

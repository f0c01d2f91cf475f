import { asBuilt } from '../board/asBuilt.js';
import { boardInput, ReadingPredictor, type Leads, type PredictedReading } from '../board/predictReading.js';
import type { Reading } from '../readings/reading.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';

/** What is predicted of one figure of a line, and between what it lies for boards within their tolerances. @public */
export interface Banded {
  readonly predicted: number;
  readonly low: number;
  readonly high: number;
}

/** What is predicted of a line of the log. @public */
export type PredictedLine = Readonly<
  Record<'efficiency' | 'loss' | Exclude<keyof PredictedReading, 'supplyVoltage' | 'loadVoltage'>, Banded>
>;

/** Boards by which the band is drawn, and their seed. */
const BOARDS = 24;
const SEED = 9_001;

/**
 * What is predicted of each line of a log, with the band that boards within their tolerances make (Monte Carlo over stated tolerances,
 * else usual ones).
 *
 * @param tell is told the share that is done.
 * @returns undefined in the place of a line without input voltage or load, or where the stage cannot work.
 * @public
 */
export function predictedBand(
  stage: Stage,
  readings: readonly Reading[],
  leads: Leads,
  ambient?: number,
  tell: (share: number) => void = () => undefined,
): readonly (PredictedLine | undefined)[] {
  const complete = completeStage(stage);
  if (!complete.ok) return readings.map(() => undefined);
  const boards = [stage, ...Array.from({ length: BOARDS }, (_, k) => asBuilt(complete.value, SEED, k).stage)];
  const all = boards.map((board, k) => {
    tell(k / boards.length);
    const predictor = new ReadingPredictor(board);
    return readings.map((reading) => {
      const inputVoltage = boardInput(reading, leads);
      if (inputVoltage === undefined || reading.outputCurrent === undefined) return undefined;
      const found = predictor.at(inputVoltage, reading.outputCurrent, leads, ambient);
      if (!found) return undefined;
      const drawn = inputVoltage * found.inputCurrent;
      const given = Math.abs(found.outputVoltage) * reading.outputCurrent;
      return { ...found, efficiency: drawn > 0 ? given / drawn : 0, loss: drawn - given };
    });
  });
  const keys = ['efficiency', 'loss', 'inputCurrent', 'outputVoltage', 'outputRipple', 'inductorRipple'] as const;
  return readings.map((_, row) => {
    const stated = all[0]?.[row];
    if (!stated) return undefined;
    return Object.fromEntries(
      keys.map((key) => {
        const values = all.flatMap((board) => board[row]?.[key] ?? []);
        return [key, { predicted: stated[key], low: Math.min(...values), high: Math.max(...values) }];
      }),
    ) as PredictedLine;
  });
}

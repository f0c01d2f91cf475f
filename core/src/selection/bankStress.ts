import { ROOM_TEMPERATURE } from '../thermal/room.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { electrolyticLife } from '../firstcut/capacitorLifeForms.js';
import type { CapacitorBank } from '../stage/partsSchema.js';

/** What one bank of a worked stage bears, at its own worst corner. @public */
export interface BankStress {
  readonly bank: CapacitorBank;
  /** RMS current of the bank, and of each part, A. */
  readonly rms: number;
  readonly rmsEach: number;
  /** Share of the rated ripple current; undefined where the part states none. */
  readonly ratingShare: number | undefined;
  /** Heat in the ESR of each part, W. */
  readonly heatEach: number;
  /** Expected life at the highest ambient, s; undefined where the part states no rated life. */
  readonly life: number | undefined;
}

/** Rise of the core above its ambient at the rated ripple current, K, and the life beyond which none is claimed, s. Common practice. */
const RATED_RISE = 5;
const LONGEST_LIFE = 15 * 365.25 * 24 * 3600;

/**
 * Expected life of a bank of cans, s: doubled for every 10 K that its core is cooler than rated (common rule), the core warmed
 * by the ripple current.
 *
 * @param rms current of the whole bank, A; ambient in °C.
 */
export function bankLife(
  { ratedLife: rated, ratedTemperature, rippleCurrentRating, count }: CapacitorBank,
  rms: number,
  ambient: number,
): number | undefined {
  if (rated === undefined || ratedTemperature === undefined) return undefined;
  const share = rippleCurrentRating === undefined ? 0 : rms / (rippleCurrentRating * count);
  const rise = RATED_RISE * share * share;
  return Math.min(LONGEST_LIFE, electrolyticLife.compute({ rated, ratedTemperature, temperature: ambient, rise }));
}

/** What each bank of one side bears. @public */
export function bankStresses(
  { complete, evaluation }: EvaluatedStage,
  side: 'outputCapacitors' | 'inputCapacitors',
): readonly BankStress[] {
  const key = side === 'outputCapacitors' ? 'outputCapacitorBanks' : 'inputCapacitorBanks';
  const ambient = complete.stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
  return complete[side].map((bank, j): BankStress => {
    const rms = Math.max(0, ...evaluation.operatingPoints.map((point) => point[key][j]?.rms ?? 0));
    const rmsEach = rms / bank.count;
    return {
      bank,
      rms,
      rmsEach,
      ratingShare: bank.rippleCurrentRating === undefined ? undefined : rmsEach / bank.rippleCurrentRating,
      heatEach: rmsEach * rmsEach * bank.esr,
      life: bankLife(bank, rms, ambient),
    };
  });
}

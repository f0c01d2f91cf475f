import type { PartOf } from '../library/libraryPart.js';
import { bankLife } from './bankStress.js';
import { leastShare, remainingAtBias } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import { CAPACITOR_DERATING, MOST_OFFERED } from '../rules/rules.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { CapacitorNeeds } from './capacitorNeeds.js';

/** How a library capacitor would do as the only bank of one side. @public */
export interface CapacitorCandidate {
  readonly part: PartOf<'capacitor'>;
  readonly fits: boolean;
  readonly reasons: readonly string[];
  /** How many in parallel, and what decides it. */
  readonly count: number;
  readonly decidedBy: string;
  /** F, of all together at the bias and the low end of tolerance, temperature and aging. */
  readonly capacitance: number;
  readonly esr: number;
  /** Share of the rated ripple current that flows; undefined where the part states none. */
  readonly rippleShare: number | undefined;
  readonly price: number | undefined;
  /** Expected life at the highest ambient, s; undefined where the part states no rated life. */
  readonly life: number | undefined;
}

/** A library part, so many in parallel, as the bank of a stage file. */
const asBank = (part: PartOf<'capacitor'>, count: number): CapacitorBank => ({ ...part, count });

/** A candidate as the bank of a stage file. @public */
export const bankOf = ({ part, count }: CapacitorCandidate): CapacitorBank => asBank(part, count);

function candidate(part: PartOf<'capacitor'>, needs: CapacitorNeeds, ambient: number): CapacitorCandidate {
  const each = part.capacitance * remainingAtBias(asBank(part, 1), needs.bias) * leastShare(part);
  // Capacitive and resistive ripple do not peak together: their sum is an upper bound.
  const wants = [
    { count: needs.rippleCapacitance / each + part.esr / needs.esrMax, by: 'ripple' },
    { count: needs.capacitance / each, by: 'load step' },
    { count: part.rippleCurrentRating === undefined ? 0 : needs.rms / part.rippleCurrentRating, by: 'ripple current' },
  ];
  const most = wants.reduce((a, b) => (b.count > a.count ? b : a));
  const count = Math.max(1, Math.ceil(most.count - 1e-9));
  const derating = CAPACITOR_DERATING[part.kind];
  const reasons: string[] = [];
  const volts = (value: number): string => formatQuantity(value, 'V', 3);
  if (part.ratedVoltage === undefined) reasons.push('It states no rated voltage.');
  else if (part.ratedVoltage < derating * needs.maxVoltage)
    reasons.push(
      `Its rated voltage of ${volts(part.ratedVoltage)} is not ${String(derating)} times the ${volts(needs.maxVoltage)} across it.`,
    );
  if (count > MOST_OFFERED)
    reasons.push(`It would take ${String(count)} in parallel, for its ${most.by}; more than ${String(MOST_OFFERED)}.`);
  return {
    part,
    fits: reasons.length === 0,
    reasons,
    count,
    decidedBy: most.by,
    capacitance: each * count,
    esr: part.esr / count,
    rippleShare: part.rippleCurrentRating === undefined ? undefined : needs.rms / (part.rippleCurrentRating * count),
    price: part.price === undefined ? undefined : part.price * count,
    life: bankLife(asBank(part, count), needs.rms, ambient),
  };
}

/**
 * Library capacitors as the bank of one side, those that fit first, cheapest first.
 *
 * @param ambient highest ambient, °C: what the life of cans is worked at.
 * @public
 */
export function selectCapacitors(
  needs: CapacitorNeeds,
  parts: readonly PartOf<'capacitor'>[],
  ambient: number,
): readonly CapacitorCandidate[] {
  return parts
    .map((part) => candidate(part, needs, ambient))
    .sort(
      (a, b) => Number(b.fits) - Number(a.fits) || (a.price ?? Infinity) - (b.price ?? Infinity) || a.count - b.count,
    );
}

import type { Inventory } from '../library/inventory.js';
import { capacitanceOf, leastShare } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import { CAPACITOR_DERATING } from '../rules/rules.js';
import { hotPlug } from '../selection/hotPlug.js';
import {
  constantPowerShare,
  dampingBulk,
  IMPEDANCE_SHARE,
  inputInductance,
  metImpedances,
  weakestAtInput,
} from '../selection/inputResonance.js';
import { behind, type InputImpedances } from '../smallsignal/inputImpedance.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import { meritOf, takenBy, type Figures, type Objective } from './merit.js';

/** Bulk beside the input banks, and why. */
export interface InputDamping {
  readonly bank: CapacitorBank;
  readonly why: string;
}

/** How far the series resistance may be from the one that damps best, as a factor: what it then comes to is worked. */
const RESISTANCE_REACH = 5;
/** Parts in parallel, and records tried, at most. */
const MOST_BULK = 6;
const TRIED = 12;
/** Rating over the input voltage, at most: a can for far more is far too large. */
const MOST_RATING = 4;

/**
 * What rings at the input: the share that impedances reach of each other, that of constant power before the loop is known; and the voltage
 * of a hot plug over the lowest rating, where one is stated.
 */
interface Ringing {
  readonly share: number;
  readonly overRating: number | undefined;
}

function ringing(complete: CompleteStage, met: InputImpedances | undefined): Ringing {
  const weakest = weakestAtInput(complete);
  const plugged = weakest && hotPlug(complete, complete.stage.targets.inputVoltage.max);
  return {
    share: met ? met.nearest.closed.share : constantPowerShare(complete),
    overRating: plugged && plugged.peak / weakest.rating,
  };
}

/** What speaks against it: an oscillation more than a peak that a clamp limits too. */
const problemsOf = ({ share, overRating }: Ringing): number =>
  (share > IMPEDANCE_SHARE ? 2 : 0) + ((overRating ?? 0) > 1 ? 1 : 0);

/**
 * Bulk from records beside the input banks of a stage that states the inductance of its source or filter, where these would oscillate
 * with it or ring over a rating when plugged in: the best by the objective of those that mend most.
 *
 * @returns those that mend most first; empty where nothing is to be damped, or no record damps it.
 */
export function inputDamping(
  complete: CompleteStage,
  inventory: Inventory,
  figures: Figures,
  objective: Objective,
): readonly InputDamping[] {
  const { stage, inputCapacitors } = complete;
  const inductance = inputInductance(stage);
  const { max } = stage.targets.inputVoltage;
  const capacitance = capacitanceOf(inputCapacitors, max);
  if (inductance <= 0 || capacitance <= 0 || stage.parts.inputFilter?.damping) return [];
  const met = metImpedances(complete);
  const before = ringing(complete, met);
  if (problemsOf(before) === 0) return [];
  const wanted = dampingBulk(inductance, capacitance);
  const offered = inventory.capacitor
    .filter(
      ({ kind, ratedVoltage = 0 }) =>
        (kind === 'electrolytic' || kind === 'polymer') &&
        ratedVoltage >= CAPACITOR_DERATING[kind] * max &&
        ratedVoltage <= MOST_RATING * max,
    )
    .flatMap((part): readonly CapacitorBank[] => {
      const count = Math.max(1, Math.ceil(wanted.capacitance / (part.capacitance * leastShare(part))));
      const off = part.esr / count / wanted.resistance;
      return count > MOST_BULK || off > RESISTANCE_REACH || off < 1 / RESISTANCE_REACH ? [] : [{ ...part, count }];
    })
    .map((bank) => {
      const { area, price } = takenBy(bank);
      const total = { loss: figures.loss, area: figures.area + area, price: figures.price + price };
      return { bank, merit: meritOf(total, objective) };
    })
    .sort((a, b) => a.merit - b.merit)
    .slice(0, TRIED);
  const tried = offered.map(({ bank }) => {
    const damped = { ...complete, inputCapacitors: [...inputCapacitors, bank] };
    const after = ringing(damped, met && behind(met, damped, stage.targets.inputVoltage.min));
    return { bank, after, left: problemsOf(after) };
  });
  return (
    tried
      .filter(({ left }) => left < problemsOf(before))
      // Of those that leave as few the order of the objective stays.
      .sort((a, b) => a.left - b.left)
      .map(({ bank, after }) => ({
        bank,
        why: `damps ${formatQuantity(inductance, 'H', 2)} before it: ${whatItBrings(before, after, met !== undefined)}`,
      }))
  );
}

function whatItBrings(before: Ringing, after: Ringing, looped: boolean): string {
  const share = `the impedance before the stage comes to ${after.share.toFixed(2)} of its own${looped ? '' : ' as constant power'}, not ${before.share.toFixed(2)} (R. D. Middlebrook, 1976)`;
  return before.overRating === undefined || after.overRating === undefined
    ? share
    : `${share}; plugged in, the input rings to ${after.overRating.toFixed(2)} of the lowest rating, not ${before.overRating.toFixed(2)}`;
}

import type { EvaluatedStage } from '../corners/evaluate.js';
import type { PartOf } from '../library/libraryPart.js';
import { leastShare, remainingAtBias } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import { CAPACITOR_DERATING, MOST_OFFERED } from '../rules/rules.js';
import { inputCapacitorNeeds, outputCapacitorNeeds, type CapacitorNeeds } from '../selection/capacitorNeeds.js';
import { selectCapacitors, type CapacitorCandidate } from '../selection/capacitors.js';
import type { Choice } from '../sizing/choice.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';
import type { Inventory } from '../library/inventory.js';
import { meritOf, takenBy, type Figures, type Objective } from './merit.js';

/** Banks for one side, as the stage file has them: one kind, or ceramics with bulk beside them. */
export type Banks = readonly CapacitorBank[];

/** Share of the deviation of a load step that the series resistance of a bulk bank may take at once. Common practice. */
const STEP_ON_ESR = 0.5;
/** Banks kept of each way. */
const KEPT = 3;

const asBank = (part: PartOf<'capacitor'>, count: number): CapacitorBank => ({ ...part, count });

/** Board and price of banks, with no loss of their own: their heat is in the engine's figures. */
const weigh = (banks: Banks, rest: Figures, objective: Objective): number => {
  const taken = banks.map((bank) => takenBy(bank));
  return meritOf(
    {
      loss: rest.loss,
      area: rest.area + taken.reduce((sum, { area }) => sum + area, 0),
      price: rest.price + taken.reduce((sum, { price }) => sum + price, 0),
    },
    objective,
  );
};

const best = (
  candidates: readonly CapacitorCandidate[],
  rest: Figures,
  objective: Objective,
): readonly CapacitorCandidate[] =>
  candidates
    .filter(({ fits }) => fits)
    .map((candidate) => ({ candidate, merit: weigh([asBank(candidate.part, candidate.count)], rest, objective) }))
    .sort((a, b) => a.merit - b.merit)
    .slice(0, KEPT)
    .map(({ candidate }) => candidate);

/** A step of the load, A, and how far the output may go, V. */
interface Step {
  readonly amperes: number;
  readonly deviation: number;
}

/** Series resistance of the bank that carries a step at first, ohm. */
const esrFor = ({ amperes, deviation }: Step): number => (STEP_ON_ESR * deviation) / amperes;

/** Bulk beside ceramics: the ceramics carry the ripple and its current, the bulk the load step. */
function mixed(
  needs: CapacitorNeeds,
  inventory: Inventory,
  ambient: number,
  step: Step | undefined,
  rest: Figures,
  objective: Objective,
): readonly Banks[] {
  if (!step || needs.capacitance <= 2 * needs.rippleCapacitance) return [];
  const ripple = { ...needs, capacitance: needs.rippleCapacitance };
  const ceramics = inventory.capacitor.filter(({ kind }) => kind === 'ceramic');
  const [quiet] = best(selectCapacitors(ripple, ceramics, ambient), rest, objective);
  if (!quiet) return [];
  const esrMost = esrFor(step);
  return inventory.capacitor
    .filter(
      ({ kind, ratedVoltage = 0 }) =>
        (kind === 'polymer' || kind === 'electrolytic') && ratedVoltage >= CAPACITOR_DERATING[kind] * needs.maxVoltage,
    )
    .flatMap((part): readonly Banks[] => {
      const each = part.capacitance * leastShare(part);
      const count = Math.max(1, Math.ceil(needs.capacitance / each), Math.ceil(part.esr / esrMost));
      return count > MOST_OFFERED ? [] : [[asBank(quiet.part, quiet.count), asBank(part, count)]];
    })
    .map((banks) => ({ banks, merit: weigh(banks, rest, objective) }))
    .sort((a, b) => a.merit - b.merit)
    .slice(0, KEPT)
    .map(({ banks }) => banks);
}

/** F, of a small ceramic beside a single large one. Common practice. */
const BESIDE = { least: 0.47e-6, most: 2.2e-6 };
const FEW = 2;

/**
 * One large part or two alone in the path of a current that switches step: their series inductance takes the whole edge, so a small
 * ceramic stands beside them. (Two are often found to be one too many when the load step is simulated.)
 */
function withSmall(
  banks: Banks,
  inventory: Inventory,
  { maxVoltage }: CapacitorNeeds,
  rest: Figures,
  objective: Objective,
): Banks {
  const [only] = banks;
  if (!only || banks.length > 1 || only.count > FEW || only.capacitance <= BESIDE.most) return banks;
  const [small] = inventory.capacitor
    .filter(
      ({ kind, capacitance, ratedVoltage = 0, esl }) =>
        kind === 'ceramic' &&
        capacitance >= BESIDE.least &&
        capacitance <= BESIDE.most &&
        ratedVoltage >= CAPACITOR_DERATING.ceramic * maxVoltage &&
        esl < only.esl,
    )
    .map((part) => ({ bank: asBank(part, 1), merit: weigh([asBank(part, 1), only], rest, objective) }))
    .sort((a, b) => a.merit - b.merit);
  return small ? [small.bank, only] : banks;
}

/** Output banks for a worked stage, the best by the objective first. */
export function outputBanks(
  evaluated: EvaluatedStage,
  inventory: Inventory,
  rest: Figures,
  objective: Objective,
): readonly Banks[] {
  const { targets } = evaluated.complete.stage;
  const ambient = targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
  const needs = outputCapacitorNeeds(evaluated);
  const { loadStep } = targets;
  const step =
    loadStep?.deviation === undefined
      ? undefined
      : { amperes: Math.abs(loadStep.to - loadStep.from), deviation: loadStep.deviation };
  // Where switches step the current of the output, what carries it has little series inductance: ceramics, alone or before bulk.
  const pulsed = evaluated.corners.some(({ result }) => result.kind === 'solved' && !result.powerStage.feedsThroughout);
  const esrMost = step ? esrFor(step) : Infinity;
  const alone = (parts: Inventory['capacitor']): readonly Banks[] =>
    best(
      selectCapacitors(needs, parts, ambient)
        .map((one) => ({ ...one, count: Math.max(one.count, Math.ceil(one.part.esr / esrMost)) }))
        .filter(({ count }) => count <= MOST_OFFERED),
      rest,
      objective,
    ).map(({ part, count }) => [asBank(part, count)]);
  const ceramics = inventory.capacitor.filter(({ kind }) => kind === 'ceramic');
  const before = mixed(needs, inventory, ambient, step, rest, objective);
  const quick = pulsed
    ? [...alone(ceramics).map((banks) => withSmall(banks, inventory, needs, rest, objective)), ...before]
    : [];
  // Other kinds alone only where nothing else does.
  return (quick.length > 0 ? quick : [...alone(inventory.capacitor), ...before])
    .map((banks) => ({ banks, merit: weigh(banks, rest, objective) }))
    .sort((a, b) => a.merit - b.merit)
    .map(({ banks }) => banks);
}

/** Input banks for a worked stage, the best by the objective first. */
export function inputBanks(
  evaluated: EvaluatedStage,
  inventory: Inventory,
  rest: Figures,
  objective: Objective,
): readonly Banks[] {
  const ambient = evaluated.complete.stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
  const needs = inputCapacitorNeeds(evaluated);
  // Beside switches that step the current stands what has little series inductance; other kinds only where there is none.
  const quick = inventory.capacitor.filter(({ kind }) => kind === 'ceramic');
  const found = best(selectCapacitors(needs, quick, ambient), rest, objective);
  const candidates =
    found.length > 0 ? found : best(selectCapacitors(needs, inventory.capacitor, ambient), rest, objective);
  return candidates.map(({ part, count }) => [asBank(part, count)]);
}

/** Banks with so much more, or less, of the one that carries the load step: the last. At least one part more or less. */
export function scaledBanks(banks: Banks, factor: number): Banks {
  const last = banks.at(-1);
  if (!last) return banks;
  const wanted = last.count * factor;
  const count =
    factor > 1 ? Math.max(last.count + 1, Math.ceil(wanted)) : Math.max(1, Math.min(last.count - 1, Math.ceil(wanted)));
  return [...banks.slice(0, -1), { ...last, count }];
}

/** What a bank keeps at a voltage and at the ends of its spread, F: for the words of a choice. */
const keptAt = (bank: CapacitorBank, volts: number): number =>
  bank.capacitance * bank.count * remainingAtBias(bank, volts) * leastShare(bank);

/** Why banks are what they are. */
export function bankChoices(side: 'output' | 'input', banks: Banks, volts: number, why: string): readonly Choice[] {
  return banks.map((bank, j) => ({
    path: `parts.${side}Capacitors[${String(j)}].count`,
    quantity: `${side} capacitors in parallel`,
    unit: 'count',
    value: bank.count,
    rule: `${bank.name ?? bank.kind}, ${formatQuantity(keptAt(bank, volts), 'F', 3)} of them left at ${formatQuantity(volts, 'V', 3)} and the low end of their spread: ${why}.`,
    source: 'Common practice',
  }));
}

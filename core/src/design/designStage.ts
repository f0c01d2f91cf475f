import { Search, unrecorded, type Design, type Draft } from './search.js';
import { draftWords, rivalsOf, type Rival } from './rivals.js';
import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import { good, type Result } from '../result.js';
import { SWITCHING_FREQUENCY } from '../rules/rules.js';
import type { Choice } from '../sizing/choice.js';
import { sizeStage } from '../sizing/size.js';
import type { Stage } from '../stage/schema.js';
import { withChosenController, type Controlled } from './chosenController.js';
import { controllersSettle, type ControllerCandidate } from '../selection/controllers.js';
import type { Inventory } from '../library/inventory.js';
import { nearestOf, type Concession } from './nearest.js';
import type { Objective } from './merit.js';
import { withChoice } from './powerParts.js';

/** What came of a search. @public */
export interface Designed {
  readonly design: Design;
  /** The two drafts that came nearest. */
  readonly rivals: readonly Rival[];
  /** Every other draft, the nearest first. */
  readonly drafts: readonly Rival[];
  /** What would have to be given; empty where every target holds. */
  readonly nearest: readonly Concession[];
  /** Controllers looked at, where the stage names one or states what it must offer. */
  readonly controllers: readonly ControllerCandidate[];
  /** Why there is no controller although one was asked for. */
  readonly noController?: string;
}

/** Frequencies looked at within an allowed range, and what is looked at where none is stated, Hz. */
const FREQUENCIES = 4;
const UNASKED = [SWITCHING_FREQUENCY / 2, SWITCHING_FREQUENCY];
/** Further chokes drafted at the frequency whose first draft is best; drafts that are finished at most where none of them holds. */
const FURTHER_CHOKES = 2;
const FINISHED_AT_MOST = 3;
/** Share that is told of at most before all is done. */
const LAST_SHARE = 0.95;
/** Rivals that are told of. */
const RIVALS = 2;

function frequenciesOf({ stage, frequencies: range }: Controlled): readonly number[] {
  if (stage.switchingFrequency !== undefined) return [stage.switchingFrequency];
  if (!range) return UNASKED;
  const span = range.max / range.min;
  const all = Array.from({ length: FREQUENCIES }, (_, k) => range.min * span ** (k / (FREQUENCIES - 1)));
  return [...new Set(all.map((f) => Math.min(range.max, Math.max(range.min, nearestPreferred(f, 'E24')))))];
}

/**
 * Design a stage from records: what is present stays, what is absent is chosen over the allowed frequencies, so that every target holds
 * at every corner, in steady state, loop and simulated load step, and the best by the objective is kept.
 *
 * @param inventory the records that may be taken.
 * @param progress told now and then of the share that is done, 0 to 1, and of the draft that is ahead, in words: drafts first, then what
 *   is finished of them.
 * @public
 */
export function designStage(
  asked: Stage,
  inventory: Inventory,
  objective: Objective = 'balanced',
  progress: (share: number, leading: string | undefined) => void = () => undefined,
): Result<Designed> {
  const controlled = withChosenController(asked, inventory);
  const { stage } = controlled;
  const search = new Search(stage, inventory, objective);
  const frequencies = frequenciesOf(controlled);
  /** Whether a draft of another stage holds, at the frequency of the design or at the lowest that is allowed. */
  const holds = (other: Stage): boolean => {
    const own = design.evaluated.complete.switchingFrequency;
    // A frequency that the controller does not reach is no way out.
    const reached = controlled.stage.control.controller === undefined ? undefined : controlled.frequencies;
    const within = (f: number): boolean => f === own || !reached || (f >= reached.min && f <= reached.max);
    const tried = other.switchingFrequency === undefined ? [own, Math.min(...frequencies)] : [other.switchingFrequency];
    return [...new Set(tried)].filter(within).some((switchingFrequency) => {
      const first = sizeStage({ ...other, switchingFrequency });
      if (!first.ok) return false;
      const [found] = new Search(other, inventory, objective).drafts(first.value);
      if (!found || unrecorded(other, found.evaluated.complete.stage, true) > 0) return false;
      return found.evaluated.evaluation.verdicts.every(({ pass }) => pass);
    });
  };
  const next = (way: Generator<Draft> | undefined): readonly Draft[] => {
    const found = way?.next();
    return found === undefined || found.done === true ? [] : [found.value];
  };
  let done = 0;
  let best: string | undefined;
  const steps = frequencies.length + FURTHER_CHOKES + 2;
  const step = <T>(value: T): T => {
    done += 1;
    progress(Math.min(LAST_SHARE, done / steps), best);
    return value;
  };
  const ways: Generator<Draft>[] = [];
  const firsts: (readonly Draft[])[] = [];
  for (const switchingFrequency of frequencies) {
    const first = sizeStage({ ...stage, switchingFrequency });
    if (!first.ok) return first;
    const way = search.drafts(first.value);
    ways.push(way);
    firsts.push(next(way));
    // Told at once, long before it is finished.
    const [ahead] = search.ranked(firsts.flat());
    best = ahead && `${draftWords(ahead)}, ${formatQuantity(ahead.figures.loss, 'W', 3)} lost`;
    step(undefined);
  }
  const [leader] = search.ranked(firsts.flat());
  // Every way has a draft, the first cut at least.
  if (!leader) throw new RangeError('No frequency is looked at.');
  const leading = ways[firsts.findIndex(([draft]) => draft === leader)];
  const further = Array.from({ length: FURTHER_CHOKES }, () => step(next(leading))).flat();
  const drafts = search.ranked([...firsts.flat(), ...further]);
  const [taken = leader, ...others] = drafts.slice(0, FINISHED_AT_MOST);
  let [design, draft] = [step(search.finished(taken)), taken];
  for (const other of others) {
    if (design.failing === 0) break;
    const next = step(search.finished(other));
    if (search.better(design, next) === next) [design, draft] = [next, other];
  }
  design = search.damped(design);
  const beaten = rivalsOf(drafts, draft);
  const lacksRecord = unrecorded(stage, design.evaluated.complete.stage) > 0;
  return good({
    design: {
      ...withControllerJudged(design, controlled.candidates),
      choices: [...controlled.choices, ...withFrequency(design, frequencies).filter(notChosen(controlled.choices))],
    },
    rivals: beaten.slice(0, RIVALS),
    drafts: beaten,
    nearest: [
      ...nearestOf(stage, design.evaluated, lacksRecord, holds),
      ...(design.noLoop === undefined ? [] : otherScheme(search, design)),
    ],
    controllers: controlled.candidates,
    ...(controlled.none !== undefined && { noController: controlled.none }),
  });
}

/** Peak current mode, where it has a loop that voltage mode has not, and holds every target with it. */
function otherScheme({ asked, inventory, objective }: Search, { evaluated }: Design): readonly Concession[] {
  const { scheme } = asked.control;
  if (!scheme.startsWith('voltage-mode') || asked.control.controller !== undefined) return [];
  const to = 'peak-current-mode' as const;
  const other: Stage = {
    ...asked,
    switchingFrequency: evaluated.complete.switchingFrequency,
    control: { ...asked.control, scheme: to, compensator: undefined },
  };
  const first = sizeStage(other);
  if (!first.ok) return [];
  const search = new Search(other, inventory, objective);
  const [draft] = search.drafts(first.value);
  return draft && search.finished(draft).failing === 0 ? [{ target: 'control.scheme', from: scheme, to }] : [];
}

const notChosen =
  (by: readonly Choice[]) =>
  ({ path }: Choice): boolean =>
    !by.some((one) => one.path === path);

/** A design without what its controllers settle of what was not judged. */
function withControllerJudged(design: Design, candidates: readonly ControllerCandidate[]): Design {
  const { evaluated } = design;
  const settled = controllersSettle(evaluated, candidates);
  const notJudged = evaluated.evaluation.notJudged.filter((words) => !settled.includes(words));
  return { ...design, evaluated: { ...evaluated, evaluation: { ...evaluated.evaluation, notJudged } } };
}

/** The choice of the frequency with what it was chosen from. */
function withFrequency({ choices, evaluated }: Design, frequencies: readonly number[]): readonly Choice[] {
  if (frequencies.length < 2) return choices;
  const tried = frequencies.map((one) => formatQuantity(one, 'Hz', 3)).join(', ');
  const choice: Choice = {
    path: 'switchingFrequency',
    quantity: 'switching frequency',
    unit: 'Hz',
    value: evaluated.complete.switchingFrequency,
    rule: `Of ${tried}, each drafted from records, the one whose draft misses the fewest targets and is then the best by the objective.`,
    source: 'Common practice',
  };
  return withChoice({ evaluated, choices }, 'switchingFrequency', choice).choices;
}

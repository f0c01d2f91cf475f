import { completeCompensator } from '../controller/compensatorCircuit.js';
import { judgeTransient, simulatedStep, withTransient } from '../corners/transientVerdicts.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import type { Verdict } from '../corners/verdict.js';
import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import { good, type Result } from '../result.js';
import { SWITCHING_FREQUENCY } from '../rules/rules.js';
import type { Choice } from '../sizing/choice.js';
import { proposeNetwork } from '../sizing/compensation.js';
import { sizeStage, type SizedStage } from '../sizing/size.js';
import { sizeLoop } from '../sizing/sizeLoop.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';
import { withChosenController, type Controlled } from './chosenController.js';
import { controllersSettle, type ControllerCandidate } from '../selection/controllers.js';
import { bankChoices, inputBanks, outputBanks, scaledBanks, type Banks } from './banks.js';
import type { Inventory } from '../library/inventory.js';
import { nearestOf, type Concession } from './nearest.js';
import { withLimits, withSoftStart } from './limits.js';
import { figuresOf, meritOf, takenByParts, type Figures, type Objective } from './merit.js';
import {
  chokeChoice,
  chokesFor,
  withDeadTime,
  withDiode,
  withChoice,
  withChoices,
  withSwitches,
  workedWith,
  type Chosen,
} from './powerParts.js';

/** A design from records: worked whole, with verdicts of steady state, loop and load step. @public */
export interface Design {
  readonly evaluated: EvaluatedStage;
  readonly choices: readonly Choice[];
  /** Why there is no loop, in words. */
  readonly noLoop: string | undefined;
  readonly figures: Figures;
  /** Targets missed, a loop that is lacking and parts that are no record; 0 where there is nothing to mend. */
  readonly failing: number;
}

/** A design that was beaten, and by what. @public */
export interface Rival {
  readonly switchingFrequency: number;
  readonly inductor: string;
  readonly figures: Figures;
  /** Targets it misses before its load step is simulated, in words. */
  readonly misses: readonly string[];
  /** What it would gain and cost, in a sentence. */
  readonly words: string;
}

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
/** Rounds in which a bank is made to fit what the engine and the simulator find. */
const BANK_ROUNDS = 6;
/** Rounds of full judgements that follow, each of which costs as much as all of those. */
const FULL_ROUNDS = 2;
/** Share of the allowed deviation aimed at, as other instants of the clock are harder, and how much less is too much of a bank. */
const AIMED = 0.88;
const ROOM = 0.2;
const MOST_COUNT = 60;

/** What of a stage is free: absent, and not pinned. */
const free = ({ parts }: Stage, key: keyof Stage['parts']): boolean => parts[key] === undefined;

function frequenciesOf({ stage, frequencies: range }: Controlled): readonly number[] {
  if (stage.switchingFrequency !== undefined) return [stage.switchingFrequency];
  if (!range) return UNASKED;
  const span = range.max / range.min;
  const all = Array.from({ length: FREQUENCIES }, (_, k) => range.min * span ** (k / (FREQUENCIES - 1)));
  return [...new Set(all.map((f) => Math.min(range.max, Math.max(range.min, nearestPreferred(f, 'E24')))))];
}

/** A stage with its power parts and input banks, and output banks that the closed forms ask for: before its loop is known. */
interface Draft extends Chosen {
  readonly banks: readonly Banks[];
  /** Of the stage with the first of the banks. */
  readonly figures: Figures;
}

/** A step of the load at an input voltage, V. */
interface StepAt {
  readonly inputVoltage: number;
  readonly up: boolean;
}

/** Everything the search of one stage knows. */
class Search {
  constructor(
    readonly asked: Stage,
    readonly inventory: Inventory,
    readonly objective: Objective,
  ) {}

  /** Drafts at one frequency, one for each choke that fits, the best by the objective first; each is worked when it is asked for. */
  *drafts(first: SizedStage): Generator<Draft> {
    const begun: Chosen = { evaluated: first, choices: first.choices };
    const offered = free(this.asked, 'inductor') ? chokesFor(first, this.inventory, this.objective) : [];
    const { stage } = first.complete;
    let some = false;
    for (const part of offered) {
      const evaluated = workedWith(stage, { parts: { ...stage.parts, inductor: part } });
      // Windings on one core share their flux: what fits alone may ripple too much coupled.
      if (!evaluated || fails(evaluated, 'inductorRippleRatio') || fails(evaluated, 'inductorSaturation')) continue;
      some = true;
      yield this.draft(
        withChoice({ evaluated, choices: begun.choices }, 'parts.inductor', chokeChoice(part, offered.length)),
      );
    }
    // Where none fits the first cut stays, and its verdicts say what no record meets.
    if (!some) yield this.draft(begun);
  }

  /** A stage with its choke: switches, rectifier, dead time and input banks. */
  private draft(begun: Chosen): Draft {
    const { asked, inventory, objective } = this;
    let chosen = withSwitches(begun, inventory, objective, (place) => free(asked, place));
    if (asked.rectifier === 'diode' && free(asked, 'diode')) chosen = withDiode(chosen, inventory, objective);
    // With switches of one's own a dead time of none means just that.
    if (asked.deadTime === 0 && free(asked, 'highSide')) chosen = withDeadTime(chosen);
    chosen = withLimits(chosen, asked);
    const rest = figuresOf(chosen.evaluated);
    if (free(asked, 'inputCapacitors')) {
      const [banks] = inputBanks(chosen.evaluated, inventory, rest, objective);
      if (banks) chosen = this.grown(chosen, 'inputCapacitors', 'inputRipple', banks);
    }
    const banks = free(asked, 'outputCapacitors') ? outputBanks(chosen.evaluated, inventory, rest, objective) : [];
    const { stage } = chosen.evaluated.complete;
    const outputCapacitors = banks[0] ? [...banks[0]] : stage.parts.outputCapacitors;
    const taken = takenByParts({ ...stage, parts: { ...stage.parts, outputCapacitors } });
    return { ...chosen, banks, figures: { loss: rest.loss, ...taken } };
  }

  /** A draft with output banks that hold the load step, and its loop: judged in everything. */
  finished(draft: Draft): Design {
    const [banks, ...others] = draft.banks;
    if (!banks) return this.closed(draft);
    const design = this.closedWith(draft, banks);
    // Another kind of bank where the first does not do.
    const other = others.find((one) => one.at(-1)?.name !== banks.at(-1)?.name);
    if (!other || !verdictsOf(design).some(({ target, pass }) => OF_BANKS.has(target) && !pass)) return design;
    return this.better(design, this.closedWith(draft, other));
  }

  /** The one of two designs that misses fewer targets; then the one that misses less; then the better by the objective. */
  better(one: Design, other: Design): Design {
    if (one.failing !== other.failing) return one.failing < other.failing ? one : other;
    const [a, b] = [missed(verdictsOf(one)), missed(verdictsOf(other))];
    if (Math.abs(a - b) > 1e-3) return a < b ? one : other;
    return meritOf(one.figures, this.objective) <= meritOf(other.figures, this.objective) ? one : other;
  }

  /** Drafts with the fewest parts that are no record and targets missed first, then by the objective. */
  ranked(drafts: readonly Draft[]): readonly Draft[] {
    return drafts
      .map((draft) => {
        const { evaluation, complete } = draft.evaluated;
        return {
          draft,
          missing: missed(evaluation.verdicts) + NO_RECORD * unrecorded(this.asked, complete.stage),
          merit: meritOf(draft.figures, this.objective),
        };
      })
      .sort((a, b) => a.missing - b.missing || a.merit - b.merit)
      .map(({ draft }) => draft);
  }

  /** Banks on one side, made larger until the ripple holds. */
  private grown(chosen: Chosen, side: 'inputCapacitors' | 'outputCapacitors', target: string, banks: Banks): Chosen {
    const { stage } = chosen.evaluated.complete;
    let here: Banks = banks;
    let evaluated = chosen.evaluated;
    let before: number | undefined;
    for (let round = 0; round < BANK_ROUNDS; round += 1) {
      const next = workedWith(stage, { parts: { ...stage.parts, [side]: [...here] } });
      if (!next) break;
      evaluated = next;
      const verdict = next.evaluation.verdicts.find((one) => one.target === target);
      if (!verdict || verdict.pass || verdict.worst === null) break;
      // What more of it does not quiet is no matter of capacitance.
      if (before !== undefined && verdict.worst > 0.97 * before) break;
      before = verdict.worst;
      const [first] = here;
      if (!first || first.count >= MOST_COUNT) break;
      const factor = Math.min(3, verdict.worst / verdict.required);
      here = [{ ...first, count: Math.max(first.count + 1, Math.ceil(first.count * factor)) }, ...here.slice(1)];
    }
    const input = side === 'inputCapacitors';
    const volts = input ? stage.targets.inputVoltage.max : Math.abs(stage.targets.outputVoltage);
    const why = input
      ? 'the input ripple and its current ask for as many'
      : 'output ripple and load step ask for as many';
    const choices = bankChoices(input ? 'input' : 'output', here, volts, why);
    return withChoices({ evaluated, choices: chosen.choices }, `parts.${side}`, choices);
  }

  /**
   * With output banks made to fit: while they are found, the step is simulated at the ends of the input range with a loop proposed for
   * them; what is found is then judged in full, and enlarged where another instant of the clock is harder.
   */
  private closedWith(draft: Draft, banks: Banks): Design {
    let here = this.grown(draft, 'outputCapacitors', 'outputRipple', banks);
    const seen = new Set<string>();
    let hardest: StepAt | undefined;
    let least: Chosen | undefined;
    for (let round = 0; round < BANK_ROUNDS; round += 1) {
      const found = this.hardestStep(here.evaluated, hardest);
      if (!found) break;
      // Which step is the hardest is a matter of the power stage, and stays as banks grow.
      hardest ??= found.at;
      const { over } = found;
      const present = here.evaluated.complete.outputCapacitors;
      seen.add(countsOf(present));
      if (over <= AIMED && (!least || countOf(here) < countOf(least))) least = here;
      if (over <= AIMED && over > AIMED - ROOM) break;
      const next = scaledBanks(present, over > AIMED ? Math.min(3, (over / AIMED) * 1.03) : over / (AIMED - ROOM / 2));
      if (seen.has(countsOf(next)) || (next.at(-1)?.count ?? 0) > MOST_COUNT) break;
      here = this.grown(here, 'outputCapacitors', 'outputRipple', next);
    }
    here = least ?? here;
    let design = this.closed(here);
    let best = design;
    for (let round = 0; round < FULL_ROUNDS; round += 1) {
      const step = verdictsOf(design).find(({ target }) => target === 'loadStepDeviation');
      if (!step || step.pass || step.worst === null) break;
      const next = scaledBanks(design.evaluated.complete.outputCapacitors, Math.min(2, step.worst / step.required));
      if ((next.at(-1)?.count ?? 0) > MOST_COUNT) break;
      here = this.grown(here, 'outputCapacitors', 'outputRipple', next);
      design = this.closed(here);
      best = this.better(best, design);
    }
    return best;
  }

  /**
   * The step that moves the output farthest, at the clock, with a loop of its own: its deviation over what is allowed.
   *
   * @param only the step that is looked at; else both at both ends of the input range.
   */
  private hardestStep(
    evaluated: EvaluatedStage,
    only: StepAt | undefined,
  ): { readonly at: StepAt; readonly over: number } | undefined {
    const { stage } = evaluated.complete;
    const { loadStep, inputVoltage } = stage.targets;
    if (loadStep?.deviation === undefined || stage.control.scheme === 'open-loop') return undefined;
    const proposed = completeLoop(stage) ? { control: stage.control } : proposeNetwork(evaluated);
    if (typeof proposed === 'string') return undefined;
    const looped = completeStage({ ...stage, control: proposed.control });
    if (!looped.ok) return undefined;
    const ends = [...new Set([inputVoltage.min, inputVoltage.max])];
    const steps = only ? [only] : ends.flatMap((volts) => [true, false].map((up) => ({ inputVoltage: volts, up })));
    let hardest: { readonly at: StepAt; readonly over: number } | undefined;
    for (const at of steps) {
      const step = simulatedStep(looped.value, { ...at, instant: 0 });
      if (typeof step !== 'object') return undefined;
      const over = step.deviation / loadStep.deviation;
      if (!hardest || over > hardest.over) hardest = { at, over };
    }
    return hardest;
  }

  /** With its loop, judged in everything. */
  private closed(open: Chosen): Design {
    const { evaluated, choices } = withSoftStart(open);
    const looped = sizeLoop({ ...evaluated, choices });
    const { noLoop } = looped;
    const judged = withTransient(looped, judgeTransient(looped.complete));
    const failures = judged.evaluation.verdicts.filter(({ pass }) => !pass).length;
    const lacking = (noLoop === undefined ? 0 : 1) + NO_RECORD * unrecorded(this.asked, judged.complete.stage);
    return {
      evaluated: judged,
      choices: looped.choices,
      noLoop,
      figures: figuresOf(judged),
      failing: failures + lacking,
    };
  }
}

const verdictsOf = ({ evaluated }: Design): readonly Verdict[] => evaluated.evaluation.verdicts;
/** Targets that output banks decide. */
const OF_BANKS = new Set(['outputRipple', 'loadStepDeviation', 'loadStepRecovery']);
const completeLoop = ({ control }: Stage): boolean =>
  control.scheme === 'constant-on-time' || completeCompensator(control).ok;
const countOf = ({ evaluated }: Chosen): number => evaluated.complete.outputCapacitors.at(-1)?.count ?? 0;
const countsOf = (banks: Banks): string => banks.map(({ name, count }) => `${String(name)} ${String(count)}`).join();
const fails = ({ evaluation }: EvaluatedStage, target: string): boolean =>
  evaluation.verdicts.some((one) => one.target === target && !one.pass);

/** By how much a design misses its targets: the sum of the negative margins, of a hundred where there is no figure. */
const missed = (verdicts: readonly Verdict[]): number =>
  verdicts.reduce((sum, { pass, margin }) => (pass ? sum : sum + Math.min(10, Math.max(1e-3, -(margin ?? -10)))), 0);

/** Parts that were to be chosen and are no record: none of the inventory would do. Output banks come last. */
function unrecorded(asked: Stage, { parts }: Stage, beforeBanks = false): number {
  const places = [
    'inductor',
    ...topologyOf(asked).legs.flatMap(({ main, rectifier }) =>
      asked.rectifier === 'synchronous' ? [main, rectifier] : [main, 'diode' as const],
    ),
    ...(beforeBanks ? [] : (['outputCapacitors'] as const)),
    'inputCapacitors',
  ] as const;
  return [...new Set(places)]
    .filter((place) => free(asked, place))
    .flatMap((place): readonly { readonly name?: string | undefined }[] => {
      const part = parts[place];
      return part === undefined ? [] : Array.isArray(part) ? part : [part];
    })
    .filter(({ name }) => name === undefined).length;
}

/** A part that nobody sells weighs as much as so many targets missed. */
const NO_RECORD = 10;

/**
 * Design a stage from records: what is present stays, what is absent is chosen over the allowed frequencies, so that every target holds
 * at every corner, in steady state, loop and simulated load step, and the best by the objective is kept.
 *
 * @param inventory the records that may be taken.
 * @param progress told now and then of the share that is done, 0 to 1: drafts first, then what is finished of them.
 * @public
 */
export function designStage(
  asked: Stage,
  inventory: Inventory,
  objective: Objective = 'balanced',
  progress: (share: number) => void = () => undefined,
): Result<Designed> {
  const controlled = withChosenController(asked, inventory);
  const { stage } = controlled;
  const search = new Search(stage, inventory, objective);
  const frequencies = frequenciesOf(controlled);
  /** Another stage with parts from records, before its loop, at the frequency of the design. */
  const drafted = (other: Stage): EvaluatedStage | undefined => {
    const own = design.evaluated.complete.switchingFrequency;
    const { switchingFrequency = own } = other;
    // A frequency that the controller does not reach is no way out.
    const reached = controlled.stage.control.controller === undefined ? undefined : controlled.frequencies;
    const outside = reached && (switchingFrequency < reached.min || switchingFrequency > reached.max);
    if (outside && switchingFrequency !== own) return undefined;
    const first = sizeStage({ ...other, switchingFrequency });
    if (!first.ok) return undefined;
    const [found] = new Search(other, inventory, objective).drafts(first.value);
    return found && unrecorded(other, found.evaluated.complete.stage, true) === 0 ? found.evaluated : undefined;
  };
  const ways: Generator<Draft>[] = [];
  for (const switchingFrequency of frequencies) {
    const first = sizeStage({ ...stage, switchingFrequency });
    if (!first.ok) return first;
    ways.push(search.drafts(first.value));
  }
  const next = (way: Generator<Draft> | undefined): readonly Draft[] => {
    const found = way?.next();
    return found === undefined || found.done === true ? [] : [found.value];
  };
  let done = 0;
  const steps = ways.length + FURTHER_CHOKES + 2;
  const step = <T>(value: T): T => {
    done += 1;
    progress(Math.min(LAST_SHARE, done / steps));
    return value;
  };
  const firsts = ways.map((way) => step(next(way)));
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
  const beaten = rivalsOf(drafts, draft);
  return good({
    design: {
      ...withControllerJudged(design, controlled.candidates),
      choices: [...controlled.choices, ...withFrequency(design, frequencies).filter(notChosen(controlled.choices))],
    },
    rivals: beaten.slice(0, RIVALS),
    drafts: beaten,
    nearest: nearestOf(stage, design.evaluated, drafted),
    controllers: controlled.candidates,
    ...(controlled.none !== undefined && { noController: controlled.none }),
  });
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

const percent = (value: number): string => `${(100 * value).toFixed(0)} %`;

/** The drafts that a design was chosen before, the nearest first. */
function rivalsOf(drafts: readonly Draft[], taken: Draft): readonly Rival[] {
  const drafted = taken.figures;
  return drafts
    .filter((one) => one !== taken && Number.isFinite(one.figures.loss) && Number.isFinite(drafted.loss))
    .map((one): Rival => {
      const { figures } = one;
      const { switchingFrequency, inductor } = one.evaluated.complete;
      const than = (own: number, other: number, what: string): string =>
        `${percent(Math.abs(own / other - 1))} ${own < other ? 'less' : 'more'} ${what}`;
      const missing = one.evaluated.evaluation.verdicts.filter(({ pass }) => !pass).map(({ quantity }) => quantity);
      return {
        switchingFrequency,
        inductor: inductor.name ?? '',
        figures,
        misses: missing,
        words: `${formatQuantity(switchingFrequency, 'Hz', 3)} with ${inductor.name ?? formatQuantity(inductor.inductance, 'H', 3)}: ${than(figures.loss, drafted.loss, 'loss')}, ${than(figures.area, drafted.area, 'board')}, ${than(figures.price, drafted.price, 'price')}, both before the load step is simulated${missing.length > 0 ? `; it misses ${missing.join(', ')}` : ''}`,
      };
    });
}

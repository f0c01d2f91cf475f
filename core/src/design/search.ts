import { LEAST_GAIN } from '../rules/rules.js';
import { completeCompensator } from '../controller/compensatorCircuit.js';
import { judgeTransient, simulatedStep, withTransient } from '../corners/transientVerdicts.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { isSteady, type Verdict } from '../corners/verdict.js';
import type { Choice } from '../sizing/choice.js';
import { proposeNetwork } from '../sizing/compensation.js';
import type { SizedStage } from '../sizing/size.js';
import { sizeLoop } from '../sizing/sizeLoop.js';
import { completeStage } from '../stage/completeStage.js';
import { problemsSentence } from '../stage/problemSentence.js';
import { withInductor } from '../library/withInductor.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';
import { bankChoices, inputBanks, outputBanks, scaledBanks, type Banks } from './banks.js';
import type { Inventory } from '../library/inventory.js';
import { inputDamping, type InputDamping } from './inputDamping.js';
import { withLimits, withSoftStart } from './limits.js';
import { figuresOf, meritOf, takenByParts, type Figures, type Objective } from './merit.js';
import {
  chokeChoices,
  chokesFor,
  withDeadTime,
  withDiode,
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

/** A stage with its power parts and input banks, and output banks that the closed forms ask for: before its loop is known. */
export interface Draft extends Chosen {
  readonly banks: readonly Banks[];
  /** Of the stage with the first of the banks. */
  readonly figures: Figures;
}

/** A step of the load at an input voltage, V. */
interface StepAt {
  readonly inputVoltage: number;
  readonly up: boolean;
}

/** The search of one stage: drafts of it, and what they come to when they are finished. */
export class Search {
  constructor(
    readonly asked: Stage,
    readonly inventory: Inventory,
    readonly objective: Objective,
  ) {}

  /** Drafts at one frequency, one for each choke that fits, the best by the objective first; each is worked when it is asked for. */
  *drafts(first: SizedStage): Generator<Draft> {
    const begun: Chosen = { evaluated: first, choices: first.choices };
    const none = { chokes: [], wide: false };
    const { chokes, wide } = free(this.asked, 'inductor') ? chokesFor(first, this.inventory, this.objective) : none;
    const { stage } = first.complete;
    let some = false;
    for (const part of chokes) {
      const evaluated = workedWith(withInductor(stage, part), {});
      // Windings on one core share their flux: what fits alone may ripple too much coupled.
      if (!evaluated || fails(evaluated, 'inductorRippleRatio') || fails(evaluated, 'inductorSaturation')) continue;
      some = true;
      yield this.draft(
        withChoices({ evaluated, choices: begun.choices }, 'parts.inductor', chokeChoices(part, chokes.length, wide)),
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

  /** A draft with the first of its output banks, enlarged until the ripple holds. */
  banked(draft: Draft): Chosen {
    const [banks] = draft.banks;
    return banks ? this.grown(draft, 'outputCapacitors', 'outputRipple', banks) : draft;
  }

  /** A draft with output banks that hold the load step, and its loop: judged in everything. */
  finished(drafted: Draft): Design {
    // Before the load step is simulated: what rings at the input does not come to rest.
    const draft = { ...drafted, ...this.withDamping(drafted, drafted.figures) };
    const [banks, ...others] = draft.banks;
    if (!banks) return this.closed(draft);
    const design = this.closedWith(draft, banks);
    // Another kind of bank where the first does not do.
    const other = others.find((one) => one.at(-1)?.name !== banks.at(-1)?.name);
    if (!other || !verdictsOf(design).some(({ target, pass }) => OF_BANKS.has(target) && !pass)) return design;
    return this.better(design, this.closedWith(draft, other));
  }

  /** With bulk that damps what is before the input, where the input banks are chosen and it is needed. */
  private withDamping(chosen: Chosen, figures: Figures): Chosen | undefined {
    if (!free(this.asked, 'inputCapacitors')) return undefined;
    const missing = ({ evaluated }: Chosen): number => missed(evaluated.evaluation.verdicts.filter(isSteady));
    for (const found of inputDamping(chosen.evaluated.complete, this.inventory, figures, this.objective)) {
      const damped = withBulk(chosen, found);
      // Bulk that takes more of the ripple than it is rated for is none.
      if (damped && missing(damped) <= missing(chosen)) return damped;
    }
    return undefined;
  }

  /** A design with bulk that damps what is before its input, where that is chosen, is needed and breaks nothing. */
  damped(design: Design): Design {
    const chosen = design.noLoop === undefined ? this.withDamping(design, design.figures) : undefined;
    const damped = chosen && this.closed(chosen);
    return damped && damped.failing <= design.failing ? damped : design;
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
      if (before !== undefined && verdict.worst > LEAST_GAIN * before) break;
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
      if (typeof found === 'string') break;
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
   * @returns the words for why there is none.
   */
  hardestStep(evaluated: EvaluatedStage, only?: StepAt): { readonly at: StepAt; readonly over: number } | string {
    const { stage } = evaluated.complete;
    const { loadStep, inputVoltage } = stage.targets;
    if (loadStep?.deviation === undefined) return 'no deviation is asked for';
    if (stage.control.scheme === 'open-loop') return 'nothing regulates the stage';
    const proposed = completeLoop(stage) ? { control: stage.control } : proposeNetwork(evaluated);
    if (typeof proposed === 'string') return proposed;
    const looped = completeStage({ ...stage, control: proposed.control });
    if (!looped.ok) return problemsSentence(looped.problems);
    const ends = [...new Set([inputVoltage.min, inputVoltage.max])];
    const steps = only ? [only] : ends.flatMap((volts) => [true, false].map((up) => ({ inputVoltage: volts, up })));
    let hardest: { readonly at: StepAt; readonly over: number } | undefined;
    for (const at of steps) {
      const step = simulatedStep(looped.value, { ...at, instant: 0 });
      if (typeof step !== 'object') return step ?? 'no step is asked for';
      const over = step.deviation / loadStep.deviation;
      if (!hardest || over > hardest.over) hardest = { at, over };
    }
    return hardest ?? 'no step is asked for';
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

/** A stage with bulk beside its input banks, and why; undefined where it cannot be worked. */
function withBulk({ evaluated, choices }: Chosen, { bank, why }: InputDamping): Chosen | undefined {
  const { stage, inputCapacitors } = evaluated.complete;
  const worked = workedWith(stage, { parts: { ...stage.parts, inputCapacitors: [...inputCapacitors, bank] } });
  if (!worked) return undefined;
  const path = `parts.inputCapacitors[${String(inputCapacitors.length)}].count`;
  const made = bankChoices('input', [bank], stage.targets.inputVoltage.max, why).map((one) => ({ ...one, path }));
  return { evaluated: worked, choices: [...choices, ...made] };
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
export function unrecorded(asked: Stage, { parts }: Stage, beforeBanks = false): number {
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

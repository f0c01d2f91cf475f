import { nextPreferredDown, nextPreferredUp, preferredAtLeast, preferredAtMost } from '../quantity/preferredValues.js';
import type { Unit } from '../quantity/unit.js';
import { pathText, valueAt, withValue, type StagePath } from '../stage/place.js';
import { stageFromDocument } from '../stage/readStage.js';
import { stageField, type Stage } from '../stage/schema.js';
import { evaluateStage } from './evaluate.js';
import type { LedgerLine } from './marginProbe.js';
import { judgeLoop, withLoop } from './loopVerdicts.js';
import { judgeTransient } from './transientVerdicts.js';
import { TIGHT_MARGIN, type Verdict } from './verdict.js';

/** What a change does to one target: its margin before and after. @public */
export interface MarginChange {
  readonly target: string;
  readonly quantity: string;
  readonly before: number | null;
  readonly after: number | null;
}

/** One change of the design that would mend a target, and what it costs elsewhere. @public */
export interface NextStep {
  readonly path: StagePath;
  readonly quantity: string;
  readonly unit: Unit;
  readonly from: number;
  readonly to: number;
  readonly mended: MarginChange;
  /** Margins that shrink by enough to be worth a word, the one that loses most first. */
  readonly costs: readonly MarginChange[];
  /** Whether the target holds after it and nothing fails that held before. */
  readonly clean: boolean;
}

/** What a failing target is to be left with, so that it does not fail by rounding; one that is tight is to be so no more. */
const ENOUGH = 0.01;
/** A value moved further than this is another design. */
const FURTHEST = 4;
/** Preferred values tried one after the other until the target has what it is to have. */
const TRIES = 5;
/** A margin that shrinks by less is not worth a word. */
const WORTH_A_WORD = 0.02;

/** The margin a line is to reach with its parts at their stated values, for what it loses to their spread to be covered. */
function aimOf({ margin, nominal, pass }: LedgerLine): number {
  const spread = nominal.margin !== null && margin !== null ? nominal.margin - margin : 0;
  return (pass ? TIGHT_MARGIN : ENOUGH) + spread;
}

/** What is moved in place of a driver: of what stands in parallel, the number. */
function movedFor(stage: Stage, path: string): { readonly path: StagePath; readonly inverse: boolean } {
  const steps = path.split(/[.[\]]+/).filter((step) => step !== '');
  const place: StagePath = steps.map((step) => (/^\d+$/.test(step) ? Number(step) : step));
  const last = String(place.at(-1));
  const count = [...place.slice(0, -1), 'count'];
  const parallel = typeof valueAt(stage, count) === 'number';
  if (parallel && last === 'capacitance') return { path: count, inverse: false };
  if (parallel && (last === 'esr' || last === 'esl')) return { path: count, inverse: true };
  return { path: place, inverse: false };
}

/** Classes that tolerances are sold in, coarsest first. Common practice. */
const CLASSES = [0.05, 0.02, 0.01, 0.005, 0.0025, 0.001] as const;

/** The preferred values from one on, away from where the design is. */
function* preferredFrom(value: number, unit: Unit, up: boolean): Generator<number> {
  const series = unit === 'F' || unit === 'H' ? 'E12' : 'E24';
  if (unit === 'count') {
    for (let n = up ? Math.ceil(value) : Math.floor(value); n >= 1; n += up ? 1 : -1) yield n;
    return;
  }
  if (unit === 'ratio') {
    yield* up ? CLASSES.toReversed().filter((one) => one >= value) : CLASSES.filter((one) => one <= value);
    return;
  }
  for (
    let next = up ? preferredAtLeast(value, series) : preferredAtMost(value, series);
    ;
    next = up ? nextPreferredUp(next, series) : nextPreferredDown(next, series)
  )
    yield next;
}

/** @param simulated whether the load step of the targets is simulated too: it takes a hundred times as long. */
function judged(stage: Stage, simulated: boolean): readonly Verdict[] | undefined {
  const evaluated = evaluateStage(stage);
  if (!evaluated.ok) return undefined;
  const { verdicts } = withLoop(evaluated.value, judgeLoop(evaluated.value)).evaluation;
  return simulated ? [...verdicts, ...judgeTransient(evaluated.value.complete).verdicts] : verdicts;
}

const worth = (margin: number | null): number => margin ?? -Infinity;

/**
 * The changes of one value each that would mend a target, out of the drivers of its margin: each the nearest preferred value that
 * does, worked whole at every corner with its loop, and with its load step where that is the target, cleanest first. Where capacitors or switches stand in parallel their number is
 * moved. Values as stated; what the spread of the parts takes is aimed for on top.
 *
 * @param line the target with its drivers, as the ledger in full has it.
 * @param goesOn asked before each change is worked; those that are not any more are left out.
 * @public
 */
export function nextSteps(stage: Stage, line: LedgerLine, goesOn: () => boolean = () => true): readonly NextStep[] {
  const simulated = line.figure === 'transient';
  const before = judged(stage, simulated);
  const { margin } = line.nominal;
  if (!before || margin === null) return [];
  const aim = aimOf(line);
  const seen = new Set<string>();
  const steps = line.drivers.flatMap(({ path, sensitivity }): readonly NextStep[] => {
    const moved = movedFor(stage, path);
    const key = pathText(moved.path);
    const from = valueAt(stage, moved.path);
    const field = stageField(moved.path);
    if (seen.has(key) || typeof from !== 'number' || !field) return [];
    seen.add(key);
    const log = ((aim - margin) / sensitivity) * (moved.inverse ? -1 : 1);
    const first = from * Math.exp(Math.max(-Math.log(FURTHEST), Math.min(Math.log(FURTHEST), log)));
    let tries = 0;
    let best: NextStep | undefined;
    for (const to of preferredFrom(first, field.unit, log > 0)) {
      tries += 1;
      if (!goesOn()) break;
      if (tries > TRIES || to > FURTHEST * from || to < from / FURTHEST || to === from) break;
      const read = stageFromDocument(withValue(stage, moved.path, to));
      const after = read.ok ? judged(read.value, simulated) : undefined;
      const step = after && stepOf({ path: moved.path, ...field, from, to }, line.target, before, after);
      if (!step) break;
      best = step;
      if (worth(step.mended.after) >= aim) break;
    }
    return best && worth(best.mended.after) >= (line.pass ? aim : 0) ? [best] : [];
  });
  const loss = ({ costs }: NextStep): number =>
    costs.reduce((sum, one) => sum + Math.min(1, worth(one.before) - worth(one.after)), 0);
  return steps.toSorted((a, b) => Number(b.clean) - Number(a.clean) || loss(a) - loss(b));
}

function stepOf(
  change: Pick<NextStep, 'path' | 'quantity' | 'unit' | 'from' | 'to'>,
  target: string,
  before: readonly Verdict[],
  after: readonly Verdict[],
): NextStep | undefined {
  const { path, quantity, unit, from, to } = change;
  const looped = after.some(({ figure }) => figure === 'loop');
  const changes = before.flatMap((one): readonly MarginChange[] => {
    const then = after.find((other) => other.target === one.target);
    // A loop that is there no more fails; of two margins that stand for each other one may give way to the other.
    if (!then && one.figure === 'loop' && !looped)
      return [{ target: one.target, quantity: one.quantity, before: one.margin, after: null }];
    if (!then) return [];
    return [{ target: one.target, quantity: one.quantity, before: one.margin, after: then.margin }];
  });
  const mended = changes.find((one) => one.target === target);
  if (!mended) return undefined;
  const costs = changes
    .filter((one) => one !== mended && worth(one.before) - worth(one.after) > WORTH_A_WORD && worth(one.after) < 1)
    .toSorted((a, b) => worth(b.before) - worth(b.after) - (worth(a.before) - worth(a.after)));
  const clean = worth(mended.after) >= 0 && !changes.some((one) => worth(one.before) >= 0 && worth(one.after) < 0);
  return { path, quantity, unit, from, to, mended, costs, clean };
}

import { kindAt } from '../library/placeKinds.js';
import type { Inventory } from '../library/inventory.js';
import { lossesByKind, type LossKind } from '../losses/lossKinds.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Stage } from '../stage/schema.js';
import { firstDraft, type FirstDraft } from './firstDraft.js';
import { freed } from './freed.js';
import { figuresOf, fullLoadPoint, meritOf, partsPlaced, type Figures, type Objective } from './merit.js';

/** A stage with a number of phases, its parts chosen anew from records for the same targets at the same frequency. @public */
export interface PhaseCount {
  readonly phases: number;
  /** As it stands here, without a loop of its own. */
  readonly stage: Stage;
  readonly inductor: {
    readonly name: string | undefined;
    readonly inductance: number;
    readonly volume: number | undefined;
  };
  /** A peak to peak, the widest over the input range at full load: of one phase, and of all together. */
  readonly winding: number;
  readonly summed: number;
  /** A, all input capacitors, the highest over the corners. */
  readonly inputRms: number;
  /** F, by the values that are printed on the parts. */
  readonly outputCapacitance: number;
  readonly inputCapacitance: number;
  /** Power parts placed on the board. */
  readonly parts: number;
  readonly figures: Figures;
  /** W at nominal input and full load. */
  readonly losses: Readonly<Record<LossKind, number>>;
  /** Targets missed before the load step, in words. */
  readonly misses: readonly string[];
}

/** How far the output goes at the hardest load step with a compensator proposed for it, simulated at the clock. @public */
export interface PhaseStep {
  readonly phases: number;
  /** V; undefined where none could be simulated, with the reason in words. */
  readonly deviation: number | undefined;
  readonly allowed: number;
  readonly reason?: string;
}

/** @public */
export const MOST_STUDIED = 12;

/** The stage with another number of phases, its power parts to be chosen; what surrounds it and its control stay. */
function bare(stage: Stage, phases: number): Stage {
  const kept = stage.pinned.filter((path) => kindAt(path.replace(/^parts\./, '')) === undefined);
  // Its current limit is one phase's.
  const open = freed({ ...stage, pinned: kept }, (path) => path === 'control.currentLimit');
  const { switchingFrequency } = stage;
  return {
    ...open,
    phases,
    coupling: { kind: 'none' },
    ...(switchingFrequency !== undefined && { switchingFrequency }),
  };
}

/** What one number of phases comes to. */
function counted({ evaluated, misses }: FirstDraft): PhaseCount {
  const { complete, corners } = evaluated;
  const { stage, inductor, outputCapacitors, inputCapacitors } = complete;
  const points = corners.flatMap(({ corner, result }) => (result.kind === 'solved' ? [{ corner, ...result }] : []));
  const full = points.filter(({ corner }) => corner.outputCurrent === stage.targets.outputCurrent.max);
  const most = (of: readonly number[]): number => (of.length === 0 ? NaN : Math.max(...of));
  const sum = (of: typeof outputCapacitors): number =>
    of.reduce((total, { capacitance, count }) => total + capacitance * count, 0);
  const { length, width, height } = inductor;
  const one = length === undefined || width === undefined || height === undefined ? undefined : length * width * height;
  return {
    phases: stage.phases,
    stage,
    inductor: {
      name: inductor.name,
      inductance: inductor.inductance,
      volume: one === undefined ? undefined : one * stage.phases,
    },
    winding: most(full.map(({ point }) => point.inductorCurrent.ripple)),
    summed: most(full.map(({ point }) => point.totalInductorRipple)),
    inputRms: most(points.map(({ point }) => point.inputCapacitorRms)),
    outputCapacitance: sum(outputCapacitors),
    inputCapacitance: sum(inputCapacitors),
    parts: partsPlaced(stage),
    figures: figuresOf(evaluated),
    losses: lossesByKind(fullLoadPoint(evaluated)?.point.losses ?? {}),
    misses,
  };
}

/** One number of phases being studied. */
export interface StudiedCount {
  readonly count: PhaseCount;
  /** Its hardest load step; undefined where none is asked for. Takes a second or more. */
  readonly step: () => PhaseStep | undefined;
}

/**
 * A stage with 1 to 12 phases at equal total current and the same targets, one after another: each with parts of its own from records.
 *
 * @public
 */
export function* phaseCounts(
  stage: Stage,
  inventory: Inventory,
  objective: Objective,
  most = MOST_STUDIED,
): Generator<StudiedCount> {
  for (let phases = 1; phases <= most; phases += 1) {
    const asked = bare(stage, phases);
    const draft = firstDraft(asked, inventory, objective);
    if (!draft) continue;
    const { search, evaluated } = draft;
    yield {
      count: counted(draft),
      step: () => {
        const allowed = asked.targets.loadStep?.deviation;
        if (allowed === undefined) return undefined;
        const found = search.hardestStep(evaluated);
        return typeof found === 'string'
          ? { phases, deviation: undefined, allowed, reason: found }
          : { phases, deviation: found.over * allowed, allowed };
      },
    };
  }
}

/** Which number of phases is recommended, and why. @public */
export interface Recommended {
  readonly phases: number;
  readonly runnerUp: number | undefined;
  readonly words: string;
}

const share = (value: number): string => `${(100 * Math.abs(value)).toFixed(0)} %`;
const named = ({ phases }: PhaseCount): string => `${String(phases)} phase${phases === 1 ? '' : 's'}`;
const volts = (value: number): string => formatQuantity(value, 'V', 3);

/** What is known of the load step of a number, in words; undefined where none is asked for. */
function stepWords({ phases, stage }: PhaseCount, steps: readonly PhaseStep[]): string | undefined {
  const allowed = stage.targets.loadStep?.deviation;
  if (allowed === undefined) return undefined;
  const step = steps.find((one) => one.phases === phases);
  if (!step) return 'Its load step has not been simulated.';
  const { deviation } = step;
  if (deviation === undefined) return `Its load step could not be simulated: ${step.reason ?? ''}.`;
  const more = deviation > allowed ? ', which more output capacitors have to mend' : '';
  return `Its load step takes the output ${volts(deviation)} of the ${volts(allowed)} allowed${more}.`;
}

/**
 * The number of phases whose parts miss nothing and are the best by the objective, with the runner-up; where all miss something, the one
 * that misses least.
 *
 * @param steps load steps as far as they are known: a deviation beyond what is allowed weighs as more output capacitors to come, not as a
 *   miss, since banks are enlarged for it when a design is finished; one that could not be simulated is a miss.
 * @public
 */
export function recommendedCount(
  counts: readonly PhaseCount[],
  objective: Objective,
  steps: readonly PhaseStep[] = [],
): Recommended | undefined {
  const ranked = counts
    .map((count) => {
      const step = steps.find((one) => one.phases === count.phases);
      const unknown = step !== undefined && step.deviation === undefined;
      const over = Math.max(1, (step?.deviation ?? 0) / (step?.allowed ?? 1));
      return {
        count,
        misses: unknown ? [...count.misses, 'load step'] : count.misses,
        merit: meritOf(count.figures, objective) + Math.log(over),
      };
    })
    .sort((a, b) => a.misses.length - b.misses.length || a.merit - b.merit);
  const [best, next] = ranked;
  if (!best) return undefined;
  const { loss, area, price } = best.count.figures;
  const sentences = [
    best.misses.length === 0
      ? `${named(best.count)}: ${formatQuantity(loss, 'W', 3)} lost, ${(area * 1e4).toFixed(1)} cm² under the parts, price ${price.toFixed(2)}.`
      : `No number of phases meets all; ${named(best.count)} misses least: ${best.misses.join(', ')}.`,
    stepWords(best.count, steps),
  ];
  const fewer = ranked
    .filter(({ count, misses }) => count.phases < best.count.phases && misses.length > best.misses.length)
    .sort((a, b) => a.count.phases - b.count.phases);
  if (fewer.length > 0)
    sentences.push(
      `Fewer do not do: ${fewer.map(({ count, misses }) => `${named(count)} miss${count.phases === 1 ? 'es' : ''} ${misses.join(', ')}`).join('; ')}.`,
    );
  if (next) {
    const than = (what: string, of: (figures: Figures) => number): string => {
      const change = of(next.count.figures) / of(best.count.figures) - 1;
      return `${share(change)} ${change < 0 ? 'less' : 'more'} ${what}`;
    };
    sentences.push(
      `Runner-up, ${named(next.count)}: ${than('loss', (one) => one.loss)}, ${than('board', (one) => one.area)}, ${than('price', (one) => one.price)}${next.misses.length > 0 ? `; misses ${next.misses.join(', ')}` : ''}.`,
    );
  }
  const words = sentences.filter((one) => one !== undefined).join(' ');
  return { phases: best.count.phases, runnerUp: next?.count.phases, words };
}

/** Studied numbers in the order in which their load steps matter: what is recommended without them, the runner-up, the present one. @public */
export function byInterest(
  studied: readonly StudiedCount[],
  objective: Objective,
  present: number,
): readonly StudiedCount[] {
  const found = recommendedCount(
    studied.map(({ count }) => count),
    objective,
  );
  const first = [found?.phases, found?.runnerUp, present];
  const place = ({ count }: StudiedCount): number => {
    const at = first.indexOf(count.phases);
    return at < 0 ? first.length : at;
  };
  return [...studied].sort((a, b) => place(a) - place(b));
}

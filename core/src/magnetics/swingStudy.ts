import type { CornerResult } from '../corners/evaluate.js';
import { loopCorners } from '../corners/loopCorners.js';
import { operatingPointIn } from '../modes/operatingMode.js';
import { inductanceCurveOf, saturatedSwing } from '../parts/inductanceCurve.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Inductor } from '../stage/partsSchema.js';
import type { Stage } from '../stage/schema.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';
import { simulateResponse } from '../transient/simulate.js';
import { gapFor, type WoundChoke } from './woundChoke.js';
import type { ChokeDemand } from './figures.js';

/** A choke at one load. @public */
export interface SwingAtLoad {
  /** A */
  readonly load: number;
  /** H at the average current. */
  readonly inductance: number;
  readonly mode: 'CCM' | 'DCM' | undefined;
  /** Hz and degrees; undefined where the loop has no crossover there, or there is no loop. */
  readonly crossover: number | undefined;
  readonly phaseMargin: number | undefined;
}

/** A step of the load with one way of doing it. @public */
export interface SwingStep {
  /** V, the most the output goes beyond its ripple. */
  readonly deviation: number;
  /** s */
  readonly recovery: number;
}

/** A choke that swings beside one that does not, and beside two other ways. @public */
export interface SwingStudy {
  readonly inputVoltage: number;
  readonly plain: readonly SwingAtLoad[];
  readonly swinging: readonly SwingAtLoad[];
  /** A of load: where the current begins to rest at zero, or to flow back; undefined where full load has no operating point. */
  readonly border: { readonly plain: number | undefined; readonly swinging: number | undefined };
  /** A: between what the load steps. */
  readonly step: { readonly from: number; readonly to: number };
  readonly steps: {
    readonly plain: SwingStep | string;
    readonly swinging: SwingStep | string;
    readonly synchronous: SwingStep | string | undefined;
  };
  /** The least load kept on at all times with which the fixed choke does as well; the sentence for why there is none. */
  readonly preload: { readonly current: number; readonly watts: number; readonly step: SwingStep } | string;
}

/** Loads looked at, as shares of the most. */
const SHARES = [0.01, 0.02, 0.05, 0.1, 0.2, 0.4, 0.7, 1];
/** Halvings of the preload looked for. */
const HALVINGS = 5;
/** How often more is tried than up to the border. */
const WIDER = 3;
/** Both chokes, the switch, and every preload. */
const MOST_RUNS = 3 + 1 + WIDER + HALVINGS;
const CYCLES = 3000;

/**
 * A choke whose gap is stepped: over a share of its leg a small gap, that makes a high inductance until it saturates; over the rest one
 * with which it still has the inductance that is wanted at full load.
 *
 * @returns a sentence where no gap of the rest does that.
 * @public
 */
export function swingingChoke(
  choke: WoundChoke,
  { inductance, full }: Pick<ChokeDemand, 'inductance' | 'full'>,
  step: { readonly share: number; readonly gap: number },
  temperature: number,
): WoundChoke | string {
  const stepped: WoundChoke = { ...choke, step };
  const gap = gapFor(stepped, inductance, full, temperature);
  if (gap === undefined)
    return 'With this step no gap of the rest has the inductance wanted at full load: more turns, a smaller share, or a larger core.';
  return { ...stepped, gap };
}

function completed(stage: Stage, inductor: Inductor): CompleteStage {
  const made = completeStage({ ...stage, parts: { ...stage.parts, inductor } });
  if (!made.ok) throw new RangeError('The stage of the study is complete.');
  return made.value;
}

const at = (inputVoltage: number, current: number): OperatingCondition => ({
  inputVoltage,
  load: { kind: 'current', current },
});

/** The choke at each load: its inductance, the conduction mode, and where the loop crosses over. */
function loads(complete: CompleteStage, inputVoltage: number): readonly SwingAtLoad[] {
  const { stage, inductor } = complete;
  const most = stage.targets.outputCurrent.max;
  const curve = inductanceCurveOf(inductor);
  const corners = SHARES.map((share): CornerResult => {
    const outputCurrent = share * most;
    const corner = {
      inputVoltage,
      outputCurrent,
      temperature: stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE,
    };
    return { corner, result: operatingPointIn(stage.operatingMode, complete, at(inputVoltage, outputCurrent)) };
  });
  const looped = loopCorners({ complete, corners });
  return corners.map(({ corner, result }): SwingAtLoad => {
    const { loop } = looped.find((one) => one.corner.outputCurrent === corner.outputCurrent) ?? {};
    const solved = result.kind === 'solved' ? result.point : undefined;
    const average = Math.abs(solved?.inductorCurrent.average ?? 0);
    const { crossover, phaseMargin } = loop?.kind === 'solved' ? loop : {};
    return {
      load: corner.outputCurrent,
      inductance: curve?.inductance(average) ?? inductor.inductance,
      mode: solved?.conductionMode,
      crossover: crossover?.kind === 'found' ? crossover.value : undefined,
      phaseMargin: phaseMargin?.kind === 'found' ? phaseMargin.value : undefined,
    };
  });
}

/** The load at which the current just touches zero: half the swing of the current at that load. */
function borderOf(complete: CompleteStage, inputVoltage: number): number | undefined {
  const { stage, inductor } = complete;
  const most = stage.targets.outputCurrent.max;
  const solved = operatingPointIn('forced-pwm', complete, at(inputVoltage, most));
  if (solved.kind !== 'solved') return undefined;
  const { average, ripple } = solved.point.inductorCurrent;
  const swing = solved.saturation?.fluxSwing ?? inductor.inductance * ripple;
  const curve = inductanceCurveOf(inductor);
  if (!curve) return ((ripple / 2) * most) / Math.abs(average);
  // The valley rises with the average: halved until it is at zero.
  let [low, high] = [0, 10 * Math.abs(average)];
  for (let k = 0; k < 50; k += 1) {
    const middle = (low + high) / 2;
    if (saturatedSwing(curve, swing, middle, false).valley < 0) low = middle;
    else high = middle;
  }
  // Of one phase as a share of its full load.
  return (high * most) / Math.abs(average);
}

function stepOf(complete: CompleteStage, inputVoltage: number, from: number, to: number): SwingStep | string {
  const scenario = {
    start: 'settled' as const,
    happenings: [{ kind: 'load' as const, at: 0, by: to - from, slewRate: complete.stage.targets.loadStep?.slewRate }],
    cycles: CYCLES,
  };
  const found = simulateResponse(complete, at(inputVoltage, from), scenario, at(inputVoltage, to));
  if (found.kind === 'failed') return found.reason;
  const { undershoot, overshoot, recoveryTime } = found.measures;
  return { deviation: Math.max(undershoot, overshoot), recovery: recoveryTime };
}

/**
 * What a choke that swings does for a stage at light load: the border of continuous conduction, the loop at each load, a step from light
 * load simulated; beside the same stage with a fixed choke, with a preload that does the same, and with a switch in place of its diode.
 * The simulated inductor follows its curve.
 *
 * @param tell is told the share that is done.
 * @param step A, between what the load steps; the least load and a third of the most where it is not said.
 * @returns a sentence where the stage lacks a part.
 * @public
 */
export function swingStudy(
  stage: Stage,
  plainChoke: Inductor,
  swinging: Inductor,
  {
    step,
    synchronous,
    tell = () => undefined,
  }: {
    readonly step?: SwingStudy['step'] | undefined;
    readonly synchronous?: Stage | undefined;
    readonly tell?: (share: number) => void;
  } = {},
): SwingStudy | string {
  const made = completeStage(stage);
  if (!made.ok) return 'The stage lacks a part.';
  const inputVoltage = nominalInput(stage);
  const { outputCurrent, outputVoltage } = stage.targets;
  const most = outputCurrent.max;
  const asked = step ?? { from: Math.max(outputCurrent.min, 0.01 * most), to: most / 3 };
  const [plain, swung] = [completed(stage, plainChoke), completed(stage, swinging)];
  let runs = 0;
  /** A simulated step; the share is told by how many there may be. */
  const simulated = (complete: CompleteStage, more = 0): SwingStep | string => {
    tell(runs++ / MOST_RUNS);
    return stepOf(complete, inputVoltage, asked.from + more, asked.to + more);
  };
  const goal = simulated(swung);
  const alone = simulated(plain);
  const border = { plain: borderOf(plain, inputVoltage), swinging: borderOf(swung, inputVoltage) };
  return {
    inputVoltage,
    plain: loads(plain, inputVoltage),
    swinging: loads(swung, inputVoltage),
    border,
    step: asked,
    steps: {
      plain: alone,
      swinging: goal,
      synchronous: synchronous && simulated(completed(synchronous, plainChoke)),
    },
    preload: preloadFor(
      (more) => simulated(plain, more),
      { from: asked.from, goal, alone, most: border.plain ?? most },
      Math.abs(outputVoltage),
    ),
  };
}

interface Wanted {
  /** A of load before the step. */
  readonly from: number;
  readonly goal: SwingStep | string;
  readonly alone: SwingStep | string;
  /** A, from which on nothing is gained. */
  readonly most: number;
}

/** @param kept the step with a preload, A. */
function preloadFor(
  kept: (current: number) => SwingStep | string,
  { from, goal, alone, most }: Wanted,
  outputVoltage: number,
): SwingStudy['preload'] {
  if (typeof goal === 'string') return goal;
  if (typeof alone === 'string') return alone;
  if (alone.deviation <= goal.deviation) return 'The fixed choke does as well without a preload.';
  let high = Math.max(most - from, 0.05 * most);
  let best = kept(high);
  for (let k = 0; k < WIDER && (typeof best === 'string' || best.deviation > goal.deviation); k += 1) {
    high *= 1.6;
    best = kept(high);
  }
  if (typeof best === 'string') return best;
  if (best.deviation > goal.deviation) return 'No preload up to four times the border does as well.';
  let low = 0;
  for (let k = 0; k < HALVINGS; k += 1) {
    const middle = (low + high) / 2;
    const tried = kept(middle);
    if (typeof tried !== 'string' && tried.deviation <= goal.deviation) {
      high = middle;
      best = tried;
    } else low = middle;
  }
  return { current: high, watts: outputVoltage * high, step: best };
}

import { magnitude } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { solveStage } from '../steady/solveStage.js';
import { closeLoop } from './closedLoop.js';
import { LoopResponse, STABLE_BELOW } from './loopResponse.js';

/** The output after a step of load current, as the closed loop predicts it. @public */
export interface PredictedStep {
  readonly from: number;
  readonly to: number;
  /** s after the step, and V from the average before it: ripple and all, and without the ripple. */
  readonly time: Float64Array;
  readonly signal: Float64Array;
  readonly change: Float64Array;
  /** Largest deviation of the magnitude of the output, ripple included: down where the load rises, up where it falls; V. */
  readonly deviation: number;
  /** s until the change stays within the band. */
  readonly recoveryTime: number;
  /** V either way. */
  readonly band: number;
  /** Whether the duty ratio that the linear response asks for lies beyond its limits: it is then too kind. */
  readonly beyond: boolean;
}

/** Shares of the period followed at most, and the share of a disturbance that counts as gone. */
const MOST_SHARES = 1500;
const GONE = 1e-3;
const FEWEST_SHARES = 40;
/** The band where the stage states no tolerance of its output, as a share of the largest change. */
const BAND = 0.05;

/**
 * The step response from the periodic steady state at the first load to the second, linear about the orbit: within some percent
 * where the duty ratio keeps within its limits. The step comes at the clock; it takes no time.
 *
 * @param from, to load currents, A.
 * @returns the words for why there is none.
 * @public
 */
export function predictedStep(
  complete: CompleteStage,
  inputVoltage: number,
  from: number,
  to: number,
): PredictedStep | string {
  const condition = { inputVoltage, load: { kind: 'current' as const, current: from } };
  const solved = solveStage(complete, condition);
  if (solved.kind === 'unsolved') return solved.reason;
  const closed = closeLoop(complete, condition, solved);
  if (closed.kind !== 'closed') return closed.reason;
  const response = new LoopResponse(closed.loop);
  const [largest] = response.floquet().multipliers;
  const size = largest ? magnitude(largest) : 0;
  if (size >= STABLE_BELOW) return 'the loop is unstable';
  const { stage } = complete;
  const perPeriod = closed.loop.problem.rotation.order;
  const periods = Math.log(GONE) / Math.log(Math.max(size, GONE));
  const shares = Math.round(Math.min(MOST_SHARES, Math.max(FEWEST_SHARES, perPeriod * periods)));
  const { time, signal, change, dutyRise, dutyFall } = response.stepped(to - from, shares);
  const sign = Math.sign(stage.targets.outputVoltage);
  const down = to > from ? -sign : sign;
  const deviation = Math.max(0, ...signal.map((value) => down * value));
  const largestChange = Math.max(...change.map(Math.abs));
  const tolerance = stage.targets.outputVoltageTolerance;
  const band = tolerance === undefined ? BAND * largestChange : tolerance * Math.abs(stage.targets.outputVoltage);
  const last = change.findLastIndex((value) => Math.abs(value) > band);
  const [duty = 0] = closed.loop.duties;
  return {
    from,
    to,
    time,
    signal,
    change,
    deviation,
    recoveryTime: last < 0 ? 0 : (time[last] ?? 0),
    band,
    beyond: duty + dutyRise > stage.control.dutyMax || duty + dutyFall < 0,
  };
}

import { magnitude } from '../linalg/complex.js';
import { closeLoop } from '../smallsignal/closedLoop.js';
import { loopFrequencies, LoopResponse, STABLE_BELOW, type NoLoop } from '../smallsignal/loopResponse.js';
import type { Margins } from '../smallsignal/margins.js';
import type { Stage } from '../stage/schema.js';
import type { Corner } from './corners.js';
import type { EvaluatedStage } from './evaluate.js';
import { lightLoadLoop, type LightLoadLoop } from './lightLoadLoop.js';

/** The loop at one corner, without its curves. @public */
export interface CornerMargins extends Margins {
  readonly kind: 'solved';
  readonly stable: boolean;
  /** Magnitude of the largest multiplier, and whether it turns a disturbance over from period to period. */
  readonly largestMultiplier: number;
  readonly alternates: boolean;
  /** By how much the sampled gain may rise until pulses begin to alternate, dB; undefined where it does not lead there. */
  readonly subharmonicMargin: number | undefined;
  /**
   * By how much the gain may rise, dB: the gain margin, or in voltage mode, where the phase does not pass −180°, the subharmonic
   * margin. Undefined where neither limits it.
   */
  readonly gainMayRise: number | undefined;
  /** Gain of the sampled loop, current loop included, where pulses alternate: −1 is the limit. */
  readonly subharmonicGain: number;
}

/** @public */
export interface CornerLoop {
  readonly corner: Corner;
  readonly loop: CornerMargins | NoLoop;
  /** In discontinuous conduction: how the loop differs from that at full load. */
  readonly lightLoad?: LightLoadLoop;
}

/** Points from which margins are found; crossings are refined between them. */
const MARGIN_POINTS = 60;

/** The loop closed at a corner with an operating point, or why there is none. */
type ClosedCorner = { readonly corner: Corner; readonly discontinuous: boolean } & (
  { readonly response: LoopResponse } | { readonly response?: undefined; readonly none: NoLoop }
);

/** A stage with operating points at some corners. */
type Worked = Pick<EvaluatedStage, 'complete' | 'corners'>;

function closedCorners({ complete, corners }: Worked): readonly ClosedCorner[] {
  return corners.flatMap(({ corner, result }): ClosedCorner[] => {
    if (result.kind !== 'solved') return [];
    const { inputVoltage, outputCurrent } = corner;
    const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
    const closed = closeLoop(complete, condition, result);
    const discontinuous = result.point.conductionMode === 'DCM';
    return closed.kind === 'closed'
      ? [{ corner, discontinuous, response: new LoopResponse(closed.loop) }]
      : [{ corner, discontinuous, none: { kind: 'unsolved', why: closed.kind, reason: closed.reason } }];
  });
}

/** The margins of a stage's loop at every corner that has an operating point. */
export function loopCorners(evaluated: Worked): readonly CornerLoop[] {
  const { complete } = evaluated;
  const { scheme } = complete.stage.control;
  const grid = loopFrequencies(complete.switchingFrequency, MARGIN_POINTS);
  const worked = closedCorners(evaluated).map((one) => ({
    ...one,
    loop: one.response ? marginsAt(one.response, one.response.margins(grid), scheme) : one.none,
  }));
  return worked.map(({ corner, loop, response, discontinuous }): CornerLoop => {
    // The heaviest load of the same input comes last.
    const full = worked.findLast((other) => other.corner.inputVoltage === corner.inputVoltage);
    if (!discontinuous || !response || !full?.response || full.discontinuous) return { corner, loop };
    if (full.loop.kind !== 'solved' || full.loop.crossover.kind !== 'found') return { corner, loop };
    return { corner, loop, lightLoad: lightLoadLoop(full.response, response, full.loop.crossover.value) };
  });
}

/**
 * Margins, and stability from the multipliers, of a closed loop.
 *
 * @param scheme in voltage mode alternating pulses limit the gain where no phase does.
 */
export function marginsAt(response: LoopResponse, margins: Margins, scheme: Stage['control']['scheme']): CornerMargins {
  const { multipliers, subharmonicGain, subharmonicMargin } = response.floquet();
  const [largest] = multipliers;
  const largestMultiplier = largest ? magnitude(largest) : 0;
  return {
    kind: 'solved',
    ...margins,
    stable: largestMultiplier < STABLE_BELOW,
    largestMultiplier,
    alternates: largest !== undefined && largest.re < 0 && Math.abs(largest.im) < -largest.re,
    gainMayRise:
      margins.gainMargin.kind === 'found'
        ? margins.gainMargin.value
        : scheme.startsWith('voltage-mode')
          ? subharmonicMargin
          : undefined,
    subharmonicMargin,
    subharmonicGain,
  };
}

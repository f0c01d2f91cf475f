import { magnitude } from '../linalg/complex.js';
import { closeLoop } from '../smallsignal/closedLoop.js';
import { loopFrequencies, LoopResponse, STABLE_BELOW, type NoLoop } from '../smallsignal/loopResponse.js';
import type { Margins } from '../smallsignal/margins.js';
import type { Corner } from './corners.js';
import type { EvaluatedStage } from './evaluate.js';
import { lightLoadLoop, type LightLoadLoop } from './lightLoadLoop.js';

/** The loop at one corner, without its curves. */
export interface CornerMargins extends Margins {
  readonly kind: 'solved';
  readonly stable: boolean;
  /** Magnitude of the largest multiplier, and whether it turns a disturbance over from period to period. */
  readonly largestMultiplier: number;
  readonly alternates: boolean;
  /**
   * By how much the gain may rise, dB: at −180°, or in voltage mode, where the phase does not get there, until pulses begin to
   * alternate. Undefined where neither limits it.
   */
  readonly gainMayRise: number | undefined;
  /** Gain of the sampled loop, current loop included, where pulses alternate: −1 is the limit. */
  readonly subharmonicGain: number;
}

export interface CornerLoop {
  readonly corner: Corner;
  readonly loop: CornerMargins | NoLoop;
  /** In discontinuous conduction: how the loop differs from that at full load. */
  readonly lightLoad?: LightLoadLoop;
}

/** Points from which margins are found; crossings are refined between them. */
const POINTS = 60;

const gainMarginOf = (sampled: number): number | undefined => (sampled < 0 ? -20 * Math.log10(-sampled) : undefined);

/** The loop closed at a corner with an operating point, or why there is none. */
type ClosedCorner = { readonly corner: Corner; readonly discontinuous: boolean } & (
  { readonly response: LoopResponse } | { readonly none: NoLoop }
);

function closedCorners({ complete, corners }: EvaluatedStage): readonly ClosedCorner[] {
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
export function loopCorners(evaluated: EvaluatedStage): readonly CornerLoop[] {
  const { complete } = evaluated;
  const grid = loopFrequencies(complete.switchingFrequency, POINTS);
  const alone = complete.stage.control.scheme.startsWith('voltage-mode');
  const closed = closedCorners(evaluated);
  const margins = closed.map((one) =>
    'response' in one ? marginsAt(one.response, one.response.margins(grid), alone) : one.none,
  );
  return closed.map((one, k): CornerLoop => {
    const { corner } = one;
    const loop = margins[k] ?? { kind: 'unsolved', why: 'not-converged', reason: '' };
    if (!one.discontinuous || !('response' in one)) return { corner, loop };
    // The heaviest load of the same input comes last.
    const at = closed.findLastIndex((other) => other.corner.inputVoltage === corner.inputVoltage);
    const full = closed[at];
    const there = margins[at];
    if (!full || full.discontinuous || !('response' in full)) return { corner, loop };
    if (there?.kind !== 'solved' || there.crossover.kind !== 'found') return { corner, loop };
    return { corner, loop, lightLoad: lightLoadLoop(full.response, one.response, there.crossover.value) };
  });
}

/**
 * Margins, and stability from the multipliers, of a closed loop.
 *
 * @param alone whether the voltage loop is the only one.
 */
export function marginsAt(response: LoopResponse, margins: Margins, alone: boolean): CornerMargins {
  const { multipliers, subharmonicGain } = response.floquet();
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
        : alone
          ? gainMarginOf(subharmonicGain)
          : undefined,
    subharmonicGain,
  };
}

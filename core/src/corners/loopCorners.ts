import { magnitude } from '../linalg/complex.js';
import { closeLoop } from '../smallsignal/closedLoop.js';
import { loopFrequencies, LoopResponse, STABLE_BELOW, type NoLoop } from '../smallsignal/loopResponse.js';
import type { Margins } from '../smallsignal/margins.js';
import type { Corner } from './corners.js';
import type { EvaluatedStage } from './evaluate.js';

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
}

/** Points from which margins are found; crossings are refined between them. */
const POINTS = 60;

const gainMarginOf = (sampled: number): number | undefined => (sampled < 0 ? -20 * Math.log10(-sampled) : undefined);

/** The margins of a stage's loop at every corner that has an operating point. */
export function loopCorners({ complete, corners }: EvaluatedStage): readonly CornerLoop[] {
  const grid = loopFrequencies(complete.switchingFrequency, POINTS);
  return corners.flatMap(({ corner, result }): CornerLoop[] => {
    if (result.kind !== 'solved') return [];
    const { inputVoltage, outputCurrent } = corner;
    const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
    const closed = closeLoop(complete, condition, result);
    if (closed.kind !== 'closed')
      return [{ corner, loop: { kind: 'unsolved', why: closed.kind, reason: closed.reason } }];
    const response = new LoopResponse(closed.loop);
    const margins = response.margins(grid);
    const { multipliers, subharmonicGain } = response.floquet();
    const [largest] = multipliers;
    const largestMultiplier = largest ? magnitude(largest) : 0;
    const alone = !complete.stage.control.scheme.includes('current');
    return [
      {
        corner,
        loop: {
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
        },
      },
    ];
  });
}

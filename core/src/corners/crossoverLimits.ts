import { compensatorResponse } from '../controller/compensatorResponse.js';
import { completeCompensator } from '../controller/compensatorCircuit.js';
import { RIGHT_HALF_PLANE_ZERO_SHARE, rightHalfPlaneZero } from '../firstcut/rightHalfPlaneZero.js';
import { magnitude } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { converterOf } from '../powerstage/converter.js';
import type { Corner } from './corners.js';
import type { EvaluatedStage } from './evaluate.js';
import type { CornerLoop } from './loopCorners.js';

/** What a crossover should stay below, at the corner where it comes nearest. @public */
export interface CrossoverLimit {
  readonly limit: 'switching-frequency' | 'right-half-plane-zero' | 'amplifier';
  /** Hz */
  readonly crossover: number;
  /** Hz: the highest crossover that the limit allows at that corner. */
  readonly allowed: number;
  readonly corner: Corner;
  /** The rule in words. */
  readonly rule: string;
}

/** Shares that are usual where the stage states none; sources take others, so they are settings. Common practice. @public */
export const DEFAULT_CROSSOVER_LIMITS = {
  ofSwitchingFrequency: 1 / 5,
  ofRightHalfPlaneZero: RIGHT_HALF_PLANE_ZERO_SHARE,
} as const;
/** The open-loop gain of the amplifier at crossover over what the network asks of it. Common practice. */
const SPARE_GAIN = 10;

/**
 * The crossovers of every corner against the limits of practice: a share of the switching frequency, a share of the
 * right-half-plane zero, and what the amplifier still amplifies. None fails a design by itself: margins and multipliers do.
 */
export function crossoverLimits(
  { complete, corners }: EvaluatedStage,
  loops: readonly CornerLoop[],
): readonly CrossoverLimit[] {
  const { stage, inductor, switchingFrequency } = complete;
  const stated = stage.control.crossoverLimits;
  const ofSwitchingFrequency = stated?.ofSwitchingFrequency ?? DEFAULT_CROSSOVER_LIMITS.ofSwitchingFrequency;
  const ofRightHalfPlaneZero = stated?.ofRightHalfPlaneZero ?? DEFAULT_CROSSOVER_LIMITS.ofRightHalfPlaneZero;
  const nearest = new Map<CrossoverLimit['limit'], CrossoverLimit>();
  const meet = (limit: CrossoverLimit): void => {
    const before = nearest.get(limit.limit);
    if (!before || limit.crossover / limit.allowed > before.crossover / before.allowed) nearest.set(limit.limit, limit);
  };
  const share = (value: number): string => value.toPrecision(2);
  const bandwidth = amplifierBandwidth(complete);
  for (const { corner, loop } of loops) {
    if (loop.kind !== 'solved' || loop.crossover.kind !== 'found') continue;
    const crossover = loop.crossover.value;
    meet({
      limit: 'switching-frequency',
      crossover,
      corner,
      allowed: ofSwitchingFrequency * switchingFrequency,
      rule: `${share(ofSwitchingFrequency)} of the switching frequency`,
    });
    const result = corners.find((one) => one.corner === corner)?.result;
    if (result?.kind === 'solved' && result.point.conductionMode === 'CCM') {
      const { point } = result;
      const converter = converterOf(stage, point);
      if (converter && converter !== 'buck' && point.outputCurrent > 0) {
        const zero = rightHalfPlaneZero.compute({
          resistance: Math.abs(point.outputVoltage) / point.outputCurrent,
          duty: point.duty,
          inductance: inductor.inductance / stage.phases,
          share: converter === 'boost' ? 1 : point.duty,
        });
        meet({
          limit: 'right-half-plane-zero',
          crossover,
          corner,
          allowed: ofRightHalfPlaneZero * zero,
          rule: `${share(ofRightHalfPlaneZero)} of the right-half-plane zero`,
        });
      }
    }
    const asked = bandwidth?.(crossover);
    if (asked !== undefined)
      meet({
        limit: 'amplifier',
        crossover,
        corner,
        allowed: asked,
        rule: `the amplifier has ${String(SPARE_GAIN)} times the gain that the network asks of it`,
      });
  }
  return [...nearest.values()];
}

/** The highest crossover at which an op-amp of stated bandwidth has gain to spare, by the gain asked at the present one. */
function amplifierBandwidth({ stage }: CompleteStage): ((crossover: number) => number) | undefined {
  const compensator = completeCompensator(stage.control);
  if (!compensator.ok || compensator.value.amplifier.kind !== 'op-amp') return undefined;
  const { gainBandwidth } = compensator.value.amplifier;
  if (gainBandwidth === undefined) return undefined;
  const ideal = compensatorResponse({ ...compensator.value, amplifier: { kind: 'op-amp' } });
  return (crossover) => gainBandwidth / (SPARE_GAIN * (1 + magnitude(ideal(crossover))));
}

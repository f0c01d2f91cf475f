import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { boostIdealDuty, buckBoostIdealDuty, onTimeRipple } from '../firstcut/boostForms.js';
import { inductorRms, peakCurrent, valleyCurrent } from '../firstcut/buckForms.js';
import { discontinuousDuty } from './discontinuousFigures.js';
import type { FiguredPoint } from './topology.js';

/**
 * The closed forms of the boost and the inverting buck-boost beside the engine's figures, by figure key, for continuous
 * conduction. In both the inductor stands across the input during the on-time.
 */
export function onTimeFigures(
  point: FiguredPoint,
  converter: 'boost' | 'buck-boost',
): ReadonlyMap<string, readonly AppliedForm[]> {
  const { inputVoltage: vIn, switchingFrequency: fSw, inductance } = point;
  const values = { vIn, vOut: Math.abs(point.outputVoltage) };
  const ideal = applied(converter === 'boost' ? boostIdealDuty : buckBoostIdealDuty, values);
  if (!point.continuous) return new Map([['duty', [ideal, ...discontinuousDuty(point, converter)]]]);
  const ripple = applied(onTimeRipple, { vIn, duty: ideal.value, fSw, inductance });
  const current = {
    phaseCurrent: point.outputCurrent / point.phases / (1 - ideal.value),
    ripple: ripple.value,
  };
  return new Map([
    ['duty', [ideal]],
    ['inductorCurrent.ripple', [ripple]],
    ['inductorCurrent.peak', [applied(peakCurrent, current)]],
    ['inductorCurrent.valley', [applied(valleyCurrent, current)]],
    ['inductorCurrent.rms', [applied(inductorRms, current)]],
  ]);
}

import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';
import { applied, type AppliedForm } from './closedForm.js';
import { boostIdealDuty, buckBoostIdealDuty, onTimeRipple } from './boostForms.js';
import { inductorRms, peakCurrent, valleyCurrent } from './buckForms.js';

/**
 * The closed forms of the boost and the inverting buck-boost beside the engine's figures, by figure key, for continuous
 * conduction. In both the inductor stands across the input during the on-time.
 */
export function onTimeFirstCut(
  { stage, inductor, switchingFrequency: fSw }: CompleteStage,
  point: OperatingPoint,
): ReadonlyMap<string, AppliedForm> {
  const entries = new Map<string, AppliedForm>();
  const values = { vIn: point.inputVoltage, vOut: Math.abs(stage.targets.outputVoltage) };
  const ideal = applied(stage.topology === 'boost' ? boostIdealDuty : buckBoostIdealDuty, values);
  entries.set('duty', ideal);
  if (point.conductionMode !== 'CCM') return entries;
  const ripple = applied(onTimeRipple, {
    vIn: point.inputVoltage,
    duty: ideal.value,
    fSw,
    inductance: inductor.inductance,
  });
  const phaseCurrent = point.outputCurrent / stage.phases / (1 - ideal.value);
  const current = { phaseCurrent, ripple: ripple.value };
  entries.set('inductorCurrent.ripple', ripple);
  entries.set('inductorCurrent.peak', applied(peakCurrent, current));
  entries.set('inductorCurrent.valley', applied(valleyCurrent, current));
  entries.set('inductorCurrent.rms', applied(inductorRms, current));
  return entries;
}

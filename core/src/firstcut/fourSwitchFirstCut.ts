import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';
import { LEG_DUTY_LIMIT } from '../topology/fourSwitchBuckBoost.js';
import { applied, type AppliedForm } from './closedForm.js';
import { boostIdealDuty, buckBoostIdealDuty, onTimeRipple, transitionIdealDuty } from './boostForms.js';
import { buckIdealDuty, buckRipple } from './buckForms.js';

/** The closed forms of the four-switch stage beside the engine's figures, by figure key, for the region it is in. */
export function fourSwitchFirstCut(
  { stage, inductor: { inductance }, switchingFrequency: fSw }: CompleteStage,
  { inputVoltage: vIn, region }: OperatingPoint,
): ReadonlyMap<string, AppliedForm> {
  const vOut = stage.targets.outputVoltage;
  const both = { vIn, vOut };
  const onTime = (duty: number): AppliedForm => applied(onTimeRipple, { vIn, duty, fSw, inductance });
  const forms = (duty: AppliedForm, ripple?: AppliedForm): ReadonlyMap<string, AppliedForm> =>
    new Map([['duty', duty], ...(ripple ? [['inductorCurrent.ripple', ripple] as const] : [])]);
  switch (region) {
    case 'boost': {
      const duty = applied(boostIdealDuty, both);
      return forms(duty, onTime(duty.value));
    }
    case 'simultaneous': {
      const duty = applied(buckBoostIdealDuty, both);
      return forms(duty, onTime(duty.value));
    }
    case 'transition':
      // The ripple depends on how the pulses of both legs lie to each other: no closed form is given.
      return forms(applied(transitionIdealDuty, { ...both, inputDuty: LEG_DUTY_LIMIT }));
    default: {
      const duty = applied(buckIdealDuty, both);
      return forms(duty, applied(buckRipple, { vOut, duty: duty.value, fSw, inductance }));
    }
  }
}

import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { boostIdealDuty, buckBoostIdealDuty, onTimeRipple, transitionIdealDuty } from '../firstcut/boostForms.js';
import { buckIdealDuty, buckRipple } from '../firstcut/buckForms.js';
import type { FiguredPoint } from './topology.js';

/**
 * The closed forms of the four-switch stage beside the engine's figures, by figure key, for the region it is in.
 *
 * @param inputDuty of the input leg in the transition.
 */
export function fourSwitchFigures(
  { inputVoltage: vIn, outputVoltage: vOut, region, switchingFrequency: fSw, inductance }: FiguredPoint,
  inputDuty: number,
): ReadonlyMap<string, readonly AppliedForm[]> {
  const both = { vIn, vOut };
  const onTime = (duty: number): AppliedForm => applied(onTimeRipple, { vIn, duty, fSw, inductance });
  const forms = (duty: AppliedForm, ripple?: AppliedForm): ReadonlyMap<string, readonly AppliedForm[]> =>
    new Map([['duty', [duty]], ...(ripple ? [['inductorCurrent.ripple', [ripple]] as const] : [])]);
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
      return forms(applied(transitionIdealDuty, { ...both, inputDuty }));
    default: {
      const duty = applied(buckIdealDuty, both);
      return forms(duty, applied(buckRipple, { vOut, duty: duty.value, fSw, inductance }));
    }
  }
}

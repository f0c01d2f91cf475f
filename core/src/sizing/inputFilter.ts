import { dampingMultiple, dampingResistance, filterResistance, inputResistance } from '../firstcut/inputFilterForms.js';
import { nearestPreferred, preferredAtLeast } from '../quantity/preferredValues.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import { FILTER_CORNER_BELOW, FILTER_IMPEDANCE_SHARE } from '../rules/rules.js';

/** Winding resistance of a filter choke as a share of its characteristic resistance: enough to be no ideal part. */
const WINDING_SHARE = 0.02;

/**
 * A first input filter with its damping branch: the corner a tenth of the switching frequency with the input capacitors the
 * stage has, the damping optimal for a peak impedance well below the incremental input resistance at the lowest input.
 * Undefined where the stage has no input capacitors or still lacks parts.
 *
 * @public
 */
export function dampedInputFilter(stage: Stage): NonNullable<Stage['parts']['inputFilter']> | undefined {
  const complete = completeStage(stage);
  if (!complete.ok) return undefined;
  const { inputVoltage, outputVoltage, outputCurrent } = stage.targets;
  const { inputCapacitors, switchingFrequency } = complete.value;
  const capacitance = capacitanceOf(inputCapacitors, inputVoltage.min);
  if (capacitance === 0) return undefined;
  const corner = (2 * Math.PI * switchingFrequency) / FILTER_CORNER_BELOW;
  const inductance = preferredAtLeast(1 / (corner * corner * capacitance), 'E12');
  const characteristic = filterResistance.compute({ inductance, capacitance });
  const power = Math.abs(outputVoltage) * outputCurrent.max;
  const allowed = FILTER_IMPEDANCE_SHARE * inputResistance.compute({ vIn: inputVoltage.min, power });
  // A multiple below one leaves the peak above the characteristic resistance: then one is taken.
  const multiple = Math.max(1, dampingMultiple.compute({ characteristic, peak: allowed }));
  const damping = preferredAtLeast(multiple * capacitance, 'E6');
  return {
    inductance,
    resistance: nearestPreferred(WINDING_SHARE * characteristic, 'E24'),
    damping: {
      capacitance: damping,
      resistance: nearestPreferred(
        dampingResistance.compute({ characteristic, multiple: damping / capacitance }),
        'E24',
      ),
    },
  };
}

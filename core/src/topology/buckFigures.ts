import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import {
  buckDuty,
  buckIdealDuty,
  buckInputCapacitorRms,
  buckRipple,
  inductorRms,
  outputCapacitorRms,
  outputRipple,
  peakCurrent,
  summedRipple,
  switchRms,
  valleyCurrent,
} from '../firstcut/buckForms.js';
import { discontinuousDuty } from './discontinuousFigures.js';
import type { FiguredPoint } from './topology.js';

/**
 * The closed forms of the buck beside the engine's figures, by figure key. They hold for continuous conduction; of a discontinuous
 * point only the duty ratio is given.
 */
export function buckFigures(point: FiguredPoint): ReadonlyMap<string, readonly AppliedForm[]> {
  const { phases, outputVoltage: vOut, inputVoltage: vIn, switchingFrequency: fSw, rectifier } = point;
  const entries = new Map<string, readonly AppliedForm[]>();
  const put = (key: string, form: AppliedForm): number => {
    entries.set(key, [...(entries.get(key) ?? []), form]);
    return form.value;
  };
  put('duty', applied(buckIdealDuty, { vIn, vOut }));
  if (!point.continuous) {
    for (const form of discontinuousDuty(point, 'buck')) put('duty', form);
    return entries;
  }
  const phaseCurrent = point.outputCurrent / phases;
  const deadShare = rectifier.kind === 'switch' ? point.deadTime * fSw : 0;
  const duty =
    rectifier.kind === 'switch'
      ? put(
          'duty',
          applied(buckDuty, {
            vIn,
            vOut,
            phaseCurrent,
            rHigh: point.mainResistance,
            rLow: rectifier.resistance,
            rL: point.seriesResistance,
            deadShare,
            vBody: rectifier.bodyVoltage,
            rBody: rectifier.bodyResistance,
          }),
        )
      : point.duty;
  const conducting = duty - deadShare;
  const ripple = put(
    'inductorCurrent.ripple',
    applied(buckRipple, { vOut, duty: conducting, fSw, inductance: point.inductance }),
  );
  put('inductorCurrent.peak', applied(peakCurrent, { phaseCurrent, ripple }));
  put('inductorCurrent.valley', applied(valleyCurrent, { phaseCurrent, ripple }));
  put('inductorCurrent.rms', applied(inductorRms, { phaseCurrent, ripple }));
  const summed = put('totalInductorRipple', applied(summedRipple, { ripple, duty: conducting, phases }));
  put('outputCapacitorRms', applied(outputCapacitorRms, { ripple: summed }));
  put(
    'inputCapacitorRms',
    applied(buckInputCapacitorRms, { loadCurrent: point.outputCurrent, duty: conducting, phases, ripple }),
  );
  if (point.outputBank) {
    const { capacitance, esr } = point.outputBank;
    put('outputRipple', applied(outputRipple, { ripple: summed, duty: conducting, phases, fSw, capacitance, esr }));
  }
  put('switchStress.highSide.rmsCurrent', applied(switchRms, { share: conducting, phaseCurrent, ripple }));
  put(
    'switchStress.lowSide.rmsCurrent',
    applied(switchRms, { share: 1 - conducting - 2 * deadShare, phaseCurrent, ripple }),
  );
  return entries;
}

import { bankModel } from '../parts/capacitorBank.js';
import { seriesResistance, type CompleteStage } from '../stage/completeStage.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';
import { BODY_DIODE_DEFAULT } from '../topology/switchCell.js';
import { applied, type AppliedForm } from './closedForm.js';
import {
  buckDuty,
  buckInputCapacitorRms,
  buckRipple,
  inductorRms,
  outputCapacitorRms,
  outputRipple,
  peakCurrent,
  summedRipple,
  switchRms,
  valleyCurrent,
} from './buckForms.js';

/**
 * The closed forms of the buck beside the engine's figures, by figure key: the explanation of a number and a check on it.
 * They hold for the synchronous stage in continuous conduction; nothing is given for discontinuous points.
 */
export function buckFirstCut(complete: CompleteStage, point: OperatingPoint): ReadonlyMap<string, AppliedForm> {
  const { stage, inductor, legs, switchingFrequency: fSw } = complete;
  const [leg] = legs;
  if (!leg) return new Map();
  const { main: mainSwitch, rectifier } = leg;
  if (point.conductionMode !== 'CCM') return new Map();
  const n = stage.phases;
  const vOut = stage.targets.outputVoltage;
  const phaseCurrent = point.outputCurrent / n;
  const deadShare = rectifier.kind === 'switch' ? stage.deadTime * fSw : 0;
  const low = rectifier.kind === 'switch' ? rectifier.mosfet.onResistance : rectifier.diode.dynamicResistance;
  const body = rectifier.kind === 'switch' ? rectifier.mosfet : undefined;
  const entries = new Map<string, AppliedForm>();
  const put = (key: string, form: AppliedForm): number => {
    entries.set(key, form);
    return form.value;
  };
  const duty =
    rectifier.kind === 'switch'
      ? put(
          'duty',
          applied(buckDuty, {
            vIn: point.inputVoltage,
            vOut,
            phaseCurrent,
            rHigh: mainSwitch.onResistance,
            rLow: low,
            rL: seriesResistance(complete),
            deadShare,
            vBody: body?.bodyDiodeVoltage ?? BODY_DIODE_DEFAULT.forwardVoltage,
            rBody: body?.bodyDiodeResistance ?? BODY_DIODE_DEFAULT.dynamicResistance,
          }),
        )
      : point.duty;
  const conducting = duty - deadShare;
  const ripple = put(
    'inductorCurrent.ripple',
    applied(buckRipple, { vOut, duty: conducting, fSw, inductance: inductor.inductance }),
  );
  put('inductorCurrent.peak', applied(peakCurrent, { phaseCurrent, ripple }));
  put('inductorCurrent.valley', applied(valleyCurrent, { phaseCurrent, ripple }));
  put('inductorCurrent.rms', applied(inductorRms, { phaseCurrent, ripple }));
  const summed = put('totalInductorRipple', applied(summedRipple, { ripple, duty: conducting, phases: n }));
  put('outputCapacitorRms', applied(outputCapacitorRms, { ripple: summed }));
  put(
    'inputCapacitorRms',
    applied(buckInputCapacitorRms, { loadCurrent: point.outputCurrent, duty: conducting, phases: n, ripple }),
  );
  const [bank, ...others] = complete.outputCapacitors;
  if (bank && others.length === 0) {
    const { capacitance, esr } = bankModel(bank, vOut);
    put('outputRipple', applied(outputRipple, { ripple: summed, duty: conducting, phases: n, fSw, capacitance, esr }));
  }
  put('switchStress.highSide.rmsCurrent', applied(switchRms, { share: conducting, phaseCurrent, ripple }));
  put(
    'switchStress.lowSide.rmsCurrent',
    applied(switchRms, { share: 1 - conducting - 2 * deadShare, phaseCurrent, ripple }),
  );
  return entries;
}

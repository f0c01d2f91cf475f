import { discontinuousDutyGain, discontinuousFactor, discontinuousPole } from '../firstcut/discontinuousPlantForms.js';
import {
  buckDutyGain,
  currentLoopMultiplier,
  esrZero,
  halfFrequencyQuality,
  plantQuality,
  plantResonance,
  steppedDutyGain,
} from '../firstcut/plantForms.js';
import { injectedEsr, onTimeStability } from '../firstcut/rippleForms.js';
import { rightHalfPlaneZero } from '../firstcut/rightHalfPlaneZero.js';
import { outputCapacitor } from '../parts/outputCapacitor.js';
import { seriesResistance, type CompleteStage } from '../stage/completeStage.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';
import { converterOf } from '../powerstage/converter.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';

/**
 * The canonical figures of the plant at a point, duty ratio to output, by closed forms: what a designer knows it by, beside the
 * exact response. Banks count as one capacitor, the load as a resistance.
 * In discontinuous conduction the plant has one pole instead of the resonance.
 *
 * @public
 */
export function plantForms(complete: CompleteStage, point: OperatingPoint): readonly AppliedForm[] {
  const kind = converterOf(complete.stage, point);
  if (!kind || point.outputCurrent === 0) return [];
  const { stage, legs } = complete;
  const { duty } = point;
  const outputVoltage = Math.abs(stage.targets.outputVoltage);
  const { capacitance, esr } = outputCapacitor(complete);
  const resistance = outputVoltage / point.outputCurrent;
  const zeroOfEsr = esr > 0 ? [applied(esrZero, { capacitance, esr })] : [];
  if (point.conductionMode === 'DCM') {
    const factor = discontinuousFactor(kind, outputVoltage / point.inputVoltage);
    return [
      applied(discontinuousDutyGain, { outputVoltage, duty, factor }),
      applied(discontinuousPole, { resistance, capacitance, factor }),
      ...zeroOfEsr,
    ];
  }
  const switching = legs.find((_, k) => legs.length === 1 || (kind === 'boost') === (k === 1)) ?? legs[0];
  const off = switching?.rectifier;
  const rectifierResistance =
    off === undefined ? 0 : off.kind === 'switch' ? off.mosfet.onResistance : off.diode.dynamicResistance;
  const series =
    (seriesResistance(complete) + duty * (switching?.main.onResistance ?? 0) + (1 - duty) * rectifierResistance) /
    stage.phases;
  const complement = kind === 'buck' ? 1 : 1 - duty;
  const inductance = complete.inductor.inductance / stage.phases;
  const share = kind === 'boost' ? 1 : duty;
  const filter = { complement, inductance, capacitance, resistance, series, esr };
  return [
    kind === 'buck'
      ? applied(buckDutyGain, { inputVoltage: point.inputVoltage, resistance, series })
      : applied(steppedDutyGain, { outputVoltage, complement, share }),
    applied(plantResonance, filter),
    applied(plantQuality, filter),
    ...zeroOfEsr,
    ...(kind === 'buck' ? [] : [applied(rightHalfPlaneZero, { resistance, duty, inductance, share })]),
  ];
}

/**
 * What the scheme itself must hold, by closed forms: the current loop of peak current mode against alternating pulses, the ripple
 * of constant on-time against its limit. None for the other schemes.
 *
 * @public
 */
export function controlForms(complete: CompleteStage, point: OperatingPoint): readonly AppliedForm[] {
  const { stage, inductor, switchingFrequency } = complete;
  const { control } = stage;
  const { duty } = point;
  if (control.scheme === 'peak-current-mode' && point.conductionMode === 'CCM' && control.currentSenseGain) {
    const falling = (control.currentSenseGain * point.inductorCurrent.ripple * switchingFrequency) / (1 - duty);
    const slopes = { duty, slopeShare: control.slopeCompensation / falling };
    return [applied(currentLoopMultiplier, slopes), applied(halfFrequencyQuality, slopes)];
  }
  if (control.scheme === 'constant-on-time' && converterOf(stage, point) === 'buck') {
    const { capacitance, esr } = outputCapacitor(complete);
    const onTime = duty / point.switchingFrequency;
    const injection =
      control.rippleInjection && applied(injectedEsr, { inductance: inductor.inductance, ...control.rippleInjection });
    return [
      ...(injection ? [injection] : []),
      applied(onTimeStability, { esr, injected: injection?.value ?? 0, capacitance, onTime }),
    ];
  }
  return [];
}

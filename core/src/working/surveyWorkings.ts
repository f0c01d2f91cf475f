import { converterOf } from '../powerstage/converter.js';
import { boostPeakRatio } from '../firstcut/boostForms.js';
import { boundaryCurrent, CRITICAL_LOAD } from '../firstcut/discontinuousForms.js';
import { seriesResistance, type CompleteStage } from '../stage/completeStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import type { ConversionRatio } from '../survey/conversionRatio.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { ENGINE, ENGINE_ASSUMES, type Working } from './working.js';

/** A valley this small beside the ripple is zero to the accuracy of the search. */
const ZERO = 1e-9;
const settled = (valley: number, ripple: number): number => (Math.abs(valley) < ZERO * ripple ? 0 : valley);

/** The working of a boundary load found by `boundaryLoad`; undefined where the stage has no operating point there. @public */
export function boundaryWorking(complete: CompleteStage, inputVoltage: number, load: number): Working | undefined {
  const found = operatingPoint(complete, { inputVoltage, load: { kind: 'current', current: load } });
  if (found.kind !== 'solved') return undefined;
  const { duty, inductorCurrent } = found.point;
  return {
    key: 'boundaryLoad',
    quantity: 'boundary load',
    symbol: 'I_\\mathrm{B}',
    unit: 'A',
    value: load,
    formula: 'I_\\mathrm{out}:\\;\\min_t i_L(t;I_\\mathrm{out}) = 0',
    inputs: [
      { label: 'input voltage', value: inputVoltage, unit: 'V' },
      {
        label: 'valley of the inductor current at this load',
        value: settled(inductorCurrent.valley, inductorCurrent.ripple),
        unit: 'A',
      },
      { label: 'inductor ripple current at this load', value: inductorCurrent.ripple, unit: 'A' },
      { label: 'average inductor current at this load', value: inductorCurrent.average, unit: 'A' },
    ],
    source: ENGINE,
    assumption: ENGINE_ASSUMES,
    corner: { inputVoltage, outputCurrent: load },
    closedForms: boundaryForms(complete, duty),
  };
}

function boundaryForms(complete: CompleteStage, duty: number): readonly AppliedForm[] {
  const { stage, inductor, switchingFrequency: fSw } = complete;
  const converter = converterOf(stage, {});
  if (!converter) return [];
  const k = applied(CRITICAL_LOAD[converter], { duty });
  const vOut = Math.abs(stage.targets.outputVoltage);
  return [
    applied(boundaryCurrent, { k: k.value, vOut, inductance: inductor.inductance, fSw, phases: stage.phases }),
    { ...k, step: true },
  ];
}

/** The working of the highest conversion ratio of a stage; undefined where the ratio rises all the way. @public */
export function peakRatioWorking(complete: CompleteStage, ratio: ConversionRatio): Working | undefined {
  const { stage } = complete;
  const resistance = seriesResistance(complete);
  const { peak, inputVoltage, loadResistance } = ratio;
  if (!peak) return undefined;
  return {
    key: 'peakRatio',
    quantity: 'highest conversion ratio',
    symbol: 'M_\\mathrm{max}',
    unit: 'ratio',
    value: peak.ratio,
    formula: '\\max_D \\frac{V_\\mathrm{out}(D)}{V_\\mathrm{in}}',
    inputs: [
      { label: 'duty ratio at which it occurs', value: peak.duty, unit: 'ratio' },
      { label: 'input voltage', value: inputVoltage, unit: 'V' },
      { label: 'load resistance', value: loadResistance, unit: 'ohm' },
    ],
    source: ENGINE,
    assumption: `${ENGINE_ASSUMES} Series inductance of capacitors is left out.`,
    corner: { inputVoltage, outputCurrent: Math.abs(stage.targets.outputVoltage) / loadResistance },
    closedForms:
      converterOf(stage, {}) === 'boost' && resistance > 0
        ? [applied(boostPeakRatio, { load: loadResistance * stage.phases, resistance })]
        : [],
  };
}

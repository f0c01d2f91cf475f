import { converterOf } from '../powerstage/converter.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import type { CompleteStage } from '../stage/completeStage.js';
import {
  buckDrivenImpedance,
  dampedPeak,
  filterResistance,
  filterResonance,
  inputResistance,
} from '../firstcut/inputFilterForms.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';

/** A filter with its damping branch. */
type Filter = Required<
  Pick<NonNullable<CompleteStage['stage']['parts']['inputFilter']>, 'inductance' | 'resistance'>
> & {
  readonly damping: { readonly capacitance: number; readonly resistance: number };
};

/** An input filter against the stage it feeds. @public */
export interface InputFilterCheck {
  /** Corner, characteristic resistance, peak output impedance with its damping, input resistance of the stage. */
  readonly forms: readonly AppliedForm[];
  /** Output impedance of the filter over input impedance of the stage, where they come nearest: well below one for stability. */
  readonly share: number;
}

/**
 * The impedance criterion for an input filter (R. D. Middlebrook, Input Filter Considerations in Design and Application of
 * Switching Regulators, IEEE IAS 1976), at the lowest input and highest load: against the stage as constant power, what it is
 * within the bandwidth of its loop, and for a buck frequency by frequency against its
 * input impedance at constant duty ratio too.
 *
 * @returns undefined where the stage has no filter, no damping, no input capacitors or no operating point there.
 * @public
 */
export function inputFilterCheck({ complete, corners }: EvaluatedStage): InputFilterCheck | undefined {
  const { inputFilter } = complete.stage.parts;
  const damping = inputFilter?.damping;
  const { min } = complete.stage.targets.inputVoltage;
  const capacitance = capacitanceOf(complete.inputCapacitors, min);
  const power = Math.max(
    0,
    ...corners.flatMap(({ corner, result }) =>
      result.kind === 'solved' && corner.inputVoltage === min ? [result.point.inputPower] : [],
    ),
  );
  if (!inputFilter || !damping || capacitance === 0 || power === 0) return undefined;
  const { inductance } = inputFilter;
  const characteristic = applied(filterResistance, { inductance, capacitance });
  const peak = applied(dampedPeak, {
    characteristic: characteristic.value,
    multiple: damping.capacitance / capacitance,
  });
  const resistance = applied(inputResistance, { vIn: min, power });
  const driven = nearestDriven(complete, { ...inputFilter, damping }, capacitance, power);
  return {
    forms: [
      applied(filterResonance, { inductance, capacitance }),
      characteristic,
      peak,
      resistance,
      ...(driven ? [driven.form] : []),
    ],
    share: Math.max(peak.value / resistance.value, driven?.ratio ?? 0),
  };
}

/** Frequencies looked at, over the decades about the resonance of the filter. */
const POINTS = 600;
const REACH = 30;

/** Magnitude of the output impedance of a filter with a damping branch, ohm. */
function filterImpedance({ inductance, resistance, damping }: Filter, capacitance: number, frequency: number): number {
  const w = 2 * Math.PI * frequency;
  const series = resistance ** 2 + (w * inductance) ** 2;
  const branch = damping.resistance ** 2 + 1 / (w * damping.capacitance) ** 2;
  const conductance = resistance / series + damping.resistance / branch;
  const susceptance = (-w * inductance) / series + w * capacitance + 1 / (w * damping.capacitance) / branch;
  return 1 / Math.hypot(conductance, susceptance);
}

/** Where a buck at constant duty ratio comes nearest to its filter: the highest ratio of impedances at one frequency. */
function nearestDriven(complete: CompleteStage, filter: Filter, capacitance: number, power: number) {
  const { stage, inductor, outputCapacitors } = complete;
  if (converterOf(stage, {}) !== 'buck') return undefined;
  const vOut = stage.targets.outputVoltage;
  const stageCapacitance = capacitanceOf(outputCapacitors, vOut);
  const stageInductance = inductor.inductance / stage.phases;
  const at = (frequency: number) => ({
    load: (vOut * vOut) / power,
    duty: vOut / stage.targets.inputVoltage.min,
    stageInductance,
    stageCapacitance,
    frequency,
  });
  const resonance = filterResonance.compute({ inductance: filter.inductance, capacitance });
  let worst = { ratio: 0, frequency: resonance };
  for (let i = 0; i <= POINTS; i += 1) {
    const frequency = resonance * REACH ** ((2 * i) / POINTS - 1);
    const ratio = filterImpedance(filter, capacitance, frequency) / buckDrivenImpedance.compute(at(frequency));
    if (ratio > worst.ratio) worst = { ratio, frequency };
  }
  return { ratio: worst.ratio, form: applied(buckDrivenImpedance, at(worst.frequency)) };
}

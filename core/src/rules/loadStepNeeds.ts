import { converterOf } from '../powerstage/converter.js';
import { bandwidthCapacitance, energyCapacitance, slewLimitedCapacitance } from '../firstcut/loadStepForms.js';
import type { Stage } from '../stage/schema.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { assumedCrossover } from './crossover.js';

/** What asks for capacitance on one side of a stage. */
export interface CapacitorNeed {
  readonly kind: 'ripple' | 'load step';
  readonly why: string;
  readonly form: AppliedForm;
}

/**
 * The output capacitance that a stage's load step asks for: with the slope of the inductor current at its limit, and with the
 * bandwidth of the loop. Both are given, as either may be the harder; none where the targets state no step or deviation.
 *
 * @param inductance of one phase, H.
 */
export function loadStepNeeds(stage: Stage, inductance: number, fSw: number): readonly CapacitorNeed[] {
  const { targets, phases } = stage;
  const { loadStep, inputVoltage, outputVoltage } = targets;
  if (loadStep?.deviation === undefined) return [];
  const vOut = Math.abs(outputVoltage);
  const step = Math.abs(loadStep.to - loadStep.from);
  const { deviation } = loadStep;
  const need = (why: string, form: AppliedForm): CapacitorNeed => ({ kind: 'load step', why, form });
  const together = inductance / phases;
  const slopes =
    converterOf(stage, {}) === 'buck'
      ? [
          need(
            'load step up: the inductor current rises with what is left of the lowest input',
            applied(slewLimitedCapacitance, {
              inductance: together,
              step,
              deviation,
              rampVoltage: inputVoltage.min - vOut,
            }),
          ),
          need(
            'load step down: the inductor current falls with the output voltage',
            applied(slewLimitedCapacitance, { inductance: together, step, deviation, rampVoltage: vOut }),
          ),
          need(
            'load step down, by energy',
            applied(energyCapacitance, { inductance: together, step, deviation, vOut }),
          ),
        ]
      : [];
  const crossover = assumedCrossover(stage, inductance, fSw);
  return [
    ...slopes,
    need('load step within the bandwidth of the loop', applied(bandwidthCapacitance, { step, crossover, deviation })),
  ];
}

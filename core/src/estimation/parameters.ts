import { valueAt, withValue, type StagePath } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';
import type { Unit } from '../quantity/unit.js';

/** What a stage's readings may be explained by. @public */
export interface FitParameter {
  readonly key: ParameterKey;
  readonly words: string;
  readonly unit: Unit;
  /** Places of the stage it scales; none where it is a lead of the bench. */
  readonly paths: (stage: Stage) => readonly StagePath[];
  /** Whether what is fitted is a factor on those places, or a resistance, ohm, that is added. */
  readonly kind: 'factor' | 'lead';
  /** What would tell it from others. */
  readonly toTell: string;
}
/** @public */
export type ParameterKey =
  | 'inductance'
  | 'outputEsr'
  | 'outputCapacitance'
  | 'windingResistance'
  | 'onResistance'
  | 'outputVoltage'
  | 'inputLead'
  | 'outputLead';

const banks =
  (key: string) =>
  ({ parts }: Stage): readonly StagePath[] =>
    (parts.outputCapacitors ?? []).map((_, k) => ['parts', 'outputCapacitors', k, key]);

const present = (stage: Stage, paths: readonly StagePath[]): readonly StagePath[] =>
  paths.filter((path) => {
    const value = valueAt(stage, path);
    return typeof value === 'number' && value !== 0;
  });

/** @public */
export const PARAMETERS: readonly FitParameter[] = [
  {
    key: 'inductance',
    words: 'inductance',
    unit: 'H',
    kind: 'factor',
    paths: (stage) => present(stage, [['parts', 'inductor', 'inductance']]),
    toTell: 'the inductor ripple current, with a current probe',
  },
  {
    key: 'outputEsr',
    words: 'ESR of the output capacitors',
    unit: 'ohm',
    kind: 'factor',
    paths: (stage) => present(stage, banks('esr')(stage)),
    toTell: 'the output ripple, with a ground spring, at two input voltages',
  },
  {
    key: 'outputCapacitance',
    words: 'output capacitance',
    unit: 'F',
    kind: 'factor',
    paths: (stage) => present(stage, banks('capacitance')(stage)),
    toTell: 'a load step, or the loop by injection',
  },
  {
    key: 'windingResistance',
    words: 'winding resistance',
    unit: 'ohm',
    kind: 'factor',
    paths: (stage) => present(stage, [['parts', 'inductor', 'resistance']]),
    toTell: 'the drop of the winding, with a meter at both its ends, on the average',
  },
  {
    key: 'onResistance',
    words: 'on-resistance of the switches',
    unit: 'ohm',
    kind: 'factor',
    paths: (stage) =>
      present(
        stage,
        (['highSide', 'lowSide', 'outputHighSide', 'outputLowSide'] as const).map((place) => [
          'parts',
          place,
          'onResistance',
        ]),
      ),
    toTell: 'the level of the switch node in each half of the period, against its ends',
  },
  {
    key: 'outputVoltage',
    words: 'regulated output voltage (divider and reference)',
    unit: 'V',
    kind: 'factor',
    // Where a divider regulates, its reference stands for both.
    paths: ({ control }) =>
      control.compensator?.components.rUpper !== undefined &&
      control.compensator.components.rLower !== undefined &&
      control.reference !== undefined &&
      control.scheme !== 'open-loop'
        ? [['control', 'reference']]
        : [['targets', 'outputVoltage']],
    toTell: 'the output voltage at the point that is regulated',
  },
  {
    key: 'inputLead',
    words: 'resistance of the lead from the supply',
    unit: 'ohm',
    kind: 'lead',
    paths: () => [],
    toTell: 'the voltage at the supply and at the board, at two currents at least',
  },
  {
    key: 'outputLead',
    words: 'resistance of the lead to the load',
    unit: 'ohm',
    kind: 'lead',
    paths: () => [],
    toTell: 'the voltage at the board and at the load, at two currents at least',
  },
];

/** A stage with a parameter's places scaled. */
export const scaledBy = (stage: Stage, { paths }: FitParameter, factor: number): Stage =>
  paths(stage).reduce<unknown>((document, path) => {
    const value = valueAt(stage, path);
    return typeof value === 'number' ? withValue(document, path, value * factor) : document;
  }, stage) as Stage;

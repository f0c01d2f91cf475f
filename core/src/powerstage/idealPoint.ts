import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';
import type { Converter, SwitchPlace } from '../topology/topology.js';
import { conversionAt } from './powerStageOf.js';

/** A stage without losses at full load and one input voltage: what the sizing rules reckon with. */
export interface IdealPoint {
  readonly inputVoltage: number;
  readonly converter: Converter;
  readonly duty: number;
  /** Average inductor current of one phase, A. */
  readonly phaseCurrent: number;
  /** Voltage across the inductor during the on-time, V. */
  readonly onVoltage: number;
  /** Share of the period each switch conducts. */
  readonly conducting: Readonly<Partial<Record<SwitchPlace, number>>>;
  /** Whether the current into the output, and out of the input, comes in pulses. */
  readonly pulsedOutput: boolean;
  readonly pulsedInput: boolean;
}

/** Duty ratio of a loss-free converter; the output as a magnitude. */
const DUTY: Readonly<Record<Converter, (vIn: number, vOut: number) => number>> = {
  buck: (vIn, vOut) => vOut / vIn,
  boost: (vIn, vOut) => 1 - vIn / vOut,
  'buck-boost': (vIn, vOut) => vOut / (vIn + vOut),
};

/** The ideal stage at full load and an input voltage, V. */
export function idealPoint(stage: Stage, inputVoltage: number): IdealPoint {
  const topology = topologyOf(stage);
  const out = Math.abs(stage.targets.outputVoltage);
  const load = stage.targets.outputCurrent.max / stage.phases;
  const { converter, drives } = topology.sizedAs(conversionAt(stage, inputVoltage));
  const duty = DUTY[converter](inputVoltage, out);
  const conducting = topology.legs.flatMap(({ main, rectifier }, i) => {
    const drive = drives[i];
    const on = drive && 'resting' in drive ? (drive.resting === 'on' ? 1 : 0) : duty;
    return [[main, on] as const, [rectifier, 1 - on] as const];
  });
  return {
    inputVoltage,
    converter,
    duty,
    // Only the buck's inductor feeds the output all the time.
    phaseCurrent: converter === 'buck' ? load : load / (1 - duty),
    onVoltage: converter === 'buck' ? inputVoltage - out : inputVoltage,
    conducting: Object.fromEntries(conducting),
    pulsedOutput: converter !== 'buck',
    pulsedInput: converter !== 'boost',
  };
}

/** Points over which the input range is searched for the worst case of a rule. */
const RANGE_POINTS = 25;

/** Ideal points over the input range, its ends included. */
export function idealRange(stage: Stage): readonly IdealPoint[] {
  const { min, max } = stage.targets.inputVoltage;
  return Array.from({ length: RANGE_POINTS }, (_, i) =>
    idealPoint(stage, min + ((max - min) * i) / (RANGE_POINTS - 1)),
  );
}

/** The point at which a quantity is largest. */
export function worstOf(points: readonly IdealPoint[], quantity: (point: IdealPoint) => number): IdealPoint {
  const [first, ...others] = points;
  if (!first) throw new Error('A range has at least one point.');
  return others.reduce((worst, point) => (quantity(point) > quantity(worst) ? point : worst), first);
}

import type { SwitchPlace } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';

/** A stage without losses at full load and one input voltage: what the sizing rules reckon with. */
export interface IdealPoint {
  readonly inputVoltage: number;
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

/** How the stage steps at an input voltage: the four-switch stage changes between forms. */
function form(stage: Stage, inputVoltage: number): 'buck' | 'boost' | 'both' {
  if (stage.topology === 'buck') return 'buck';
  if (stage.topology === 'boost') return 'boost';
  if (stage.topology === 'inverting-buck-boost' || stage.legs === 'simultaneous') return 'both';
  return stage.targets.outputVoltage < inputVoltage ? 'buck' : 'boost';
}

/** The ideal stage at full load and an input voltage, V. */
export function idealPoint(stage: Stage, inputVoltage: number): IdealPoint {
  const out = Math.abs(stage.targets.outputVoltage);
  const load = stage.targets.outputCurrent.max / stage.phases;
  const kind = form(stage, inputVoltage);
  const duty =
    kind === 'buck' ? out / inputVoltage : kind === 'boost' ? 1 - inputVoltage / out : out / (inputVoltage + out);
  const phaseCurrent = kind === 'buck' ? load : load / (1 - duty);
  const onVoltage = kind === 'buck' ? inputVoltage - out : inputVoltage;
  const leg = { on: duty, off: 1 - duty };
  const still = { on: 1, off: 0 };
  const [inputLeg, outputLeg] = kind === 'buck' ? [leg, still] : kind === 'boost' ? [still, leg] : [leg, leg];
  const conducting =
    stage.topology === 'four-switch-buck-boost'
      ? {
          highSide: inputLeg.on,
          lowSide: inputLeg.off,
          outputLowSide: kind === 'buck' ? 0 : outputLeg.on,
          outputHighSide: kind === 'buck' ? 1 : outputLeg.off,
        }
      : stage.topology === 'boost'
        ? { lowSide: duty, highSide: 1 - duty }
        : { highSide: duty, lowSide: 1 - duty };
  return {
    inputVoltage,
    duty,
    phaseCurrent,
    onVoltage,
    conducting,
    pulsedOutput: kind !== 'buck',
    pulsedInput: kind !== 'boost',
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

import type { Element } from '../circuit/elements.js';
import type { Update } from '../orbit/periodicProblem.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import { compensatorElements, completeCompensator } from './compensatorCircuit.js';
import { completeCurrentAmplifier, currentAmplifierOf } from './currentAmplifier.js';
import {
  completeDigitalController,
  digitalElements,
  digitalUpdates,
  DUTY_REGISTER,
  samplingPeriodOf,
} from './digitalController.js';
import { dividerElements, dividerOf, referenceOf } from './divider.js';
import { LOOP } from './loopNames.js';
import { modulatorOf, type Modulator } from './modulator.js';
import { rippleInjectionElements } from './rippleInjection.js';

/** What a scheme draws between the control voltage and the comparators. */
export interface InnerDrawing {
  readonly elements: readonly Element[];
  /** Names that move on with the phases, phase by phase in the same order. */
  readonly namesByPhase: readonly (readonly string[])[];
}

/** A node that cannot leave a range, V: the output of an amplifier. */
export interface Clamp {
  readonly node: string;
  readonly min: number | undefined;
  readonly max: number | undefined;
}

/** What closes the loop from the output to the control voltage. */
export interface OuterDrawing {
  readonly elements: readonly Element[];
  readonly updates: readonly Update[];
  readonly clamps: readonly Clamp[];
  /** Where it hands over to what it controls. */
  readonly controlNode: string;
  /** Whether its output steps at its own instants, and never shows the comparator more than it has sampled. */
  readonly sampled: boolean;
}

/**
 * A controller as its scheme draws it: elements, comparators, clamps, and what happens at the instants of its own. It needs the
 * stage and the names of the power stage, no operating point; at what its states rest is said by `restOf`.
 */
export interface Controller extends OuterDrawing {
  readonly modulator: Modulator;
  readonly inner: InnerDrawing;
}

/**
 * Where a loop is looked at. At the `output`: all that hangs on it, divider and ripple network alike, is fed through the source that
 * injects. At the `divider`: its top alone; a ripple network beside it, which hands the output on undivided, is then no part of the
 * loop that is seen but of the plant, and what is seen is only how the divider corrects the average.
 *
 * @public
 */
export type LoopBreak = 'output' | 'divider';

/** What is seen at each place. @public */
export const LOOP_BREAK_WORDS: Readonly<Record<LoopBreak, string>> = {
  output: 'at all that hangs on the output',
  divider: 'at the top of the divider',
};

type Names = Pick<PowerStage, 'elements' | 'outputNode' | 'switchNode' | 'feedsThroughout' | 'phases' | 'rotation'>;

const lacking = (lacks: readonly string[]): string => `what is missing is ${lacks.join(', ')}`;
const signOf = ({ stage }: CompleteStage): 1 | -1 => (stage.targets.outputVoltage < 0 ? -1 : 1);

/** The controller of a stage, or the words for what is missing. */
export function controllerOf(
  complete: CompleteStage,
  names: Names,
  loopBreak: LoopBreak = 'output',
): Controller | string {
  const modulator = modulatorOf(complete);
  if (typeof modulator === 'string') return modulator;
  const inner = innerDrawing(complete, names);
  if (typeof inner === 'string') return inner;
  const outer = outerDrawing(complete, names, loopBreak);
  return typeof outer === 'string' ? outer : { ...outer, modulator, inner };
}

/** What the scheme of a stage draws between control voltage and comparators, or the words for what is missing. */
export function innerDrawing(
  complete: CompleteStage,
  { elements: { inductors } }: Pick<Names, 'elements'>,
): InnerDrawing | string {
  if (complete.stage.control.scheme !== 'average-current-mode') return { elements: [], namesByPhase: [] };
  const amplifier = completeCurrentAmplifier(complete.stage.control);
  if (!amplifier.ok) return lacking(amplifier.lacks);
  const phases = inductors.map((inductor, k) => currentAmplifierOf(amplifier.value, inductor, k, signOf(complete)));
  return { elements: phases.flatMap(({ elements }) => elements), namesByPhase: phases.map(({ names }) => names) };
}

function outerDrawing(complete: CompleteStage, names: Names, loopBreak: LoopBreak): OuterDrawing | string {
  const { stage } = complete;
  const sign = signOf(complete);
  const still = { updates: [], clamps: [], sampled: false };
  switch (stage.control.scheme) {
    case 'digital': {
      const controller = completeDigitalController(stage);
      if (!controller.ok) return lacking(controller.lacks);
      if (names.rotation.order < names.phases.length)
        return 'a sampled controller is worked for phases that are copies of each other';
      return {
        ...still,
        elements: digitalElements(controller.value, names.outputNode, sign),
        updates: digitalUpdates(controller.value, samplingPeriodOf(complete)),
        controlNode: DUTY_REGISTER,
        sampled: true,
      };
    }
    case 'constant-on-time': {
      // The network stands across the inductor: it makes the output's ripple only where that feeds the output all the time.
      const injection = names.feedsThroughout ? stage.control.rippleInjection : undefined;
      return {
        ...still,
        elements: [
          ...dividerElements(dividerOf(stage), names.outputNode, sign * referenceOf(stage)),
          ...(injection
            ? rippleInjectionElements(
                injection,
                names.switchNode,
                loopBreak === 'output' ? LOOP.dividerTop : names.outputNode,
              )
            : []),
        ],
        controlNode: LOOP.feedback,
      };
    }
    default: {
      const compensator = completeCompensator(stage.control);
      if (!compensator.ok) return lacking(compensator.lacks);
      const { outputMin, outputMax } = compensator.value.amplifier;
      const clamped = outputMin !== undefined || outputMax !== undefined;
      return {
        ...still,
        elements: compensatorElements(compensator.value, names.outputNode, sign),
        clamps: clamped ? [{ node: LOOP.control, min: outputMin, max: outputMax }] : [],
        controlNode: LOOP.control,
      };
    }
  }
}

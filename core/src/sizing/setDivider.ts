import { referenceOf, regulatedOutput } from '../controller/divider.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import type { Choice } from './choice.js';
import { componentChoices, frameOf } from './networkParts.js';

type Control = Stage['control'];

/** A control with its divider, and why it is that one. */
export interface DividedControl {
  readonly control: Control;
  readonly choices: readonly Choice[];
}

/**
 * The divider of a controller that has no network about it, of preferred values: the pair with the least error, with the output as
 * the engine finds it at nominal input and full load. A comparator that regulates the valley of the ripple, or a sample of it, puts
 * the average off by as much as that lies off; the divider takes it back.
 *
 * @returns undefined where the stage states its own divider, or its output is not above the reference.
 */
export function dividerFor(stage: Stage): DividedControl | undefined {
  const { rUpper, rLower } = stage.control.compensator?.components ?? {};
  if (rUpper !== undefined && rLower !== undefined) return undefined;
  const control = { ...stage.control, reference: referenceOf(stage) };
  const setFor = (output: number): Control | undefined => {
    const frame = frameOf(control, output);
    if (!frame) return undefined;
    const { network, amplifier, rUpper: upper, rLower: lower } = frame;
    return { ...control, compensator: { network, amplifier, components: { rUpper: upper, rLower: lower } } };
  };
  const { outputVoltage } = stage.targets;
  const first = setFor(outputVoltage);
  if (!first) return undefined;
  const evaluated = evaluateStage({ ...stage, control: first });
  const found = evaluated.ok ? typicalOutput(evaluated.value) : undefined;
  const centred =
    found === undefined ? first : setFor((regulatedOutput({ ...stage, control: first }) * outputVoltage) / found);
  const chosen = centred ?? first;
  const { compensator } = chosen;
  if (!compensator) return undefined;
  const { rUpper: upper = 0, rLower: lower = 0 } = compensator.components;
  const frame = { network: compensator.network, amplifier: compensator.amplifier, rUpper: upper, rLower: lower };
  return { control: chosen, choices: componentChoices(compensator.components, frame, 0, 'k-factor') };
}

/**
 * The lower divider resistor that lets a divider follow a target that moved, ohm, of a preferred series: the upper one, which a
 * network about an amplifier is shaped with, stays.
 *
 * @returns undefined where the stage has no divider that sets its output, or the output wanted is not above the reference.
 * @public
 */
export function followingDivider({ control }: Pick<Stage, 'control'>, outputVoltage: number): number | undefined {
  const { rUpper, rLower } = control.compensator?.components ?? {};
  const { reference, scheme } = control;
  if (scheme === 'open-loop' || reference === undefined || rUpper === undefined || rLower === undefined)
    return undefined;
  const ratio = Math.abs(outputVoltage) / reference - 1;
  return ratio > 0 ? nearestPreferred(rUpper / ratio, 'E192') : undefined;
}

/** The output at nominal input and full load, V. */
function typicalOutput({ complete: { stage }, corners }: EvaluatedStage): number | undefined {
  const nominal = nominalInput(stage);
  const point = corners.flatMap(({ corner, result }) =>
    result.kind === 'solved' &&
    corner.inputVoltage === nominal &&
    corner.outputCurrent === stage.targets.outputCurrent.max
      ? [result.point]
      : [],
  );
  return point[0]?.outputVoltage;
}

import { completeCompensator } from '../controller/compensatorCircuit.js';
import { completeCurrentAmplifier } from '../controller/currentAmplifier.js';
import { completeDigitalController } from '../controller/digitalController.js';
import { judgeLoop, withLoop } from '../corners/loopVerdicts.js';
import type { Stage } from '../stage/schema.js';
import { evaluateStage } from '../corners/evaluate.js';
import type { Choice } from './choice.js';
import { proposeNetwork } from './compensation.js';
import { dividerFor } from './setDivider.js';
import { toleranceClasses } from './toleranceClasses.js';
import type { SizedStage } from './size.js';

/** Whether a stage has a loop already. */
function isComplete(stage: Stage): boolean {
  switch (stage.control.scheme) {
    case 'constant-on-time':
      return true;
    case 'digital':
      return completeDigitalController(stage).ok;
    case 'average-current-mode':
      return completeCompensator(stage.control).ok && completeCurrentAmplifier(stage.control).ok;
    default:
      return completeCompensator(stage.control).ok;
  }
}

/** Whether a divider alone sets the output, with no network about it. */
const dividesOnly = ({ control: { scheme } }: Stage): boolean => scheme === 'constant-on-time' || scheme === 'digital';

/**
 * Give a sized stage its loop: a compensator that is complete stays and is judged; else one is proposed, with a divider of preferred
 * values and the classes of parts that keep the output within its tolerance. The whole is then worked anew: the output is what the
 * divider makes it.
 *
 * @returns the stage with its control, choices and verdicts; with `noLoop` in words where none could be proposed.
 * @public
 */
export function sizeLoop(sized: SizedStage): SizedStage & { readonly noLoop?: string } {
  const { stage } = sized.evaluation;
  const { scheme } = stage.control;
  if (scheme === 'open-loop') return sized;
  if (!dividesOnly(stage)) {
    if (isComplete(stage)) return { ...withLoop(sized, judgeLoop(sized)), choices: sized.choices };
    const proposal = proposeNetwork(sized);
    if (typeof proposal === 'string') return { ...sized, noLoop: proposal };
    return finished(sized, proposal);
  }
  const divided = withDivider(sized);
  const { control } = divided.evaluation.stage;
  if (isComplete(divided.evaluation.stage)) {
    const judged = judgeLoop(divided);
    // Constant on-time needs no more where its output ripple is enough.
    const unstable = judged.verdicts.some(({ target, pass }) => target === 'loopStability' && !pass);
    if (scheme !== 'constant-on-time' || !unstable || control.rippleInjection)
      return finished(divided, { control, choices: [] });
  }
  const proposal = proposeNetwork(divided);
  if (typeof proposal === 'string') return { ...divided, noLoop: proposal };
  // Injected ripple moves the average: a divider that was chosen is chosen again.
  const stated = stage.control.compensator;
  const again = dividerFor({ ...divided.evaluation.stage, control: { ...proposal.control, compensator: stated } });
  if (!again) return finished(divided, proposal);
  return finished(divided, { control: again.control, choices: standing(proposal.choices, again.choices) });
}

/** A stage with a divider chosen for it, where it states none, worked anew. */
function withDivider(sized: SizedStage): SizedStage {
  const chosen = dividerFor(sized.evaluation.stage);
  return chosen ? worked(sized, chosen.control, chosen.choices) : sized;
}

/** A stage with its control, worked anew. */
function worked(sized: SizedStage, control: Stage['control'], choices: readonly Choice[]): SizedStage {
  const evaluated = evaluateStage({ ...sized.evaluation.stage, control });
  return evaluated.ok ? { ...evaluated.value, choices: standing(sized.choices, choices) } : sized;
}

/** Choices with later ones: of what was chosen twice only the later stands in the stage. */
const standing = (earlier: readonly Choice[], later: readonly Choice[]): readonly Choice[] => [
  ...earlier.filter(({ path }) => !later.some((one) => one.path === path)),
  ...later,
];

/** A stage with its loop, worked, given the classes of parts that hold its output, and judged as a whole. */
function finished(
  sized: SizedStage,
  { control, choices }: { readonly control: Stage['control']; readonly choices: readonly Choice[] },
): SizedStage {
  const looped = worked(sized, control, choices);
  const classes = toleranceClasses(looped);
  const whole = classes.choices.length > 0 ? worked(looped, classes.control, classes.choices) : looped;
  return { ...withLoop(whole, judgeLoop(whole)), choices: whole.choices };
}

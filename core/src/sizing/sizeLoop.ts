import { completeCompensator } from '../controller/compensatorCircuit.js';
import { completeCurrentAmplifier } from '../controller/currentAmplifier.js';
import { completeDigitalController } from '../controller/digitalController.js';
import { judgeLoop, withLoop } from '../corners/loopVerdicts.js';
import type { Stage } from '../stage/schema.js';
import { proposeLoop } from './compensation.js';
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

/**
 * Give a sized stage its loop: a compensator that is complete stays and is judged; else one is proposed.
 *
 * @returns the stage with its control, choices and verdicts; with `noLoop` in words where none could be proposed.
 */
export function sizeLoop(sized: SizedStage): SizedStage & { readonly noLoop?: string } {
  const { stage } = sized.evaluation;
  const { scheme } = stage.control;
  if (scheme === 'open-loop') return sized;
  if (isComplete(stage)) {
    const judged = judgeLoop(sized);
    const asItIs = { ...withLoop(sized, judged), choices: sized.choices };
    // Constant on-time needs no more where its output ripple is enough.
    const unstable = judged.verdicts.some(({ target, pass }) => target === 'loopStability' && !pass);
    if (scheme !== 'constant-on-time' || !unstable || stage.control.rippleInjection) return asItIs;
  }
  const proposal = proposeLoop(sized);
  if (typeof proposal === 'string') return { ...sized, noLoop: proposal };
  // The steady state is regulated to its target whatever brings that about: the operating points stand.
  const designed = { ...stage, control: proposal.control };
  const evaluated = {
    ...sized,
    evaluation: { ...sized.evaluation, stage: designed },
    complete: { ...sized.complete, stage: designed },
  };
  const judged = judgeLoop(evaluated, proposal.corners);
  return { ...withLoop(evaluated, judged), choices: [...sized.choices, ...proposal.choices] };
}

import { completeCurrentAmplifier } from '../controller/currentAmplifier.js';
import { referenceOf } from '../controller/divider.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import type { Stage } from '../stage/schema.js';
import type { Choice } from './choice.js';
import { sizeCurrentAmplifier } from './currentAmplifier.js';
import { slopeByRule, SLOPE_WORDS } from './slopeCompensation.js';

type Control = Stage['control'];

/** Ramp taken where none is given, V peak to peak. Common practice: 1 to 2 V; a controller states its own. */
const RAMP = 1;
/** Share of a volt that the sensed current takes at the peak inductor current of full load, where no sense gain is given. */
const SENSED_PEAK = 0.5;
/** The rule by which slope compensation is chosen where none is given. */
const SLOPE_RULE = 'unity-q';

/** Fill in what the modulator lacks. */
export function sizeModulator(evaluated: EvaluatedStage): {
  readonly control: Control;
  readonly choices: readonly Choice[];
} {
  const { evaluation, corners } = evaluated;
  const { stage } = evaluation;
  const choices: Choice[] = [];
  const choose = (choice: Omit<Choice, 'source'>): number => {
    choices.push({ ...choice, source: 'Common practice' });
    return choice.value;
  };
  let { control } = stage;
  if (control.reference === undefined)
    control = {
      ...control,
      reference: choose({
        path: 'control.reference',
        quantity: 'reference voltage',
        unit: 'V',
        value: referenceOf(stage),
        rule: 'Typical of controllers; yours states its own.',
      }),
    };
  const { scheme } = control;
  const comparesRamp = scheme.startsWith('voltage-mode') || scheme === 'average-current-mode';
  if (comparesRamp && control.rampAmplitude === undefined)
    control = {
      ...control,
      rampAmplitude: choose({
        path: 'control.rampAmplitude',
        quantity: 'ramp amplitude',
        unit: 'V',
        value: RAMP,
        rule: 'A start, 1 to 2 V being usual; your controller states its own.',
      }),
    };
  const sensesCurrent = scheme === 'peak-current-mode' || scheme === 'average-current-mode';
  const fresh = sensesCurrent && control.currentSenseGain === undefined;
  if (fresh) {
    const peak = Math.max(
      ...corners.map(({ result }) => (result.kind === 'solved' ? result.point.inductorCurrent.peak : 0)),
    );
    const exact = SENSED_PEAK / Math.max(peak, 1e-9);
    control = {
      ...control,
      currentSenseGain: choose({
        path: 'control.currentSenseGain',
        quantity: 'current sense gain',
        unit: 'V/A',
        value: nearestPreferred(exact, 'E12'),
        rule: 'Half a volt at the highest peak of the inductor current: above the noise, below what a control voltage reaches.',
      }),
    };
  }
  // The gain of a controller's record comes without its slope, which is to be set.
  const unsloped = (fresh || control.controller !== undefined) && control.slopeCompensation === 0;
  if (unsloped && scheme === 'peak-current-mode') {
    const needed = slopeByRule(SLOPE_RULE, evaluated, control.currentSenseGain ?? 0);
    if (needed > 0) {
      const { rule, source } = SLOPE_WORDS[SLOPE_RULE];
      const value = nearestPreferred(needed, 'E24');
      choices.push({
        path: 'control.slopeCompensation',
        quantity: 'slope compensation',
        unit: 'V/s',
        value,
        rule,
        source,
      });
      control = { ...control, slopeCompensation: value };
    }
  }
  if (scheme === 'average-current-mode' && !completeCurrentAmplifier(control).ok) {
    const sized = sizeCurrentAmplifier(evaluated, control.rampAmplitude ?? RAMP, control.currentSenseGain ?? 0);
    if (sized) {
      choices.push(...sized.choices);
      control = { ...control, currentAmplifier: sized.parts };
    }
  }
  return { control, choices };
}

import { dividerOf } from '../controller/divider.js';
import type { RippleInjection } from '../controller/rippleInjection.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { outputCapacitor } from '../parts/outputCapacitor.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import type { Choice } from './choice.js';

/** Times the bare limit that the ripple is made. Common practice: several. */
const OVER_LIMIT = 3;
/** Least ripple at the feedback node, V peak to peak: above the noise of a comparator. Common practice. */
const LEAST_RIPPLE = 0.02;
/** The coupling hands over what lies above this share of the switching frequency. */
const COUPLES_FROM = 1 / 10;
/** Least resistance of the divider behind the feedback node, ohm. */
const LEAST_BEHIND = 100;
/** The ripple capacitor over the coupling one, which must not load it. */
const OVER_COUPLING = 10;

const SOURCE =
  'R. Redl, J. Sun, Ripple-Based Control of Switching Regulators – An Overview, IEEE Trans. Power Electron. 24 (2009)';

/**
 * A ripple injection network for a constant on-time buck: enough ripple at every corner for pulses not to alternate, and for the
 * comparator to see it.
 *
 * @returns the words for why there is none.
 */
export function sizeRippleInjection({
  complete,
  corners,
}: Pick<EvaluatedStage, 'complete' | 'corners'>):
  { readonly injection: RippleInjection; readonly choices: readonly Choice[] } | string {
  const { stage, inductor, switchingFrequency } = complete;
  const { targets } = stage;
  const { esr, capacitance } = outputCapacitor(complete);
  const points = corners.flatMap(({ result }) => (result.kind === 'solved' ? [result.point] : []));
  if (points.length === 0) return 'no corner has an operating point';
  const onTimes = points.map((point) => point.duty / point.switchingFrequency);
  const needed = (OVER_LIMIT * Math.max(...onTimes)) / (2 * capacitance) - esr;
  const forStability = needed > 0 ? inductor.inductance / needed : Infinity;
  const forRipple = Math.min(
    ...points.map(({ inputVoltage }, k) => ((inputVoltage - targets.outputVoltage) * (onTimes[k] ?? 0)) / LEAST_RIPPLE),
  );
  const time = Math.min(forStability, forRipple);
  const { rUpper, rLower } = dividerOf(stage);
  const behind = (rUpper * rLower) / (rUpper + rLower);
  if (behind < LEAST_BEHIND) return 'the feedback node hangs on the output itself, where no ripple can be put in';
  const coupling = nearestPreferred(1 / (2 * Math.PI * COUPLES_FROM * switchingFrequency * behind), 'E12');
  const rippleCapacitor = nearestPreferred(OVER_COUPLING * coupling, 'E12');
  const injection = {
    resistance: nearestPreferred(time / rippleCapacitor, 'E24'),
    capacitance: rippleCapacitor,
    coupling,
  };
  const choice = (key: keyof RippleInjection, quantity: string, unit: Choice['unit'], rule: string): Choice => ({
    path: `control.rippleInjection.${key}`,
    quantity,
    unit,
    value: injection[key],
    rule,
    source: key === 'resistance' ? SOURCE : 'Common practice',
  });
  return {
    injection,
    choices: [
      choice(
        'resistance',
        'ripple resistor',
        'ohm',
        forStability < forRipple
          ? `With its capacitor stands for an ESR that makes the ripple ${String(OVER_LIMIT)} times its limit at the longest on-time.`
          : 'With its capacitor makes 20 mV at the feedback node at the corner with least ripple.',
      ),
      choice(
        'capacitance',
        'ripple capacitor',
        'F',
        `${String(OVER_COUPLING)} times the coupling capacitor, which must not load it.`,
      ),
      choice(
        'coupling',
        'coupling capacitor',
        'F',
        'With the divider passes what lies above a tenth of the switching frequency.',
      ),
    ],
  };
}

import {
  buckIdealDuty,
  buckInductance,
  buckInputCapacitance,
  buckRipple,
  outputRipple,
  summedRipple,
} from '../firstcut/buckForms.js';
import { SOURCES } from '../firstcut/sources.js';
import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred, preferredAtLeast, preferredAtMost } from '../quantity/preferredValues.js';
import type { Pinnable, Stage } from '../stage/schema.js';
import { bankModel } from '../parts/capacitorBank.js';
import { applied } from '../working/closedForm.js';
import { ceramicBank, enlarged } from './ceramicBank.js';
import type { Choice } from './choice.js';
import {
  CERAMIC_ESR,
  CONDUCTION_SHARE,
  DRAIN_VOLTAGE_CLASSES,
  INDUCTOR_CURRENT_MARGIN,
  INPUT_RIPPLE_SHARE,
  MOST_IN_PARALLEL,
  OUTPUT_RIPPLE_SHARE,
  RIPPLE_RATIO,
  SWITCHING_FREQUENCY,
  VOLTAGE_MARGIN,
  voltageClass,
} from './rules.js';

/** A stage with its first-cut values filled in, and why each was chosen. */
export interface FirstCut {
  readonly stage: Stage;
  readonly choices: readonly Choice[];
}

/** The duty ratios of the ideal stage over its input range, ascending. */
function dutyRange({ targets }: Stage): { readonly low: number; readonly high: number } {
  return {
    low: targets.outputVoltage / targets.inputVoltage.max,
    high: targets.outputVoltage / targets.inputVoltage.min,
  };
}

/**
 * Fill in what a buck stage lacks, by closed forms and rules of thumb: a first cut, which `size` then checks with the
 * engine. Values that are pinned and present are kept.
 *
 * @param keep whether a place of the stage file is to be left as it is.
 */
export function sizeBuck(stage: Stage, keep: (place: Pinnable) => boolean): FirstCut {
  const choices: Choice[] = [];
  const { targets, phases } = stage;
  const { max: vInMax } = targets.inputVoltage;
  const vOut = targets.outputVoltage;
  const load = targets.outputCurrent.max;
  const phaseCurrent = load / phases;
  const outputPower = vOut * load;
  const parts = { ...stage.parts };

  let fSw = stage.switchingFrequency;
  if (fSw === undefined || !keep('switchingFrequency')) {
    const range = targets.switchingFrequency;
    const rounded = range ? nearestPreferred(Math.sqrt(range.min * range.max), 'E24') : SWITCHING_FREQUENCY;
    fSw = range ? Math.min(range.max, Math.max(range.min, rounded)) : rounded;
    choices.push({
      path: 'switchingFrequency',
      quantity: 'switching frequency',
      unit: 'Hz',
      value: fSw,
      rule: range
        ? 'Geometric middle of the allowed range, to two digits.'
        : 'No range is given: a middling value to start from.',
      source: SOURCES.practice,
    });
  }

  const duty = applied(buckIdealDuty, { vIn: vInMax, vOut }).value;
  if (!parts.inductor || !keep('parts.inductor')) {
    const ratio = targets.inductorRippleRatio ?? RIPPLE_RATIO;
    const form = applied(buckInductance, { vOut, duty, fSw, ratio, phaseCurrent });
    const inductance = preferredAtLeast(form.value, 'E12');
    const current = preferredAtLeast(phaseCurrent * INDUCTOR_CURRENT_MARGIN, 'E24');
    parts.inductor = {
      inductance,
      resistance: preferredAtMost((CONDUCTION_SHARE * outputPower) / phases / phaseCurrent ** 2, 'E24'),
      saturationCurrent: current,
      heatingCurrent: current,
    };
    choices.push(
      {
        path: 'parts.inductor.inductance',
        quantity: 'inductance',
        unit: 'H',
        value: inductance,
        rule: `${formatQuantity(form.value, 'H', 4)} rounded up to the next E12 value, so that the ripple stays within its ratio.`,
        source: form.source,
        form,
      },
      {
        path: 'parts.inductor.resistance',
        quantity: 'inductor resistance',
        unit: 'ohm',
        value: parts.inductor.resistance,
        rule: `What turns ${formatQuantity(100 * CONDUCTION_SHARE, 'count')} % of the output power into heat at full load, rounded down to E24: a start, until a part is chosen.`,
        source: SOURCES.practice,
      },
      {
        path: 'parts.inductor.saturationCurrent',
        quantity: 'saturation current',
        unit: 'A',
        value: current,
        rule: `Needed rating: ${String(INDUCTOR_CURRENT_MARGIN)} times the full load of a phase, rounded up to E24.`,
        source: SOURCES.practice,
      },
    );
  }
  const { inductance } = parts.inductor;

  const rating = voltageClass(vInMax * VOLTAGE_MARGIN, DRAIN_VOLTAGE_CLASSES);
  const mosfet = (place: 'highSide' | 'lowSide', words: string, share: number): void => {
    if (parts[place] && keep(`parts.${place}`)) return;
    const onResistance = preferredAtMost(
      (CONDUCTION_SHARE * outputPower) / phases / (phaseCurrent ** 2 * share),
      'E24',
    );
    parts[place] = { onResistance, drainSourceVoltageMax: rating };
    choices.push(
      {
        path: `parts.${place}.onResistance`,
        quantity: `${words} on-resistance`,
        unit: 'ohm',
        value: onResistance,
        rule: `What turns ${formatQuantity(100 * CONDUCTION_SHARE, 'count')} % of the output power into conduction heat at full load and the input voltage at which it conducts longest, rounded down to E24.`,
        source: SOURCES.practice,
      },
      {
        path: `parts.${place}.drainSourceVoltageMax`,
        quantity: `${words} voltage rating`,
        unit: 'V',
        value: rating,
        rule: `Lowest usual class that is ${String(VOLTAGE_MARGIN)} times the highest input voltage, for ringing.`,
        source: SOURCES.practice,
      },
    );
  };
  const range = dutyRange(stage);
  mosfet('highSide', 'high-side', range.high);
  if (stage.rectifier === 'synchronous') mosfet('lowSide', 'low-side', 1 - range.low);

  if (!parts.outputCapacitors || !keep('parts.outputCapacitors')) {
    const limit = targets.outputRipple ?? OUTPUT_RIPPLE_SHARE * vOut;
    const ripple = applied(buckRipple, { vOut, duty, fSw, inductance }).value;
    // At a duty where interleaving cancels the whole ripple the phase ripple is still there when the input moves.
    const summed = Math.max(applied(summedRipple, { ripple, duty, phases }).value, ripple / (10 * phases));
    let bank = ceramicBank(summed / (8 * phases * fSw * limit), vOut, vOut);
    const predicted = () => applied(outputRipple, { ripple: summed, duty, phases, fSw: fSw, ...bankModel(bank, vOut) });
    let form = predicted();
    for (let step = 0; step < 200 && form.value > limit; step += 1) {
      bank = enlarged(bank);
      form = predicted();
    }
    parts.outputCapacitors = [bank];
    choices.push({
      path: 'parts.outputCapacitors[0].count',
      quantity: 'output capacitors in parallel',
      unit: 'count',
      value: bank.count,
      rule: `Ceramics of ${formatQuantity(bank.capacitance, 'F')} with ${formatQuantity(CERAMIC_ESR, 'ohm')} each, as many as bring the ripple under ${formatQuantity(limit, 'V')}, bias counted; at most ${String(MOST_IN_PARALLEL)} before a larger value is taken.`,
      source: form.source,
      form,
    });
  }
  if (!parts.inputCapacitors || !keep('parts.inputCapacitors')) {
    const limit = targets.inputRipple ?? INPUT_RIPPLE_SHARE * targets.inputVoltage.min;
    const worst = worstInputDuty(range.low, range.high, phases);
    const form = applied(buckInputCapacitance, { loadCurrent: load, duty: worst, phases, fSw, inputRipple: limit });
    const bank = ceramicBank(form.value, vInMax, vInMax);
    parts.inputCapacitors = [bank];
    choices.push({
      path: 'parts.inputCapacitors[0].count',
      quantity: 'input capacitors in parallel',
      unit: 'count',
      value: bank.count,
      rule: `Ceramics of ${formatQuantity(bank.capacitance, 'F')}, enough for an input ripple of ${formatQuantity(limit, 'V')} at the duty ratio of the range at which it is largest, bias counted.`,
      source: form.source,
      form,
    });
  }
  return { stage: { ...stage, switchingFrequency: fSw, parts }, choices };
}

/** The duty ratio within a range at which the input capacitors work hardest: nearest to the middle between two nulls. */
function worstInputDuty(low: number, high: number, phases: number): number {
  const weight = (d: number): number => {
    const m = Math.floor(phases * d + 1e-12);
    return (d - m / phases) * ((m + 1) / phases - d);
  };
  const middles = Array.from({ length: phases }, (_, m) => (m + 0.5) / phases).filter((d) => d > low && d < high);
  return [low, high, ...middles].reduce((worst, d) => (weight(d) > weight(worst) ? d : worst));
}

import { outputRipple, summedRipple } from '../firstcut/buckForms.js';
import {
  onTimeRipple,
  pulsedCapacitance,
  pulsedOutputCapacitance,
  triangleCapacitance,
} from '../firstcut/boostForms.js';
import { bankModel } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { Stage } from '../stage/schema.js';
import { worstOf, type IdealPoint } from '../powerstage/idealPoint.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { ceramicBank, enlarged } from './ceramicBank.js';
import type { Choice } from './choice.js';
import { loadStepNeeds } from '../rules/loadStepNeeds.js';
import * as rules from '../rules/rules.js';

/** A bank and why it was chosen. */
interface ChosenBank {
  readonly value: readonly CapacitorBank[];
  readonly choices: readonly Choice[];
}

function bankChoice(side: 'output' | 'input', bank: CapacitorBank, form: AppliedForm, purpose: string): Choice {
  const rule = `Ceramics of ${formatQuantity(bank.capacitance, 'F')} with ${formatQuantity(rules.CERAMIC_ESR, 'ohm')} each, as many as the closed form asks for ${purpose}, bias counted; at most ${String(rules.MOST_IN_PARALLEL)} before a larger value is taken.`;
  return {
    path: `parts.${side}Capacitors[0].count`,
    quantity: `${side} capacitors in parallel`,
    unit: 'count',
    value: bank.count,
    rule,
    source: form.source,
    form,
  };
}

const forRipple = (limit: number): string => `a ripple of ${formatQuantity(limit, 'V')}`;

/** The output bank for the ripple alone, with the closed form behind it. */
function rippleBank(
  { targets, phases }: Stage,
  range: readonly IdealPoint[],
  fSw: number,
  inductance: number,
  limit: number,
): { readonly bank: CapacitorBank; readonly form: AppliedForm } {
  const vOut = Math.abs(targets.outputVoltage);
  const pulsed = range.filter((p) => p.pulsedOutput);
  if (pulsed.length > 0) {
    const { duty } = worstOf(pulsed, (p) => p.duty);
    const loadCurrent = targets.outputCurrent.max;
    const form = applied(pulsedOutputCapacitance, { loadCurrent, duty, fSw, outputRipple: limit });
    return { bank: ceramicBank(form.value, vOut, vOut), form };
  }
  const worst = worstOf(range, (p) => p.onVoltage * p.duty);
  const ripple = (worst.onVoltage * worst.duty) / (fSw * inductance);
  // At a duty where interleaving cancels the whole ripple the phase ripple is still there when the input moves.
  const summed = Math.max(applied(summedRipple, { ripple, duty: worst.duty, phases }).value, ripple / (10 * phases));
  let bank = ceramicBank(summed / (8 * phases * fSw * limit), vOut, vOut);
  const predicted = () =>
    applied(outputRipple, { ripple: summed, duty: worst.duty, phases, fSw, ...bankModel(bank, vOut) });
  let form = predicted();
  while (form.value > limit && bank.count < rules.MOST_EVER) {
    bank = enlarged(bank);
    form = predicted();
  }
  return { bank, form };
}

/** The output bank: what the ripple asks for, or the load step where it asks for more. */
export function outputBankOf(stage: Stage, range: readonly IdealPoint[], fSw: number, inductance: number): ChosenBank {
  const { targets } = stage;
  const vOut = Math.abs(targets.outputVoltage);
  const limit = targets.outputRipple ?? rules.OUTPUT_RIPPLE_SHARE * vOut;
  const { bank, form } = rippleBank(stage, range, fSw, inductance, limit);
  const steps = [...loadStepNeeds(stage, inductance, fSw)].sort((a, b) => b.form.value - a.form.value);
  const [hardest] = steps;
  if (!hardest || hardest.form.value <= bankModel(bank, vOut).capacitance)
    return { value: [bank], choices: [bankChoice('output', bank, form, forRipple(limit))] };
  const larger = ceramicBank(hardest.form.value, vOut, vOut);
  return { value: [larger], choices: [bankChoice('output', larger, hardest.form, `the ${hardest.why}`)] };
}

/** The input bank, for the ripple. */
export function inputBankOf(stage: Stage, range: readonly IdealPoint[], fSw: number, inductance: number): ChosenBank {
  const { targets, phases } = stage;
  const limit = targets.inputRipple ?? rules.INPUT_RIPPLE_SHARE * targets.inputVoltage.min;
  const { max } = targets.inputVoltage;
  const pulsed = range.filter((p) => p.pulsedInput);
  let form: AppliedForm;
  if (pulsed.length > 0) {
    const worst = worstOf(pulsed, (p) => p.phaseCurrent * interleavedWeight(p.duty, phases));
    // The weight of N phases stands in for D(1−D) of one: solved back for the duty of a single phase with that weight.
    const weight = interleavedWeight(worst.duty, phases);
    form = applied(pulsedCapacitance, {
      pulse: worst.phaseCurrent * phases,
      duty: (1 - Math.sqrt(1 - 4 * weight)) / 2,
      fSw,
      limit,
    });
  } else {
    const worst = worstOf(range, (p) => p.onVoltage * p.duty);
    form = applied(triangleCapacitance, {
      ripple: applied(onTimeRipple, { vIn: worst.inputVoltage, duty: worst.duty, fSw, inductance }).value,
      fSw,
      limit,
    });
  }
  const bank = ceramicBank(form.value, max, max);
  return { value: [bank], choices: [bankChoice('input', bank, form, forRipple(limit))] };
}

/** (D − m/N)((m+1)/N − D): what D(1−D) of one phase becomes for N interleaved ones. */
function interleavedWeight(duty: number, phases: number): number {
  const m = Math.floor(phases * duty + 1e-12);
  return (duty - m / phases) * ((m + 1) / phases - duty);
}

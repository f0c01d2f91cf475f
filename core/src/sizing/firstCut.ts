import { buckInductance, outputRipple, summedRipple } from '../firstcut/buckForms.js';
import {
  onTimeInductance,
  onTimeRipple,
  pulsedCapacitance,
  pulsedOutputCapacitance,
  triangleCapacitance,
} from '../firstcut/boostForms.js';
import { SOURCES } from '../firstcut/sources.js';
import { bankModel } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred, preferredAtLeast, preferredAtMost } from '../quantity/preferredValues.js';
import { LEG_PLACES, SWITCH_WORDS, type SwitchPlace } from '../stage/completeStage.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { Pinnable, Stage } from '../stage/schema.js';
import { applied, type AppliedForm } from '../working/closedForm.js';
import { ceramicBank, enlarged } from './ceramicBank.js';
import type { Choice } from './choice.js';
import { idealRange, worstOf, type IdealPoint } from './idealPoint.js';
import * as rules from './rules.js';

/** A stage with its first-cut values filled in, and why each was chosen. */
export interface FirstCut {
  readonly stage: Stage;
  readonly choices: readonly Choice[];
}

type Keep = (place: Pinnable) => boolean;
type Chosen<T> = { readonly value: T; readonly choices: readonly Choice[] };

const PERCENT = `${formatQuantity(100 * rules.CONDUCTION_SHARE, 'count')} %`;
/** Highest voltage each switch blocks, by topology: input, output, or both added. */
const BLOCKS: Readonly<Record<Stage['topology'], Readonly<Partial<Record<SwitchPlace, 'input' | 'output' | 'both'>>>>> =
  {
    buck: { highSide: 'input', lowSide: 'input' },
    boost: { highSide: 'output', lowSide: 'output' },
    'inverting-buck-boost': { highSide: 'both', lowSide: 'both' },
    'four-switch-buck-boost': {
      highSide: 'input',
      lowSide: 'input',
      outputHighSide: 'output',
      outputLowSide: 'output',
    },
  };

function frequencyOf({ targets }: Stage): Chosen<number> {
  const range = targets.switchingFrequency;
  const rounded = range ? nearestPreferred(Math.sqrt(range.min * range.max), 'E24') : rules.SWITCHING_FREQUENCY;
  const value = range ? Math.min(range.max, Math.max(range.min, rounded)) : rounded;
  const rule = range
    ? 'Geometric middle of the allowed range, to two digits.'
    : 'No range is given: a middling value to start from.';
  return {
    value,
    choices: [
      {
        path: 'switchingFrequency',
        quantity: 'switching frequency',
        unit: 'Hz',
        value,
        rule,
        source: SOURCES.practice,
      },
    ],
  };
}

const ratioPerInductance = (p: IdealPoint): number => (p.onVoltage * p.duty) / p.phaseCurrent;

function inductorOf(
  stage: Stage,
  range: readonly IdealPoint[],
  fSw: number,
): Chosen<NonNullable<Stage['parts']['inductor']>> {
  const { targets } = stage;
  const ratio = targets.inductorRippleRatio ?? rules.RIPPLE_RATIO;
  const worst = worstOf(range, ratioPerInductance);
  const { duty, phaseCurrent, onVoltage } = worst;
  const form =
    stage.topology === 'buck'
      ? applied(buckInductance, { vOut: targets.outputVoltage, duty, fSw, ratio, phaseCurrent })
      : applied(onTimeInductance, { onVoltage, duty, fSw, ratio, phaseCurrent });
  const inductance = preferredAtLeast(form.value, 'E12');
  const highest = worstOf(range, (p) => p.phaseCurrent).phaseCurrent;
  const current = preferredAtLeast(highest * rules.INDUCTOR_CURRENT_MARGIN, 'E24');
  const power = (Math.abs(targets.outputVoltage) * targets.outputCurrent.max) / stage.phases;
  const resistance = preferredAtMost((rules.CONDUCTION_SHARE * power) / highest ** 2, 'E24');
  const at = formatQuantity(worst.inputVoltage, 'V', 3);
  return {
    value: { inductance, resistance, saturationCurrent: current, heatingCurrent: current },
    choices: [
      {
        path: 'parts.inductor.inductance',
        quantity: 'inductance',
        unit: 'H',
        value: inductance,
        rule: `${formatQuantity(form.value, 'H', 4)} at ${at} input, rounded up to the next E12 value, so that the ripple stays within its ratio.`,
        source: form.source,
        form,
      },
      {
        path: 'parts.inductor.resistance',
        quantity: 'inductor resistance',
        unit: 'ohm',
        value: resistance,
        rule: `What turns ${PERCENT} of the output power into heat at the highest inductor current, rounded down to E24: a start, until a part is chosen.`,
        source: SOURCES.practice,
      },
      {
        path: 'parts.inductor.saturationCurrent',
        quantity: 'saturation current',
        unit: 'A',
        value: current,
        rule: `Needed rating: ${String(rules.INDUCTOR_CURRENT_MARGIN)} times the highest average current of a phase, rounded up to E24.`,
        source: SOURCES.practice,
      },
    ],
  };
}

/** Highest voltage at a place, V. */
function blocked(stage: Stage, place: SwitchPlace): number {
  const input = stage.targets.inputVoltage.max;
  const output = Math.abs(stage.targets.outputVoltage);
  const kind = BLOCKS[stage.topology][place];
  return kind === 'input' ? input : kind === 'output' ? output : input + output;
}

function ratingOf(
  stage: Stage,
  place: SwitchPlace,
  words: string,
  path: string,
  ratings: readonly number[],
): Chosen<number> {
  const value = rules.voltageClass(blocked(stage, place) * rules.VOLTAGE_MARGIN, ratings);
  const rule = `Lowest usual class that is ${String(rules.VOLTAGE_MARGIN)} times the highest voltage it blocks, for ringing.`;
  return {
    value,
    choices: [{ path, quantity: `${words} voltage rating`, unit: 'V', value, rule, source: SOURCES.practice }],
  };
}

function mosfetOf(
  stage: Stage,
  range: readonly IdealPoint[],
  place: SwitchPlace,
): Chosen<NonNullable<Stage['parts']['highSide']>> {
  const power = (Math.abs(stage.targets.outputVoltage) * stage.targets.outputCurrent.max) / stage.phases;
  const heating = (p: IdealPoint): number => p.phaseCurrent ** 2 * (p.conducting[place] ?? 0);
  const worst = worstOf(range, heating);
  const onResistance = preferredAtMost(
    (rules.CONDUCTION_SHARE * power) / Math.max(heating(worst), Number.MIN_VALUE),
    'E24',
  );
  const words = SWITCH_WORDS[place].replace(' switch', '');
  const rating = ratingOf(stage, place, words, `parts.${place}.drainSourceVoltageMax`, rules.DRAIN_VOLTAGE_CLASSES);
  const rule = `What turns ${PERCENT} of the output power into conduction heat at full load and ${formatQuantity(worst.inputVoltage, 'V', 3)} input, where it conducts most, rounded down to E24.`;
  return {
    value: { onResistance, drainSourceVoltageMax: rating.value },
    choices: [
      {
        path: `parts.${place}.onResistance`,
        quantity: `${words} on-resistance`,
        unit: 'ohm',
        value: onResistance,
        rule,
        source: SOURCES.practice,
      },
      ...rating.choices,
    ],
  };
}

function diodeOf(
  stage: Stage,
  range: readonly IdealPoint[],
  place: SwitchPlace,
): Chosen<NonNullable<Stage['parts']['diode']>> {
  const highest = worstOf(range, (p) => p.phaseCurrent).phaseCurrent;
  const rating = ratingOf(
    stage,
    place,
    'rectifier diode',
    'parts.diode.reverseVoltageMax',
    rules.DRAIN_VOLTAGE_CLASSES,
  );
  const forwardVoltage = rating.value <= rules.SCHOTTKY_LIMIT ? rules.SCHOTTKY_VOLTAGE : rules.JUNCTION_VOLTAGE;
  const dynamicResistance = preferredAtMost(rules.DIODE_RESISTIVE_DROP / highest, 'E24');
  const rule = `A ${rating.value <= rules.SCHOTTKY_LIMIT ? 'Schottky' : 'junction'} diode of that rating, with ${formatQuantity(rules.DIODE_RESISTIVE_DROP, 'V')} more at full current.`;
  return {
    value: { forwardVoltage, dynamicResistance, reverseVoltageMax: rating.value },
    choices: [
      {
        path: 'parts.diode.forwardVoltage',
        quantity: 'diode forward voltage',
        unit: 'V',
        value: forwardVoltage,
        rule,
        source: SOURCES.practice,
      },
      ...rating.choices,
    ],
  };
}

function bankChoice(side: 'output' | 'input', bank: CapacitorBank, form: AppliedForm, limit: number): Choice {
  const rule = `Ceramics of ${formatQuantity(bank.capacitance, 'F')} with ${formatQuantity(rules.CERAMIC_ESR, 'ohm')} each, as many as the closed form asks for a ripple of ${formatQuantity(limit, 'V')}, bias counted; at most ${String(rules.MOST_IN_PARALLEL)} before a larger value is taken.`;
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

function outputBankOf(
  stage: Stage,
  range: readonly IdealPoint[],
  fSw: number,
  inductance: number,
): Chosen<readonly CapacitorBank[]> {
  const { targets, phases } = stage;
  const vOut = Math.abs(targets.outputVoltage);
  const limit = targets.outputRipple ?? rules.OUTPUT_RIPPLE_SHARE * vOut;
  const pulsed = range.filter((p) => p.pulsedOutput);
  if (pulsed.length > 0) {
    const { duty } = worstOf(pulsed, (p) => p.duty);
    const form = applied(pulsedOutputCapacitance, {
      loadCurrent: targets.outputCurrent.max,
      duty,
      fSw,
      outputRipple: limit,
    });
    const bank = ceramicBank(form.value, vOut, vOut);
    return { value: [bank], choices: [bankChoice('output', bank, form, limit)] };
  }
  const worst = worstOf(range, (p) => p.onVoltage * p.duty);
  const ripple = (worst.onVoltage * worst.duty) / (fSw * inductance);
  // At a duty where interleaving cancels the whole ripple the phase ripple is still there when the input moves.
  const summed = Math.max(applied(summedRipple, { ripple, duty: worst.duty, phases }).value, ripple / (10 * phases));
  let bank = ceramicBank(summed / (8 * phases * fSw * limit), vOut, vOut);
  const predicted = () =>
    applied(outputRipple, { ripple: summed, duty: worst.duty, phases, fSw, ...bankModel(bank, vOut) });
  let form = predicted();
  for (let step = 0; step < 200 && form.value > limit; step += 1) {
    bank = enlarged(bank);
    form = predicted();
  }
  return { value: [bank], choices: [bankChoice('output', bank, form, limit)] };
}

function inputBankOf(
  stage: Stage,
  range: readonly IdealPoint[],
  fSw: number,
  inductance: number,
): Chosen<readonly CapacitorBank[]> {
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
  return { value: [bank], choices: [bankChoice('input', bank, form, limit)] };
}

/** (D − m/N)((m+1)/N − D): what D(1−D) of one phase becomes for N interleaved ones. */
function interleavedWeight(duty: number, phases: number): number {
  const m = Math.floor(phases * duty + 1e-12);
  return (duty - m / phases) * ((m + 1) / phases - duty);
}

/**
 * Fill in what a stage lacks, by closed forms and rules of thumb: a first cut, which `size` then checks with the engine.
 *
 * @param keep whether a place of the stage file is to be left as it is when it is present.
 */
export function firstCut(stage: Stage, keep: Keep): FirstCut {
  const choices: Choice[] = [];
  const parts = { ...stage.parts };
  const range = idealRange(stage);
  const taken = <T>({ value, choices: made }: Chosen<T>): T => {
    choices.push(...made);
    return value;
  };
  const present = stage.switchingFrequency;
  const fSw = present !== undefined && keep('switchingFrequency') ? present : taken(frequencyOf(stage));
  if (!parts.inductor || !keep('parts.inductor')) parts.inductor = taken(inductorOf(stage, range, fSw));
  const { inductance } = parts.inductor;
  for (const { main, rectifier } of LEG_PLACES[stage.topology]) {
    if (!parts[main] || !keep(`parts.${main}`)) parts[main] = taken(mosfetOf(stage, range, main));
    if (stage.rectifier === 'synchronous') {
      if (!parts[rectifier] || !keep(`parts.${rectifier}`)) parts[rectifier] = taken(mosfetOf(stage, range, rectifier));
    }
  }
  if (stage.rectifier === 'diode' && (!parts.diode || !keep('parts.diode'))) {
    // One diode record serves every rectifier of the stage: the one that blocks most decides.
    const places = LEG_PLACES[stage.topology].map(({ rectifier }) => rectifier);
    const hardest = places.reduce((worst, place) => (blocked(stage, place) > blocked(stage, worst) ? place : worst));
    parts.diode = taken(diodeOf(stage, range, hardest));
  }
  if (!parts.outputCapacitors || !keep('parts.outputCapacitors')) {
    parts.outputCapacitors = [...taken(outputBankOf(stage, range, fSw, inductance))];
  }
  if (!parts.inputCapacitors || !keep('parts.inputCapacitors')) {
    parts.inputCapacitors = [...taken(inputBankOf(stage, range, fSw, inductance))];
  }
  return { stage: { ...stage, switchingFrequency: fSw, parts }, choices };
}

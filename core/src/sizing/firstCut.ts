import { buckInductance } from '../firstcut/buckForms.js';
import { onTimeInductance } from '../firstcut/boostForms.js';
import { SOURCES } from '../firstcut/sources.js';
import { lowestMade, typicalMosfet } from '../library/typicalMosfet.js';
import { switchTerms, watts } from '../losses/switchTerms.js';
import { paralleledMosfet } from '../stage/paralleledMosfet.js';
import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred, nextPreferredUp, preferredAtLeast, preferredAtMost } from '../quantity/preferredValues.js';
import { SWITCH_WORDS } from '../stage/completeStage.js';
import { topologyOf } from '../topology/topologies.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { Mosfet } from '../stage/partsSchema.js';
import type { Pinnable, Stage } from '../stage/schema.js';
import { JUNCTION_LIMIT, ROOM_TEMPERATURE } from '../thermal/room.js';
import { junctionToAmbient } from '../thermal/thermalPath.js';
import { applied } from '../firstcut/closedForm.js';
import type { Choice } from './choice.js';
import { inputBankOf, outputBankOf } from './firstCutCapacitors.js';
import { idealRange, worstOf, type IdealPoint } from '../powerstage/idealPoint.js';
import * as rules from '../rules/rules.js';

/** A stage with its first-cut values filled in, and why each was chosen. */
export interface FirstCut {
  readonly stage: Stage;
  readonly choices: readonly Choice[];
}

type Keep = (place: Pinnable) => boolean;
type Chosen<T> = { readonly value: T; readonly choices: readonly Choice[] };

const PERCENT = `${formatQuantity(100 * rules.CONDUCTION_SHARE, 'count')} %`;
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
  const ratio = targets.inductorRippleRatio ?? rules.rippleRatioFor(stage.control.scheme);
  const worst = worstOf(range, ratioPerInductance);
  const { duty, phaseCurrent, onVoltage } = worst;
  const form =
    worst.converter === 'buck'
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
  const kind = topologyOf(stage).blocks[place];
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

/** The rating a switch of a stage is usually given, V. */
export const typicalRating = (stage: Stage, place: SwitchPlace): number =>
  rules.voltageClass(blocked(stage, place) * rules.VOLTAGE_MARGIN, rules.DRAIN_VOLTAGE_CLASSES);

/** Highest on-resistance considered, ohm, and how much warmer silicon in work has more of it. */
const HIGHEST_RESISTANCE = 1;
const WARM = 1.3;

/** Share of the rise the junction may take that a first cut fills: its losses are estimates. */
const RISE_SHARE = 0.8;

/** Loss of a device at a place of the loss-free stage, one phase at full load, W: conduction and edges. */
function switchLoss(
  stage: Stage,
  place: SwitchPlace,
  device: Mosfet,
  fSw: number,
  { phaseCurrent, conducting }: IdealPoint,
): number {
  const share = conducting[place] ?? 0;
  const conduction = WARM * device.onResistance * phaseCurrent ** 2 * Math.max(share, rules.LEAST_CONDUCTING);
  // A leg that rests at this input has no edges.
  if (share <= 0 || share >= 1) return conduction;
  const voltage = blocked(stage, place);
  const isMain = topologyOf(stage).legs.some(({ main }) => main === place);
  const hard = { voltage, current: phaseCurrent, other: 'diode' as const };
  const edges = [
    { kind: 'on' as const, ...hard },
    { kind: 'off' as const, ...hard },
  ];
  const bearing = { place, otherPlace: place, edges, frequency: fSw, phases: 1 };
  const { terms } = switchTerms(device, { kind: 'switch', mosfet: device }, bearing, stage.control.gateDriver);
  // A rectifier turns on and off without voltage across it; its charges are lost in the main switch all the same.
  const counted = terms.filter(({ kind }) => isMain || (kind !== 'TurnOn' && kind !== 'TurnOff'));
  return conduction + counted.reduce((sum, term) => sum + watts(term), 0);
}

function mosfetOf(
  stage: Stage,
  range: readonly IdealPoint[],
  place: SwitchPlace,
  fSw: number,
): Chosen<NonNullable<Stage['parts']['highSide']>> {
  const words = SWITCH_WORDS[place].replace(' switch', '');
  const rating = ratingOf(stage, place, words, `parts.${place}.drainSourceVoltageMax`, rules.DRAIN_VOLTAGE_CLASSES);
  const ends = [range[0], range[Math.floor(range.length / 2)], range.at(-1)].filter((p) => p !== undefined);
  const leastLossOf = (count: number): { readonly device: Mosfet; readonly watts: number } => {
    let best: { device: Mosfet; watts: number } | undefined;
    for (
      let ohms = preferredAtLeast(lowestMade(rating.value), 'E24');
      ohms <= HIGHEST_RESISTANCE || !best;
      ohms = nextPreferredUp(ohms, 'E24')
    ) {
      const device: Mosfet = { ...typicalMosfet(rating.value, ohms), ...(count > 1 && { count }) };
      const together = paralleledMosfet(device);
      const watts = Math.max(...ends.map((p) => switchLoss(stage, place, together, fSw, p)));
      if (!best || watts < best.watts) best = { device, watts };
    }
    return best;
  };
  const ambient = stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
  const allowed = RISE_SHARE * ((stage.targets.junctionTemperatureMax ?? JUNCTION_LIMIT) - ambient);
  const rise = ({ device, watts }: ReturnType<typeof leastLossOf>): number =>
    watts * (junctionToAmbient(paralleledMosfet(device), stage.parts.cooling) ?? 0);
  let count = 1;
  let best = leastLossOf(count);
  // More devices share the heat; they are taken when one alone would grow too hot.
  while (rise(best) > allowed && count < rules.MOST_PARALLEL) {
    count += 1;
    const next = leastLossOf(count);
    if (rise(next) < rise(best)) best = next;
  }
  const parallel = best.device.count ?? 1;
  return {
    value: best.device,
    choices: [
      {
        path: `parts.${place}.onResistance`,
        quantity: `${words} on-resistance`,
        unit: 'ohm',
        value: best.device.onResistance,
        rule: `Where a typical ${formatQuantity(rating.value, 'V')} device loses least at full load, conduction and edges together: ${formatQuantity(best.watts, 'W', 3)} at the input where that is most. A larger die conducts better and switches more charge. A start, until a part is chosen.`,
        source: SOURCES.practice,
      },
      ...(parallel > 1
        ? [
            {
              path: `parts.${place}.count`,
              quantity: `${words} devices in parallel`,
              unit: 'count' as const,
              value: parallel,
              rule: `As many as keep the junction within ${formatQuantity(100 * RISE_SHARE, 'count')} % of the rise it may take.`,
              source: SOURCES.practice,
            },
          ]
        : []),
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
  for (const { main, rectifier } of topologyOf(stage).legs) {
    if (!parts[main] || !keep(`parts.${main}`)) parts[main] = taken(mosfetOf(stage, range, main, fSw));
    if (stage.rectifier === 'synchronous') {
      if (!parts[rectifier] || !keep(`parts.${rectifier}`))
        parts[rectifier] = taken(mosfetOf(stage, range, rectifier, fSw));
    }
  }
  if (stage.rectifier === 'diode' && (!parts.diode || !keep('parts.diode'))) {
    // One diode record serves every rectifier of the stage: the one that blocks most decides.
    const places = topologyOf(stage).legs.map(({ rectifier }) => rectifier);
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

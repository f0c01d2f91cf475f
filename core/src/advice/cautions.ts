import {
  dampingBulk,
  IMPEDANCE_SHARE,
  inputInductance,
  metImpedances,
  weakestAtInput,
} from '../selection/inputResonance.js';
import { fuseRatingAtLeast } from '../auxiliary/fuseRatings.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { behind } from '../smallsignal/inputImpedance.js';
import { extremes } from '../orbit/measures.js';
import { currentOf } from '../orbit/signal.js';
import { capacitanceOf, energyOf } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import { hotPlug } from '../selection/hotPlug.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { Stage } from '../stage/schema.js';
import { ES1_LIMIT, statedCautions, type Caution } from './statedCautions.js';

/** A junction above which the part is not to be touched, degC: what a metal surface may have for a second or so. Common practice. */
const TOUCHABLE = 60;
/** Energy that a spark or a burn is made of, J. Common practice. */
const SPARK_ENERGY = 0.05;

const volts = (value: number): string => formatQuantity(value, 'V', 3);

/**
 * A stage with bulk that damps the resonance of an inductance, H, with the capacitors at its input, and the bulk in words; undefined
 * where there is nothing to damp.
 */
function dampedBy(
  complete: CompleteStage,
  inductance: number,
  bias: number,
): { readonly words: string; readonly complete: CompleteStage } | undefined {
  const { inputCapacitors } = complete;
  const total = capacitanceOf(inputCapacitors, bias);
  if (inductance <= 0 || total <= 0) return undefined;
  const { capacitance, resistance } = dampingBulk(inductance, total);
  const bulk: CapacitorBank = { kind: 'electrolytic', capacitance, esr: resistance, esl: 0, count: 1 };
  const words = `bulk of about ${formatQuantity(capacitance, 'F', 2)} with ${formatQuantity(resistance, 'ohm', 2)} in series, its own included`;
  return { words, complete: { ...complete, inputCapacitors: [...inputCapacitors, bulk] } };
}

/** What a side of a stage holds when its supply is cut off. */
export interface Stored {
  readonly words: string;
  /** V, at the most. */
  readonly voltage: number;
  /** F, at that voltage. */
  readonly capacitance: number;
  /** J */
  readonly energy: number;
  /** Ω, that discharges it without load; undefined where nothing of the stage does. */
  readonly resistance: number | undefined;
}

/** Resistances in parallel, those that are there; undefined where none is. */
function besideEachOther(resistances: readonly (number | undefined)[]): number | undefined {
  const there = resistances.filter((one) => one !== undefined);
  return there.length === 0 ? undefined : 1 / there.reduce((sum, one) => sum + 1 / one, 0);
}

/** What stays charged on either side, filters included. */
export function storedIn({ stage, outputCapacitors, inputCapacitors }: CompleteStage): readonly Stored[] {
  const { inputVoltage, outputVoltage } = stage.targets;
  const { inputFilter, outputFilter, preload } = stage.parts;
  const { rUpper, rLower } = stage.control.compensator?.components ?? {};
  const side = (
    words: string,
    voltage: number,
    banks: readonly CapacitorBank[],
    beside: number,
    resistance: number | undefined,
  ): Stored => ({
    words,
    voltage,
    capacitance: capacitanceOf(banks, voltage) + beside,
    energy: energyOf(banks, voltage) + (beside * voltage ** 2) / 2,
    resistance,
  });
  return [
    side(
      'output',
      Math.abs(outputVoltage),
      [...outputCapacitors, ...(outputFilter?.capacitors ?? [])],
      0,
      besideEachOther([
        rUpper !== undefined && rLower !== undefined ? rUpper + rLower : undefined,
        preload?.resistance,
      ]),
    ),
    side(
      'input',
      inputVoltage.max,
      inputCapacitors,
      (inputFilter?.damping?.capacitance ?? 0) + (inputFilter?.terminal?.capacitance ?? 0),
      undefined,
    ),
  ];
}

/** Energy left in the capacitors, and what lets it go. */
function storedEnergy(complete: CompleteStage): readonly Caution[] {
  const { stage } = complete;
  return storedIn(complete).flatMap(({ words, voltage, capacitance, energy, resistance }): readonly Caution[] => {
    if (energy < SPARK_ENERGY && voltage <= ES1_LIMIT) return [];
    const goes =
      resistance === undefined
        ? 'nothing in the stage discharges it when it stands without load: fit a bleeder'
        : `without load only ${stage.parts.preload && words === 'output' ? 'preload and divider discharge' : 'the divider discharges'} it, to 5 % in ${formatQuantity(3 * resistance * capacitance, 's', 2)}`;
    return [
      {
        code: `stored-energy-${words}`,
        sentence: `The ${words} capacitors hold ${formatQuantity(energy, 'J', 2)} at ${volts(voltage)}; ${goes}.`,
      },
    ];
  });
}

/** A fuse carries so much of its rating for long, warm: common practice (three quarters, and a tenth less in the heat). */
const FUSE_CARRIES = 0.75 * 0.9;
/** Share of its largest below nothing at which a current turns round, and is no rounding. */
const ROUNDING = 1e-6;
const amperes = (value: number): string => formatQuantity(value, 'A', 3);

/** What protects the input, against what the stage asks of it. */
function protection({ complete, corners }: EvaluatedStage): readonly Caution[] {
  const { parts, targets } = complete.stage;
  const { fuse, reversePolarity, suppressor } = parts;
  const { max } = targets.inputVoltage;
  const solved = corners.flatMap(({ result }) => (result.kind === 'solved' ? [result] : []));
  const input = Math.max(0, ...solved.map(({ point }) => point.inputCurrent));
  const weakest = weakestAtInput(complete);
  const standOff = suppressor?.standOffVoltage ?? suppressor?.clampingVoltage;
  const turns = solved.some(({ solution, powerStage }) => {
    if (!powerStage.circuit.elements.some(({ kind, name }) => kind === 'diode' && name === 'reversePolarity'))
      return false;
    const { min, max: most } = extremes(solution, currentOf('reversePolarity'));
    return min < -ROUNDING * most;
  });
  const said: readonly (readonly [boolean, string, () => string])[] = [
    [
      fuse?.ratedCurrent !== undefined && fuse.ratedCurrent * FUSE_CARRIES < input,
      'fuse-too-small',
      () =>
        `A fuse of ${amperes(fuse?.ratedCurrent ?? 0)} carries about ${amperes((fuse?.ratedCurrent ?? 0) * FUSE_CARRIES)} for long in the heat (common practice), and the stage draws up to ${amperes(input)}: take one of ${amperes(fuseRatingAtLeast(input / FUSE_CARRIES))} or more.`,
    ],
    [
      reversePolarity?.blockingVoltageMax !== undefined && reversePolarity.blockingVoltageMax < 2 * max,
      'reverse-polarity-rating',
      () =>
        `Turned round while the input is still charged, the supply puts ${volts(2 * max)} on the reverse-polarity element, which blocks ${volts(reversePolarity?.blockingVoltageMax ?? 0)}: take one that blocks more, or let the input discharge first.`,
    ],
    [
      turns,
      'input-current-turns',
      () =>
        'Within a period the stage sends current back to its source, which the diode before the input does not let through: give the stage input capacitors, or take a switch in place of the diode. The figures here take the diode as conducting throughout.',
    ],
    [
      suppressor !== undefined && weakest !== undefined && suppressor.clampingVoltage > weakest.rating,
      'suppressor-above-rating',
      () =>
        `The suppressor clamps at ${volts(suppressor?.clampingVoltage ?? 0)}, above the ${volts(weakest?.rating ?? 0)} of the ${weakest?.words ?? ''}: it does not protect them.`,
    ],
    [
      standOff !== undefined && standOff < max,
      'suppressor-conducts',
      () =>
        `The suppressor conducts above ${volts(standOff ?? 0)}, and the input may stand at ${volts(max)} for ever: it burns. Take one that stands off more.`,
    ],
  ];
  return said.flatMap(([holds, code, sentence]) => (holds ? [{ code, sentence: sentence() }] : []));
}

/** A supply put on at once against what the parts at the input stand. */
function hotPlugged(complete: CompleteStage): readonly Caution[] {
  const { max } = complete.stage.targets.inputVoltage;
  const plugged = hotPlug(complete, max);
  if (!plugged) return [];
  const weakest = weakestAtInput(complete);
  const { peak, inductance, total, stated } = plugged;
  if (!weakest || peak <= weakest.rating) return [];
  const bulk = dampedBy(complete, total, max);
  const damped = bulk && hotPlug(bulk.complete, max);
  const remedy = bulk && damped ? `${bulk.words}, brings it to ${volts(damped.peak)}; ` : '';
  return [
    {
      code: 'hot-plug-over-rating',
      sentence: `Plugged into ${volts(max)} through ${formatQuantity(inductance, 'H', 2)}${stated ? '' : ' of leads (taken, as no source is stated)'}, the input rings to ${volts(peak)}, over the ${volts(weakest.rating)} of the ${weakest.words}: ${remedy}a clamp limits it.`,
    },
  ];
}

/** What feeds the stage against its own input impedance at the lowest input and full load, over all frequencies. */
function inputOscillation(complete: CompleteStage): readonly Caution[] {
  const { stage } = complete;
  const found = metImpedances(complete);
  const met = found?.nearest.closed;
  if (!found || !met || !(met.share > IMPEDANCE_SHARE)) return [];
  const { share, frequency } = met;
  const bulk = dampedBy(complete, inputInductance(stage), stage.targets.inputVoltage.min);
  const left = bulk && behind(found, bulk.complete, stage.targets.inputVoltage.min).nearest.closed;
  const damped = bulk && left ? ` A ${bulk.words}, brings it to ${left.share.toFixed(2)}.` : '';
  return [
    {
      code: 'input-oscillation',
      sentence: `At ${formatQuantity(frequency, 'Hz', 3)} the impedance of what feeds the stage is ${share.toFixed(2)} of the stage's own (R. D. Middlebrook, 1976, asks for well below 1): source, filter and loop may oscillate together.${damped}`,
    },
  ];
}

/** Junctions too hot to touch. */
function hotSurfaces({ evaluation }: EvaluatedStage): readonly Caution[] {
  const hottest = Math.max(
    -Infinity,
    ...evaluation.operatingPoints.flatMap(({ junctionTemperatures }) =>
      Object.values(junctionTemperatures).map((one) => one ?? -Infinity),
    ),
  );
  if (!(hottest > TOUCHABLE)) return [];
  return [
    {
      code: 'hot-surfaces',
      sentence: `Junctions reach ${formatQuantity(hottest, 'degC', 3)}: their packages and the board about them burn skin. Let it cool, or guard it.`,
    },
  ];
}

/**
 * What can hurt someone, or the stage, about it, from its own values.
 *
 * @param worked the stage worked, where it can be: what its parts and temperatures say comes with it.
 * @public
 */
export function cautionsOf(stage: Stage, worked?: EvaluatedStage): readonly Caution[] {
  const stated = statedCautions(stage);
  if (!worked) return stated;
  const { complete } = worked;
  return [
    ...stated,
    ...protection(worked),
    ...hotPlugged(complete),
    ...inputOscillation(complete),
    ...storedEnergy(complete),
    ...hotSurfaces(worked),
  ];
}

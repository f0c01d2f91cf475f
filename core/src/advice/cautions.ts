import type { EvaluatedStage } from '../corners/evaluate.js';
import { dampingResistance, filterResistance } from '../firstcut/inputFilterForms.js';
import { bankModel } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import { hotPlug } from '../selection/hotPlug.js';
import { inputImpedances, type Nearest } from '../smallsignal/inputImpedance.js';
import { loopFrequencies } from '../smallsignal/loopResponse.js';
import { SWITCH_WORDS, type CompleteStage } from '../stage/completeStage.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { Stage } from '../stage/schema.js';
import { ES1_LIMIT, statedCautions, type Caution } from './statedCautions.js';
import { topologyOf } from '../topology/topologies.js';

/** A junction above which the part is not to be touched, degC: what a metal surface may have for a second or so. Common practice. */
const TOUCHABLE = 60;
/** Energy that a spark or a burn is made of, J. Common practice. */
const SPARK_ENERGY = 0.05;
/** Share of the stage's input impedance that what feeds it may reach: 6 dB below. Common practice. */
const IMPEDANCE_SHARE = 0.5;
/** Bulk that damps ceramics: so many times as much, which leaves a peak of 0.87 of their characteristic resistance. Common practice. */
const BULK_MULTIPLE = 4;
const IMPEDANCE_POINTS = 120;

const volts = (value: number): string => formatQuantity(value, 'V', 3);

const chargedTo = (banks: readonly CapacitorBank[], bias: number): number =>
  banks.reduce((sum, bank) => sum + bankModel(bank, bias).capacitance, 0);

/**
 * A stage with bulk that damps the resonance of an inductance, H, with its ceramics at the input (R. W. Erickson, D. Maksimović,
 * Fundamentals of Power Electronics, 2nd ed., ch. 10: parallel damping), and the bulk in words; undefined where there is nothing to damp.
 */
function withBulk(
  complete: CompleteStage,
  inductance: number,
  bias: number,
): { readonly words: string; readonly complete: CompleteStage } | undefined {
  const { inputCapacitors } = complete;
  const total = chargedTo(inputCapacitors, bias);
  if (inductance <= 0 || total <= 0) return undefined;
  const capacitance = BULK_MULTIPLE * total;
  const characteristic = filterResistance.compute({ inductance, capacitance: total });
  const esr = dampingResistance.compute({ characteristic, multiple: BULK_MULTIPLE });
  const bulk: CapacitorBank = { kind: 'electrolytic', capacitance, esr, esl: 0, count: 1 };
  const words = `bulk of about ${formatQuantity(capacitance, 'F', 2)} with ${formatQuantity(esr, 'ohm', 2)} in series, its own included`;
  return { words, complete: { ...complete, inputCapacitors: [...inputCapacitors, bulk] } };
}

/** Energy left in the capacitors, and what lets it go: E = C V² / 2. */
function storedEnergy({ stage, outputCapacitors, inputCapacitors }: CompleteStage): readonly Caution[] {
  const { inputVoltage, outputVoltage } = stage.targets;
  const output = Math.abs(outputVoltage);
  const { rUpper, rLower } = stage.control.compensator?.components ?? {};
  const sides = [
    {
      words: 'output',
      voltage: output,
      capacitance: chargedTo(outputCapacitors, output),
      resistance: rUpper !== undefined && rLower !== undefined ? rUpper + rLower : undefined,
    },
    {
      words: 'input',
      voltage: inputVoltage.max,
      capacitance: chargedTo(inputCapacitors, inputVoltage.max) + (stage.parts.inputFilter?.damping?.capacitance ?? 0),
      resistance: undefined,
    },
  ];
  return sides.flatMap(({ words, voltage, capacitance, resistance }): readonly Caution[] => {
    const energy = (capacitance * voltage * voltage) / 2;
    if (energy < SPARK_ENERGY && voltage <= ES1_LIMIT) return [];
    const goes =
      resistance === undefined
        ? 'nothing in the stage discharges it when it stands without load: fit a bleeder'
        : `without load only the divider discharges it, to 5 % in ${formatQuantity(3 * resistance * capacitance, 's', 2)}`;
    return [
      {
        code: `stored-energy-${words}`,
        sentence: `The ${words} capacitors hold ${formatQuantity(energy, 'J', 2)} at ${volts(voltage)}; ${goes}.`,
      },
    ];
  });
}

/** A supply put on at once against what the parts at the input stand. */
function hotPlugged(complete: CompleteStage): readonly Caution[] {
  const { stage, inputCapacitors, legs } = complete;
  const { max } = stage.targets.inputVoltage;
  const plugged = hotPlug(complete, max);
  if (!plugged) return [];
  const { blocks } = topologyOf(stage);
  const switches = legs.flatMap(({ mainPlace, main }) =>
    blocks[mainPlace] !== 'output' && main.drainSourceVoltageMax !== undefined
      ? [{ rating: main.drainSourceVoltageMax, words: SWITCH_WORDS[mainPlace] }]
      : [],
  );
  const banks = inputCapacitors.flatMap(({ ratedVoltage }) =>
    ratedVoltage === undefined ? [] : [{ rating: ratedVoltage, words: 'input capacitors' }],
  );
  const [weakest] = [...switches, ...banks].sort((a, b) => a.rating - b.rating);
  const { peak, inductance, total, stated } = plugged;
  if (!weakest || peak <= weakest.rating) return [];
  const bulk = withBulk(complete, total, max);
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
  const { stage, switchingFrequency } = complete;
  const { inputVoltage, outputCurrent } = stage.targets;
  const condition = {
    inputVoltage: inputVoltage.min,
    load: { kind: 'current' as const, current: outputCurrent.max },
  };
  const nearest = (of: CompleteStage): Nearest | undefined => {
    const met = inputImpedances(of, condition, loopFrequencies(switchingFrequency, IMPEDANCE_POINTS));
    return typeof met === 'string' ? undefined : met.nearest.closed;
  };
  const met = nearest(complete);
  if (!met || !(met.share > IMPEDANCE_SHARE)) return [];
  const { share, frequency } = met;
  const inductance = (stage.parts.source?.inductance ?? 0) + (stage.parts.inputFilter?.inductance ?? 0);
  const bulk = withBulk(complete, inductance, inputVoltage.min);
  const left = bulk && nearest(bulk.complete);
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
    ...hotPlugged(complete),
    ...inputOscillation(complete),
    ...storedEnergy(complete),
    ...hotSurfaces(worked),
  ];
}

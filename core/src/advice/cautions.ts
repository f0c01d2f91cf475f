import type { EvaluatedStage } from '../corners/evaluate.js';
import { bankModel } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import { hotPlug } from '../selection/hotPlug.js';
import { inputImpedances } from '../smallsignal/inputImpedance.js';
import { loopFrequencies } from '../smallsignal/loopResponse.js';
import { SWITCH_WORDS, type CompleteStage } from '../stage/completeStage.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';

/**
 * DC voltage up to which IEC 62368-1 takes an electrical energy source as class 1 (ES1), V. From memory: check against the
 * standard.
 *
 * @public
 */
export const ES1_LIMIT = 60;
/** A junction above which the part is not to be touched, degC: what a metal surface may have for a second or so. Common practice. */
const TOUCHABLE = 60;
/** Energy that a spark or a burn is made of, J. Common practice. */
const SPARK_ENERGY = 0.05;
/** Share of the stage's input impedance that what feeds it may reach: 6 dB below. Common practice. */
const IMPEDANCE_SHARE = 0.5;
/** Bulk that damps ceramics: so many times as much. Common practice. */
const BULK_MULTIPLE = 4;
const IMPEDANCE_POINTS = 120;

/** What can hurt someone, or the stage, about it. @public */
export interface Caution {
  readonly code: string;
  /** For the place where the stage is worked on. */
  readonly sentence: string;
}

const volts = (value: number): string => formatQuantity(value, 'V', 3);

/** What is known of a caution from the stage as it is written, with its parts or without. */
function statedCautions(stage: Stage): readonly Caution[] {
  const { targets, parts, control, rectifier, operatingMode } = stage;
  const { reach, sign, words } = topologyOf(stage);
  const { max } = targets.inputVoltage;
  const output = Math.abs(targets.outputVoltage);
  const highest = Math.max(output, max);
  const kinds = [...(parts.outputCapacitors ?? []), ...(parts.inputCapacitors ?? [])].map(({ kind }) => kind);
  const cautions: readonly (readonly [boolean, string, string])[] = [
    [
      highest > ES1_LIMIT,
      'high-voltage',
      `This stage holds ${volts(highest)}, more than the ${String(ES1_LIMIT)} V DC of the lowest energy class of IEC 62368-1: guard it, let its capacitors discharge, and have licensed practice check it.`,
    ],
    [
      max > ES1_LIMIT && output <= ES1_LIMIT,
      'output-as-live-as-input',
      `Nothing isolates the output of ${volts(output)} from the input of ${volts(max)}: treat it as live as the input, and follow local codes where it can be touched.`,
    ],
    [
      reach !== 'below',
      'output-runs-away',
      'Without feedback or without load the output of this stage can run far above its target: fit a clamp before the first power-up.',
    ],
    [
      reach === 'below',
      'input-on-output',
      `A high-side switch that fails short puts the input of ${volts(max)} on the output of ${volts(output)}: where the load does not stand that, fit a fuse and a clamp or crowbar.`,
    ],
    [
      sign < 0,
      'switches-see-the-sum',
      `The switches of an ${words} stage block input and output together, ${volts(max + output)}, before any ringing.`,
    ],
    [
      reach === 'above',
      'short-not-disconnected',
      `A ${words} stage cannot disconnect its output: a short draws what the source gives through choke and rectifier, whatever the controller does. Fit a fuse or a disconnect switch.`,
    ],
    [
      rectifier === 'synchronous' && operatingMode === 'forced-pwm',
      'pumps-into-source',
      'In forced PWM a falling reference or a charged output is pumped back into the input: a source that cannot sink, such as one behind a diode, lets the input rise. Watch the start into a charged output, or clamp the input.',
    ],
    [
      control.currentLimit === undefined,
      'no-current-limit',
      'No current limit is stated: a short or a saturating choke is limited by nothing but resistance.',
    ],
    [
      control.dutyMax >= 1 && reach !== 'below',
      'no-duty-limit',
      'The maximum duty ratio is 1: a main switch that stays closed shorts the input through the choke. Limit it below 1.',
    ],
    [
      true,
      'input-polarity',
      `Reversed at the input, the stage conducts through its body diodes or its rectifier: check the polarity of the ${volts(max)} supply first, with its current limit low.`,
    ],
    [
      kinds.includes('tantalum'),
      'tantalum-surge',
      'Tantalum capacitors can burn under surge: limit the inrush and derate their voltage.',
    ],
    [
      kinds.includes('electrolytic'),
      'electrolytic-polarity',
      'Electrolytic capacitors burst when reversed: check their polarity before the first power-up.',
    ],
  ];
  return cautions.flatMap(([holds, code, sentence]) => (holds ? [{ code, sentence }] : []));
}

const chargedTo = (banks: readonly CapacitorBank[], bias: number): number =>
  banks.reduce((sum, bank) => sum + bankModel(bank, bias).capacitance, 0);

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
  const { peak, inductance, stated } = plugged;
  if (!weakest || peak <= weakest.rating) return [];
  const capacitance = chargedTo(inputCapacitors, max);
  const bulk = formatQuantity(BULK_MULTIPLE * capacitance, 'F', 2);
  const damping = formatQuantity(Math.sqrt(inductance / capacitance), 'ohm', 2);
  return [
    {
      code: 'hot-plug-over-rating',
      sentence: `Plugged into ${volts(max)} through ${formatQuantity(inductance, 'H', 2)}${stated ? '' : ' of leads (taken, as no source is stated)'}, the input rings to ${volts(peak)}, over the ${volts(weakest.rating)} of the ${weakest.words}: bulk of about ${bulk} with ${damping} in series damps it (common practice), a clamp limits it.`,
    },
  ];
}

/** What feeds the stage against its own input impedance at the lowest input and full load, over all frequencies. */
function inputOscillation(complete: CompleteStage): readonly Caution[] {
  const { stage, inputCapacitors, switchingFrequency } = complete;
  const { inputVoltage, outputCurrent } = stage.targets;
  const condition = {
    inputVoltage: inputVoltage.min,
    load: { kind: 'current' as const, current: outputCurrent.max },
  };
  const met = inputImpedances(complete, condition, loopFrequencies(switchingFrequency, IMPEDANCE_POINTS));
  if (typeof met === 'string' || !(met.nearest.closed.share > IMPEDANCE_SHARE)) return [];
  const { share, frequency } = met.nearest.closed;
  const inductance = (stage.parts.source?.inductance ?? 0) + (stage.parts.inputFilter?.inductance ?? 0);
  const capacitance = chargedTo(inputCapacitors, inputVoltage.min);
  const damped =
    inductance > 0 && capacitance > 0
      ? ` Bulk of about ${formatQuantity(BULK_MULTIPLE * capacitance, 'F', 2)} with ${formatQuantity(Math.sqrt(inductance / capacitance), 'ohm', 2)} in series damps it (common practice).`
      : '';
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

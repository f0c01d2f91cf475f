import type { EvaluatedStage } from '../corners/evaluate.js';
import { FEATURES_UNJUDGED } from '../corners/targetRules.js';
import { controllerDuty } from '../library/controllerDuty.js';
import { isDriven } from '../library/drivenSwitch.js';
import type { PartOf } from '../library/libraryPart.js';
import { formatQuantity } from '../quantity/engineering.js';
import { VOLTAGE_MARGIN } from '../rules/rules.js';
import { topologyOf } from '../topology/topologies.js';

/** A controller against a stage. @public */
export interface ControllerCandidate {
  readonly part: PartOf<'controller'>;
  readonly fits: boolean;
  /** Why it does not, in sentences. */
  readonly reasons: readonly string[];
}

/**
 * Which controllers qualify for a stage that has been worked, and why the others do not: those that do first, the cheapest first.
 *
 * @param mosfets records that its switches are to come from, where they are not chosen yet.
 * @public
 */
export function selectControllers(
  evaluated: EvaluatedStage,
  parts: readonly PartOf<'controller'>[],
  mosfets: readonly PartOf<'mosfet'>[] = [],
): readonly ControllerCandidate[] {
  const { topology, control } = evaluated.evaluation.stage;
  // What is made for something else altogether comes last, however little else speaks against it.
  const ofAnother = (part: PartOf<'controller'>): boolean =>
    !part.topologies.includes(topology) || part.scheme !== control.scheme;
  return parts
    .map((part) => {
      const reasons = [...reasonsAgainst(evaluated, part), ...undriven(evaluated, part, mosfets)];
      return { part, reasons, fits: reasons.length === 0 };
    })
    .sort(
      (a, b) =>
        Number(b.fits) - Number(a.fits) ||
        Number(ofAnother(a.part)) - Number(ofAnother(b.part)) ||
        a.reasons.length - b.reasons.length ||
        (a.part.price ?? Infinity) - (b.part.price ?? Infinity),
    );
}

/** What of the evaluation's unjudged targets is settled by these, in the words it has there: the controller of the stage is one of them. @public */
export const controllersSettle = (
  { evaluation }: Pick<EvaluatedStage, 'evaluation'>,
  candidates: readonly ControllerCandidate[],
): readonly string[] =>
  candidates.some(({ part }) => part.name === evaluation.stage.control.controller) ? [FEATURES_UNJUDGED] : [];

/** Why no switch on offer goes with its drive; nothing where none is offered. */
function undriven(
  { evaluation }: EvaluatedStage,
  { gateDriveVoltage }: PartOf<'controller'>,
  mosfets: readonly PartOf<'mosfet'>[],
): readonly string[] {
  if (mosfets.length === 0) return [];
  const blocks = Math.max(
    0,
    ...evaluation.operatingPoints.flatMap(({ switchStress }) =>
      Object.values(switchStress).map(({ voltage }) => voltage),
    ),
  );
  const driven = mosfets.some(
    (part) => (part.drainSourceVoltageMax ?? 0) >= VOLTAGE_MARGIN * blocks && isDriven(part, gateDriveVoltage),
  );
  return driven
    ? []
    : [
        `No switch on offer that blocks ${formatQuantity(blocks, 'V', 3)} is driven by its ${formatQuantity(gateDriveVoltage, 'V', 3)}.`,
      ];
}

function reasonsAgainst({ evaluation, complete }: EvaluatedStage, part: PartOf<'controller'>): readonly string[] {
  const { stage, operatingPoints } = evaluation;
  const { targets, control, phases, rectifier, operatingMode, topology } = stage;
  const { sign } = topologyOf(stage);
  const output = Math.abs(targets.outputVoltage);
  // One that turns the sign sits between input and output.
  const spans = targets.inputVoltage.max + (sign < 0 ? output : 0);
  const { features = [] } = targets;
  const lacking = features.filter((one) => !part.features.includes(one));
  const frequency = complete.switchingFrequency;
  const onTimes = operatingPoints
    .filter(({ conductionMode }) => conductionMode === 'CCM')
    .map(({ duty }) => duty / frequency);
  const shortest = Math.min(Infinity, ...onTimes);
  const duty = Math.max(0, ...operatingPoints.map((point) => point.duty));
  const reached = controllerDuty(part, stage, frequency);
  const volts = (value: number): string => formatQuantity(value, 'V', 3);
  const seconds = (value: number): string => formatQuantity(value, 's', 2);
  const against: readonly (readonly [boolean, string])[] = [
    [!part.topologies.includes(topology), `It does not drive this topology, but ${part.topologies.join(', ')}.`],
    [
      part.rectifier !== 'either' && part.rectifier !== rectifier,
      `It drives a ${part.rectifier === 'diode' ? 'switch beside a diode' : 'pair of switches'}.`,
    ],
    [part.scheme !== control.scheme, `Its control scheme is ${part.scheme}.`],
    [!part.modes.includes(operatingMode), `It does not offer ${operatingMode}.`],
    [
      spans > part.inputMax || targets.inputVoltage.min < part.inputMin,
      `It works from ${volts(part.inputMin)} to ${volts(part.inputMax)}; this stage spans ${volts(targets.inputVoltage.min)} to ${volts(spans)}.`,
    ],
    [phases > part.phasesMax, `It drives ${String(part.phasesMax)} of ${String(phases)} phases.`],
    [part.reference > output, `Its reference of ${volts(part.reference)} is above the output.`],
    [
      frequency < part.frequencyMin || frequency > part.frequencyMax,
      `It switches at ${formatQuantity(part.frequencyMin, 'Hz', 3)} to ${formatQuantity(part.frequencyMax, 'Hz', 3)}.`,
    ],
    [
      shortest < part.minimumOnTime,
      `Its shortest on-time is ${seconds(part.minimumOnTime)}; this stage needs ${seconds(shortest)}.`,
    ],
    [duty > reached, `It reaches a duty ratio of ${reached.toFixed(3)}; this stage needs ${duty.toFixed(3)}.`],
    [lacking.length > 0, `It lacks ${lacking.join(', ')}.`],
  ];
  return against.flatMap(([holds, sentence]) => (holds ? [sentence] : []));
}

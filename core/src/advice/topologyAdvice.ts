import { linearDissipation, linearEfficiency } from '../firstcut/linearForms.js';
import { RIGHT_HALF_PLANE_ZERO_SHARE } from '../firstcut/rightHalfPlaneZero.js';
import { formatQuantity } from '../quantity/engineering.js';
import { problemsSentence } from '../stage/problemSentence.js';
import type { Stage } from '../stage/schema.js';
import { TOPOLOGIES, TOPOLOGY_NAMES, type TopologyName } from '../topology/topologies.js';
import type { Topology } from '../topology/topology.js';
import { lowestRightHalfPlaneZero } from '../rules/crossover.js';
import { sizeStage } from '../sizing/size.js';

/** What a topology would make of the targets: figures worked at every corner on a stage sized for the purpose. */
export interface TopologyAdvice {
  readonly topology: TopologyName;
  readonly able: boolean;
  /** Why not, or what speaks for and against it, in sentences. */
  readonly reasons: readonly string[];
  /** Absent when no stage could be sized. */
  readonly figures?: {
    readonly dutyMin: number;
    readonly dutyMax: number;
    /** Highest voltage across any switch, V, and highest inductor current, A. */
    readonly switchVoltage: number;
    readonly inductorPeak: number;
    /** RMS current of all input and all output capacitors at the worst corner, A: what pulsed currents cost. */
    readonly inputCapacitorRms: number;
    readonly outputCapacitorRms: number;
    /** Highest conduction loss, W. */
    readonly conductionLoss: number;
    /** Lowest right-half-plane zero over the corners at full load, Hz; absent where there is none. */
    readonly rightHalfPlaneZero?: number;
  };
}

/** The linear series regulator as the standing alternative. */
export interface LinearAdvice {
  readonly able: boolean;
  readonly reason: string;
  readonly efficiencyMin?: number;
  readonly dissipationMax?: number;
}

/** @public */
export interface Advice {
  readonly topologies: readonly TopologyAdvice[];
  readonly linear: LinearAdvice;
}

/** What the targets ask of the sign and ratio of the output; undefined when the topology meets it. */
function impossible(
  { targets: { inputVoltage, outputVoltage } }: Stage,
  { sign, reach }: Topology,
): string | undefined {
  const volts = (value: number): string => formatQuantity(value, 'V', 3);
  if (sign < 0)
    return outputVoltage < 0 ? undefined : 'It turns the sign of its input; the targets ask for a positive output.';
  if (outputVoltage < 0) return 'Its output has the sign of its input; the targets ask for a negative output.';
  if (reach === 'below' && outputVoltage >= inputVoltage.min)
    return `It only steps down; the output of ${volts(outputVoltage)} is not below the lowest input of ${volts(inputVoltage.min)}.`;
  if (reach === 'above' && outputVoltage <= inputVoltage.max)
    return `It only steps up; the output of ${volts(outputVoltage)} is not above the highest input of ${volts(inputVoltage.max)}.`;
  return undefined;
}

function adviceFor(stage: Stage, topology: TopologyName): TopologyAdvice {
  const record = TOPOLOGIES[topology];
  const no = impossible(stage, record);
  if (no !== undefined) return { topology, able: false, reasons: [no] };
  // The divider would set the output of the stage as it is: another topology is asked for what is wanted.
  const { compensator, ...control } = stage.control;
  const bare: Stage = {
    ...stage,
    topology,
    control: { ...control, ...(compensator && { compensator: { ...compensator, components: {} } }) },
    pinned: [],
    parts: {},
    ...('borders' in record && { legs: stage.legs ?? 'regions' }),
  };
  const sized = sizeStage(bare, { keepPresent: false });
  if (!sized.ok) return { topology, able: false, reasons: [problemsSentence(sized.problems)] };
  const { evaluation } = sized.value;
  const failing = evaluation.verdicts.filter(({ pass }) => !pass);
  const points = evaluation.operatingPoints;
  const zero = lowestRightHalfPlaneZero(evaluation.stage, sized.value.complete.inductor.inductance);
  const most = (of: (point: (typeof points)[number]) => number): number => Math.max(...points.map(of));
  const reasons = failing.map(({ quantity, reason, worst, unit, required, corner }) =>
    reason !== undefined
      ? `At ${formatQuantity(corner.inputVoltage, 'V', 3)} input ${reason}.`
      : `The ${quantity} of ${formatQuantity(worst ?? NaN, unit, 3)} misses its limit of ${formatQuantity(required, unit, 3)}.`,
  );
  reasons.push(record.currents);
  if (zero !== undefined)
    reasons.push(
      `A right-half-plane zero as low as ${formatQuantity(zero, 'Hz', 3)} limits the crossover, to about ${formatQuantity(RIGHT_HALF_PLANE_ZERO_SHARE * zero, 'Hz', 2)} (common practice).`,
    );
  if (points.length === 0) return { topology, able: false, reasons };
  return {
    topology,
    able: failing.length === 0,
    reasons,
    figures: {
      dutyMin: Math.min(...points.map(({ duty }) => duty)),
      dutyMax: most(({ duty }) => duty),
      switchVoltage: most(({ switchStress }) => Math.max(...Object.values(switchStress).map(({ voltage }) => voltage))),
      inductorPeak: most(({ inductorCurrent }) => inductorCurrent.peak),
      inputCapacitorRms: most(({ inputCapacitorRms }) => inputCapacitorRms),
      outputCapacitorRms: most(({ outputCapacitorRms }) => outputCapacitorRms),
      conductionLoss: most(({ losses }) => losses['total'] ?? 0),
      ...(zero !== undefined && { rightHalfPlaneZero: zero }),
    },
  };
}

function linearAdvice({ targets }: Stage): LinearAdvice {
  const { inputVoltage, outputVoltage, outputCurrent } = targets;
  if (outputVoltage < 0) return { able: false, reason: 'It cannot turn the sign of its input.' };
  if (outputVoltage >= inputVoltage.min)
    return {
      able: false,
      reason: `It only steps down; the output of ${formatQuantity(outputVoltage, 'V', 3)} is not below the lowest input of ${formatQuantity(inputVoltage.min, 'V', 3)}.`,
    };
  const at = { vIn: inputVoltage.max, vOut: outputVoltage, current: outputCurrent.max, quiescent: 0 };
  return {
    able: true,
    reason: `No ripple and no inductor. It needs a drop-out voltage below ${formatQuantity(inputVoltage.min - outputVoltage, 'V', 3)}, and all of its dissipation must be led away.`,
    efficiencyMin: linearEfficiency.compute(at),
    dissipationMax: linearDissipation.compute(at),
  };
}

/**
 * What each topology would make of a stage's targets, with the reasons. Nothing is chosen: each is sized by the same rules,
 * with the rectifier, phases and frequency of the stage, and worked at every corner by the engine. The linear regulator
 * stands beside them with its dissipation.
 *
 * @public
 */
export function topologyAdvice(stage: Stage): Advice {
  return { topologies: TOPOLOGY_NAMES.map((topology) => adviceFor(stage, topology)), linear: linearAdvice(stage) };
}

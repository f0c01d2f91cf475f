import { inductor, resistor, type Coupling, type Element } from '../circuit/elements.js';
import { mutualCoefficient } from '../firstcut/coupledRipple.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { windingsOf } from '../stage/coupling.js';
import type { PhaseSchedule } from '../orbit/schedule.js';
import type { Conversion, SwitchPlace, Topology } from '../topology/topology.js';
import { phaseIntervals } from './legTiming.js';
import { interleaved, type OperatingCondition, type PowerStage, type SwitchPosition } from './powerStage.js';
import { inputSide, outputSide } from './surroundings.js';
import { switchCell } from './switchCell.js';

/**
 * Windings that share a core: pairs half a period apart, k with k + N/2, whose ripples oppose each other most nearly, or all N of them.
 * Each winding then sees the others on its core as every other does, and the phases stay copies of each other.
 */
function couplingsOf({ stage }: CompleteStage, names: readonly string[]): readonly Coupling[] {
  const { coupling } = stage;
  if (coupling.kind === 'none') return [];
  const windings = windingsOf(names.length, coupling.core);
  const coefficient = mutualCoefficient({ ...coupling, windings });
  const cores = names.length / windings;
  return names.flatMap((first, k) =>
    names.slice(k + 1).flatMap((second, j) => ((j + 1) % cores === 0 ? [{ first, second, coefficient }] : [])),
  );
}

/** Put the phases of a topology between what feeds them and what they feed. */
export function interleavedStage(
  complete: CompleteStage,
  condition: OperatingCondition,
  topology: Topology,
  conversion: Conversion,
): PowerStage {
  const { stage, inductor: part, switchingFrequency } = complete;
  const { senseResistance } = stage.control;
  const { drives, ...operation } = topology.operation(conversion);
  const timing = { duty: operation.idealDuty, period: 1 / switchingFrequency };
  const drawn = Array.from({ length: stage.phases }, (_, k) => {
    const phase = topology.phase(k);
    const cells = phase.cells.flatMap((nodes, i) => {
      const leg = complete.legs[i];
      return leg ? [switchCell(leg, k, nodes, complete)] : [];
    });
    const name = `inductor${String(k + 1)}`;
    const [from, to] = phase.inductor;
    const sensed = senseResistance === undefined ? [] : [`sensed${String(k + 1)}`];
    const elements: Element[] = [
      ...cells.flatMap((cell) => cell.elements),
      inductor(name, from, sensed[0] ?? to, part.inductance, part.resistance),
      ...sensed.map((node) => resistor(`senseResistor${String(k + 1)}`, node, to, senseResistance ?? 0)),
    ];
    const timed = cells.flatMap((cell, i) => {
      const drive = drives[i];
      return drive ? [{ cell, drive }] : [];
    });
    return { phase, cells, timed, name, elements, nodes: [...phase.nodes, ...sensed] };
  });
  const output = outputSide(complete, condition);
  const inductors = drawn.map(({ name }) => name);
  const positions = new Map<SwitchPlace, SwitchPosition[]>();
  for (const { cells } of drawn) {
    cells.forEach((cell, i) => {
      const leg = complete.legs[i];
      if (!leg) return;
      for (const [place, position] of [
        [leg.mainPlace, cell.main],
        [leg.rectifierPlace, cell.rectifier],
      ] as const) {
        positions.set(place, [...(positions.get(place) ?? []), position]);
      }
    });
  }
  const schedules = drawn.map(({ timed, name, elements }, k): PhaseSchedule => ({
    offset: k / stage.phases,
    inductor: name,
    diodes: elements.flatMap((e) => (e.kind === 'diode' ? [e.name] : [])),
    intervals: phaseIntervals(timed, stage.deadTime, timing),
  }));
  return {
    circuit: {
      elements: [
        ...inputSide(complete, condition.inputVoltage),
        ...drawn.flatMap(({ elements }) => elements),
        ...output.elements,
      ],
      couplings: couplingsOf(complete, inductors),
    },
    phases: schedules,
    legs: drawn.map(({ timed }) => timed),
    rotation: interleaved(drawn.map(({ nodes, elements }) => [...nodes, ...elements.map(({ name }) => name)])),
    elements: {
      inductors,
      controller: [],
      senseResistors: drawn.flatMap(({ elements }) =>
        elements.flatMap(({ kind, name }) => (kind === 'resistor' ? [name] : [])),
      ),
      outputBanks: output.banks,
      inputBanks: complete.inputCapacitors.map((_, j) => `inputCapacitor${String(j + 1)}`),
      load: 'load',
      source: 'source',
      byPhase: drawn.map(({ elements }) => elements.map(({ name }) => name)),
      positions: Object.fromEntries(positions),
    },
    outputNode: output.node,
    feedsThroughout: drawn.every(({ phase }) => phase.inductor[1] === 'out'),
    switchNode: drawn[0]?.phase.nodes[0] ?? '',
    ...operation,
    // The edges of the regulated leg keep their order as long as it does not overtake the other.
    ...(operation.fixedLegDuty !== undefined && {
      largestDuty: operation.fixedLegDuty - 2 * stage.deadTime * switchingFrequency,
    }),
  };
}

import { LOAD_TEST } from '../smallsignal/loopCircuit.js';
import { driveVoltage } from '../losses/switchTerms.js';
import { LOOP } from '../controller/loopNames.js';
import { LEVELS, type Configuration } from './configuration.js';
import { SUPPLY_CURRENT } from './defect.js';
import type { Kept } from './recorder.js';
import { SHORT, type SimulatedStage } from './simulatedStage.js';

/** Signals kept before those of the inductors. */
export const BEFORE_INDUCTORS = 2;

/** Node of the stage's input, behind what feeds it. */
const INPUT = 'in';

/** What of a run is kept for pictures. */
export function keptSignals(
  { powerStage, sign, controller, phases, complete, circuits }: SimulatedStage,
  probed = false,
): readonly Kept[] {
  const sum = (configuration: Configuration): Float64Array => {
    const row = new Float64Array(configuration.node(powerStage.outputNode).length);
    for (const name of ['load', LOAD_TEST, 'loadSlope', SHORT])
      configuration.current(name).forEach((value, i) => (row[i] = (row[i] as number) + sign * value));
    return row;
  };
  const limited = circuits.free.elements.some(({ name }) => name === SUPPLY_CURRENT);
  const drawn = (configuration: Configuration): Float64Array => {
    const row = configuration.current(powerStage.elements.source).map((value) => -value);
    if (limited) configuration.current(SUPPLY_CURRENT).forEach((value, i) => (row[i] = (row[i] as number) + value));
    return row;
  };
  return [
    { name: 'output voltage', unit: 'V', row: (c) => c.node(powerStage.outputNode) },
    { name: 'load current', unit: 'A', row: sum },
    ...phases.map(({ inductor }, k): Kept => ({
      name: phases.length === 1 ? 'inductor current' : `inductor current ${String(k + 1)}`,
      unit: 'A',
      row: (c) => c.current(inductor),
    })),
    ...(controller
      ? [{ name: 'control voltage', unit: 'V' as const, row: (c: Configuration) => c.node(controller.controlNode) }]
      : []),
    { name: 'input current', unit: 'A', row: drawn },
    { name: 'input voltage', unit: 'V', row: (c) => c.node(INPUT) },
    { name: 'switch node', unit: 'V', row: (c) => c.node(powerStage.switchNode) },
    ...(probed ? probedSignals({ powerStage, controller, phases, complete }) : []),
  ];
}

/** V, of the gates' supply where neither driver nor record states one. Common practice. */
export const GATE_SUPPLY = 5;

/**
 * What a probe finds besides: the feedback node, and the gates of the first phase against ground, which rise by the gate's supply over their
 * source while the switch is driven.
 */
function probedSignals({
  powerStage,
  controller,
  phases,
  complete,
}: Pick<SimulatedStage, 'powerStage' | 'controller' | 'phases' | 'complete'>): readonly Kept[] {
  const [first] = phases;
  const [leg] = complete.legs;
  const supply = (leg && driveVoltage(leg.main, complete.stage.control.gateDriver)) ?? GATE_SUPPLY;
  const { elements } = powerStage.circuit;
  // An N-channel switch has its source where the anode of its body diode is.
  const gates = (first?.legs ?? []).flatMap(({ cell }) => [
    { device: cell.main.device, source: 'b' as const },
    { device: cell.rectifier.device, source: 'a' as const },
  ]);
  return [
    ...(controller ? [{ name: 'feedback', unit: 'V' as const, row: (c: Configuration) => c.node(LOOP.feedback) }] : []),
    ...gates.flatMap(({ device, source }): readonly Kept[] => {
      const found = elements.find(({ name, kind }) => name === device && kind === 'switch');
      if (!found) return [];
      const row = (c: Configuration): Float64Array => {
        const over = c.node(found[source]).slice();
        // The last column is the constant one.
        const one = over.length - 1;
        if (c.closed(device)) over[one] = (over[one] as number) + supply;
        return over;
      };
      return [{ name: `gate, ${device.replace(/1$/, '')}`, unit: 'V', row }];
    }),
  ];
}

/** Level of the step, a nanosecond or two, over which an edge of ideal switches is no waveform of a real stage. */
const EDGE = 5;

/**
 * After which step a change is looked at. Where every capacitor at the output has a series inductance, a current that changes at once has
 * nowhere to go for an instant but the divider: a spike of kilovolts and femtoseconds that no real edge, which takes nanoseconds, would
 * show. Elsewhere the tick will do.
 */
export function lookedAtAfter({ complete }: SimulatedStage): number {
  const banks = complete.stage.parts.outputFilter?.capacitors ?? complete.outputCapacitors;
  return banks.every(({ esl }) => esl > 0) ? EDGE : LEVELS;
}

/** Switches and diodes of the first phase: those of the others bear the same, later. */
export const switchesOf = ({ phases, circuits }: SimulatedStage): readonly string[] => {
  const [first] = phases;
  const named = new Set([
    ...(first?.legs ?? []).flatMap(({ cell }) => [...cell.on, ...cell.off]),
    ...(first?.diodes ?? []),
  ]);
  // A body diode bears what its switch bears: one of the two is looked at.
  const seen = new Set<string>();
  return circuits.free.elements.flatMap(({ name, kind, a, b }) => {
    const between = [a, b].sort().join(' ');
    if (!named.has(name) || (kind !== 'switch' && kind !== 'diode') || seen.has(between)) return [];
    seen.add(between);
    return [name];
  });
};

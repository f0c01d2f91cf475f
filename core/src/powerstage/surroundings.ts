import {
  capacitor,
  currentSource,
  diode,
  GROUND,
  inductor,
  resistor,
  voltageSource,
  type Element,
} from '../circuit/elements.js';
import { bankModel, capacitanceOf } from '../parts/capacitorBank.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { OperatingCondition } from './powerStage.js';

/**
 * Where no source impedance is given, input capacitors are fed through a choke that resonates with them this far below the
 * switching frequency, so that they carry the whole alternating input current: the case a capacitor must be chosen for. (An
 * ideal stiff source would carry all of it and leave them idle.)
 */
const FEED_RESONANCE_BELOW = 100;
/** The name of that choke. */
export const FEED = 'feed';

/**
 * Series inductance of the damping branch, H, where the input capacitors have any: without it the branch alone would take
 * every edge of the input current, and its resistance would make a voltage of it that lasts picoseconds and that no real
 * part shows. What a leaded or polymer part and its loop have at least: common practice.
 */
const DAMPING_ESL = 5e-9;

/** Banks of capacitors from a node to ground, at their DC bias. */
function capacitorBanks(
  prefix: string,
  node: string,
  banks: readonly CapacitorBank[],
  bias: number,
): readonly Element[] {
  return banks.map((bank, j) => {
    const { capacitance, esr, esl } = bankModel(bank, bias);
    return capacitor(`${prefix}${String(j + 1)}`, node, GROUND, capacitance, esr, esl);
  });
}

/** What stands in the line from the source to the input, one after another, each with the node behind it. */
function inputLine(complete: CompleteStage, inputVoltage: number): readonly InLine[] {
  const { source, fuse, reversePolarity, inputFilter } = complete.stage.parts;
  const line: InLine[] = [];
  if (source && (source.inductance > 0 || source.resistance > 0)) {
    const { resistance, inductance } = source;
    line.push({
      make: (a, b) =>
        inductance > 0
          ? inductor('sourceImpedance', a, b, inductance, resistance)
          : resistor('sourceImpedance', a, b, resistance),
      behind: 'leads',
    });
  } else if (!inputFilter && complete.inputCapacitors.length > 0) {
    const total = capacitanceOf(complete.inputCapacitors, inputVoltage);
    const resonance = (2 * Math.PI * complete.switchingFrequency) / FEED_RESONANCE_BELOW;
    line.push({ make: (a, b) => inductor(FEED, a, b, 1 / (resonance * resonance * total)), behind: 'leads' });
  }
  if (fuse && fuse.resistance > 0)
    line.push({ make: (a, b) => resistor('fuse', a, b, fuse.resistance), behind: 'fused' });
  if (reversePolarity) {
    const { forwardVoltage, resistance } = reversePolarity;
    if (forwardVoltage > 0)
      line.push({ make: (a, b) => diode('reversePolarity', a, b, forwardVoltage, resistance), behind: 'filter' });
    else if (resistance > 0)
      line.push({ make: (a, b) => resistor('reversePolarity', a, b, resistance), behind: 'filter' });
  }
  if (inputFilter) {
    const { inductance, resistance } = inputFilter;
    line.push({ make: (a, b) => inductor('inputFilter', a, b, inductance, resistance), behind: 'in' });
  }
  return line;
}

interface InLine {
  readonly make: (from: string, to: string) => Element;
  /** The node behind it, where it is not the last. */
  readonly behind: string;
}

/** The node of the input terminal: behind what stands for the source and its leads. */
export function terminalNode(elements: readonly Element[]): string {
  let node = elements.find(({ name }) => name === 'source')?.a ?? 'in';
  for (;;) {
    const lead = elements.find(({ name, a }) => a === node && (name === 'sourceImpedance' || name === FEED));
    if (!lead) return node;
    node = lead.b;
  }
}

/** What feeds the node `in`: the source with its impedance, what protects it, the input filter, and the input capacitors. */
export function inputSide(complete: CompleteStage, inputVoltage: number): readonly Element[] {
  const { damping, terminal } = complete.stage.parts.inputFilter ?? {};
  const banks = capacitorBanks('inputCapacitor', 'in', complete.inputCapacitors, inputVoltage);
  const line = inputLine(complete, inputVoltage);
  const nodeAfter = (k: number): string =>
    k === line.length - 1 ? 'in' : line[k + 1]?.behind === 'in' ? 'filter' : (line[k]?.behind ?? 'in');
  const nodeBefore = (k: number): string => (k === 0 ? 'supply' : nodeAfter(k - 1));
  const elements: Element[] = [
    voltageSource('source', line.length === 0 ? 'in' : 'supply', GROUND, inputVoltage),
    ...line.map(({ make }, k) => make(nodeBefore(k), nodeAfter(k))),
  ];
  // Beside a source without impedance a capacitor at the terminals carries nothing.
  const ends = terminalNode(elements);
  if (terminal && ends !== 'supply')
    elements.push(capacitor('inputTerminal', ends, GROUND, terminal.capacitance, terminal.esr, terminal.esl));
  if (damping) {
    const esl = complete.inputCapacitors.some((bank) => bank.esl > 0) ? DAMPING_ESL : 0;
    elements.push(capacitor('inputDamping', 'in', GROUND, damping.capacitance, damping.resistance, esl));
  }
  return [...elements, ...banks];
}

/** What hangs on the node `out`: the output capacitors, the second-stage filter and the preload where there are such, and the load. */
export function outputSide(
  complete: CompleteStage,
  condition: OperatingCondition,
): { readonly elements: readonly Element[]; readonly banks: readonly string[]; readonly node: string } {
  const { targets, parts } = complete.stage;
  const banks = capacitorBanks('outputCapacitor', 'out', complete.outputCapacitors, targets.outputVoltage);
  const elements: Element[] = [...banks];
  let node = 'out';
  if (parts.outputFilter) {
    const { inductance, resistance, capacitors } = parts.outputFilter;
    node = 'filtered';
    elements.push(
      inductor('outputFilter', 'out', node, inductance, resistance),
      ...capacitorBanks('outputFilterCapacitor', node, capacitors, targets.outputVoltage),
    );
  }
  if (parts.preload) elements.push(resistor('preload', node, GROUND, parts.preload.resistance));
  return {
    elements: [...elements, loadAt(node, condition, targets.outputVoltage)],
    banks: banks.map(({ name }) => name),
    node,
  };
}

/** The load at the output node. A negative output draws its current the other way round. */
function loadAt(node: string, { load }: OperatingCondition, outputVoltage: number): Element {
  if (load.kind === 'resistance') return resistor('load', node, GROUND, load.resistance);
  const current = load.kind === 'current' ? load.current : load.power / Math.abs(outputVoltage);
  return currentSource('load', node, GROUND, Math.sign(outputVoltage) * current);
}

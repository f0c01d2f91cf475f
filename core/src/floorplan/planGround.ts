import { GROUND, type Element } from '../circuit/elements.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { blockingTerminals } from '../layout/blockingTerminals.js';
import { netsOf, peakBetween } from '../layout/nets.js';
import { loopKey } from '../layout/hotLoops.js';
import { worstLoops, type WorstLoop } from '../layout/worstLoops.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { elementWords, nodeWords } from '../powerstage/elementWords.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import { terminalNode } from '../powerstage/surroundings.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { CapacitorBank, Diode, Mosfet } from '../stage/partsSchema.js';
import {
  alongSides,
  sizeOf,
  switchPads,
  tabAndEnd,
  twoEnds,
  type AssumedSize,
  type Outline,
  type Pad,
} from './outline.js';

/** A step of the way round a loop: through one of some parts side by side, from one of their nets to the other. */
export interface LoopStep {
  readonly keys: readonly string[];
  readonly from: string;
  readonly to: string;
  /** Whether every one of its parts has a way of its own to be looked at, as paralleled switches have; of capacitors the nearest counts. */
  readonly each: boolean;
}

/** A hot loop as a way through parts of the board. @public */
export interface PlanLoop {
  readonly key: string;
  readonly words: string;
  readonly worst: WorstLoop;
  /** In order round it, back to the first. */
  readonly steps: readonly LoopStep[];
}

/** A net of the board. @public */
export interface PlanNet {
  readonly net: string;
  readonly words: string;
  /** A, rms; 0 for lines of the controller. */
  readonly current: number;
  readonly kind: 'power' | 'switch node' | 'ground' | 'gate' | 'feedback';
}

/** What a floor plan of a stage is made from and judged by. Plain data. @public */
export interface PlanGround {
  readonly outlines: readonly Outline[];
  readonly nets: readonly PlanNet[];
  readonly loops: readonly PlanLoop[];
  /** V, peak, between two nodes of the circuit, by `a b` in the order of their names. */
  readonly apart: Readonly<Record<string, number>>;
  /** Chokes of the phases in their order; none where there is one phase. */
  readonly phaseChokes: readonly string[];
  /** Keys of what gets hot: switches, diodes, chokes. */
  readonly hot: readonly string[];
  /** Switches on a heatsink, by their tabs. */
  readonly sinks: boolean;
}

/** The line of the feedback pin, and that of the output to its divider. */
export const FEEDBACK = 'feedback';
export const CONTROLLER = 'controller';
export const DIVIDER = 'divider';
export const gateNet = (device: string): string => `gate ${device}`;
export const apartKey = (a: string, b: string): string => [a, b].sort().join(' ');

interface Drawn {
  readonly complete: CompleteStage;
  readonly powerStage: PowerStage;
  readonly solution: PeriodicSolution;
}

/** One outline for each part of a bank, or of switches in parallel. */
function several(
  element: string,
  count: number,
  kind: Outline['kind'],
  size: ReturnType<typeof sizeOf>,
  pads: readonly Pad[],
  wearsOut = false,
): readonly Outline[] {
  const { words, mark } = elementWords(element);
  return Array.from({ length: Math.max(1, Math.round(count)) }, (_, k) => ({
    key: `${element}.${String(k + 1)}`,
    kind,
    element,
    words: count > 1 ? `${words}, part ${String(k + 1)}` : words,
    mark: count > 1 ? `${mark}.${String(k + 1)}` : mark,
    ...size,
    pads,
    wearsOut,
  }));
}

/** The parts of the power stage, out of its circuit. */
function powerOutlines({ complete, powerStage, solution }: Drawn): readonly Outline[] {
  const { circuit, elements } = powerStage;
  const { parts } = complete.stage;
  const banks: Readonly<Record<string, readonly CapacitorBank[]>> = {
    inputCapacitor: complete.inputCapacitors,
    outputCapacitor: complete.outputCapacitors,
    outputFilterCapacitor: parts.outputFilter?.capacitors ?? [],
  };
  const placeOf = (name: string): string | undefined =>
    Object.keys(elements.positions).find((place) =>
      (elements.positions[place] ?? []).some(({ device }) => device === name),
    );
  const device = (e: Element, place: string): readonly Outline[] => {
    const record: Mosfet | Diode | undefined =
      e.kind === 'diode' ? parts.diode : parts[place as 'highSide' | 'lowSide' | 'outputHighSide' | 'outputLowSide'];
    if (e.kind === 'diode' && record !== undefined && !('onResistance' in record)) {
      const size = sizeOf(record, 'diode');
      return several(e.name, 1, 'diode', size, tabAndEnd(size, e.a, e.b));
    }
    const [drain, source] = blockingTerminals(solution, e);
    const size = sizeOf(record ?? {}, 'switch');
    const count = record && 'count' in record ? (record.count ?? 1) : 1;
    return several(e.name, count, 'switch', size, switchPads(size, drain, source, gateNet(e.name)));
  };
  const plain = (e: Element, kind: 'choke' | 'resistor', record: Parameters<typeof sizeOf>[0]): readonly Outline[] => {
    const size = sizeOf(record, kind);
    return several(e.name, 1, kind, size, twoEnds(size, e.a, e.b));
  };
  return circuit.elements.flatMap((e): readonly Outline[] => {
    const place = placeOf(e.name);
    if (place) return device(e, place);
    switch (e.kind) {
      case 'inductor':
        return elementWords(e.name).ideal === true || e.name === 'sourceImpedance'
          ? []
          : plain(e, 'choke', elements.inductors.includes(e.name) ? complete.inductor : {});
      case 'resistor':
      case 'diode': {
        if (e.name === 'preload') return plain(e, 'resistor', parts.preload ?? {});
        if (e.name === 'fuse' || e.name === 'reversePolarity') {
          const size = sizeOf(parts[e.name] ?? {}, e.name === 'fuse' ? 'fuse' : 'diode');
          return several(e.name, 1, 'protection', size, twoEnds(size, e.a, e.b));
        }
        return elements.senseResistors.includes(e.name) ? plain(e, 'resistor', {}) : [];
      }
      case 'capacitor': {
        const [, stem = '', number = '1'] = /^([A-Za-z]+?)(\d*)$/.exec(e.name) ?? [];
        const bank = banks[stem]?.[Number(number) - 1];
        const assumed: AssumedSize =
          bank && bank.kind !== 'ceramic' ? bank.kind : stem === 'inputDamping' ? 'electrolytic' : 'capacitor';
        const size = sizeOf(bank ?? {}, assumed);
        const pads = twoEnds(size, e.a, e.b);
        return several(e.name, bank?.count ?? 1, 'capacitor', size, pads, assumed === 'electrolytic');
      }
      default:
        return [];
    }
  });
}

/** Terminals, controller and divider: what the circuit does not draw as parts. */
function otherOutlines({ complete, powerStage }: Drawn): readonly Outline[] {
  const { stage } = complete;
  const { controller } = stage.control;
  const add = (
    key: string,
    kind: Outline['kind'],
    mark: string,
    size: ReturnType<typeof sizeOf>,
    pads: readonly Pad[],
  ): Outline => ({ key, kind, element: undefined, words: key, mark, ...size, pads, wearsOut: false });
  const terminal = sizeOf({}, 'terminal');
  const size = sizeOf({}, 'controller');
  const divider = sizeOf({}, 'divider');
  const gates = Object.values(powerStage.elements.positions)
    .flat()
    .map(({ device }) => device)
    .filter((name) => powerStage.circuit.elements.find((e) => e.name === name)?.kind === 'switch');
  const loop = stage.control.scheme !== 'open-loop';
  const input = terminalNode(powerStage.circuit.elements);
  const protect = (key: 'suppressor' | 'precharge', ends: readonly [string, string]): readonly Outline[] => {
    const part = stage.parts[key];
    if (!part) return [];
    const { words, mark } = elementWords(key);
    const outline = sizeOf(part, key);
    return [{ ...add(key, 'protection', mark, outline, twoEnds(outline, ...ends)), words }];
  };
  const fused = powerStage.circuit.elements.find(({ name }) => name === 'fuse')?.b ?? input;
  return [
    ...protect('suppressor', [fused, GROUND]),
    // In series with the terminal; as it is bridged in operation, both its ends are one node of the circuit.
    ...protect('precharge', [input, input]),
    add('input terminal', 'terminal', 'input', terminal, alongSides(terminal, [], [input, GROUND])),
    add('output terminal', 'terminal', 'output', terminal, alongSides(terminal, [powerStage.outputNode, GROUND], [])),
    add(
      CONTROLLER,
      'controller',
      controller ?? 'controller',
      size,
      alongSides(size, [...(loop ? [FEEDBACK] : []), GROUND], gates.map(gateNet)),
    ),
    ...(loop
      ? [add(DIVIDER, 'divider', 'divider', divider, alongSides(divider, [FEEDBACK, GROUND], [powerStage.outputNode]))]
      : []),
  ];
}

/** The way round a loop, from its hops: through one device, what lies between, the other, and what lies on the way back. */
function stepsOf(loop: WorstLoop, { circuit }: PowerStage, outlines: readonly Outline[]): readonly LoopStep[] {
  const keysOf = (elements: readonly string[]): readonly string[] =>
    outlines.filter(({ element }) => element !== undefined && elements.includes(element)).map(({ key }) => key);
  const [x, y] = loop.devices.map((name) => circuit.elements.find((e) => e.name === name));
  if (!x || !y) return [];
  const start = loop.hops[0]?.from;
  const chain = loop.hops.findIndex((hop, k) => k > 0 && hop.from !== loop.hops[k - 1]?.to);
  const out = chain < 0 ? loop.hops : loop.hops.slice(0, chain);
  const back = chain < 0 ? [] : loop.hops.slice(chain);
  // The hops may have been found from either device.
  const [first, second] = start === x.a || start === x.b ? [x, y] : [y, x];
  const leaves = start ?? first.a;
  const enters = out.at(-1)?.to ?? leaves;
  const other = (e: Element, node: string): string => (e.a === node ? e.b : e.a);
  const hop = ({ from, to, elements }: (typeof out)[number]): LoopStep => ({
    keys: keysOf(elements),
    from,
    to,
    each: false,
  });
  return [
    { keys: keysOf([first.name]), from: other(first, leaves), to: leaves, each: true },
    ...out.map(hop),
    { keys: keysOf([second.name]), from: enters, to: other(second, enters), each: true },
    ...back
      .map(({ from, to, elements }) => ({ from: to, to: from, elements }))
      .reverse()
      .map(hop),
  ];
}

/**
 * Everything that a floor plan of a stage is made from and judged by: its parts as rectangles, its nets with their currents and the voltages
 * between them, its hot loops as ways through parts. Undefined where no corner has an operating point.
 *
 * @public
 */
export function planGround(worked: EvaluatedStage): PlanGround | undefined {
  const { complete, corners } = worked;
  const solved = corners.flatMap(({ result }) => (result.kind === 'solved' ? [result] : []));
  const [first] = solved;
  if (!first) return undefined;
  const { powerStage, solution } = first;
  const drawn = { complete, powerStage, solution };
  const outlines = [...powerOutlines(drawn), ...otherOutlines(drawn)];
  const devices = new Set(
    Object.values(powerStage.elements.positions)
      .flat()
      .map(({ device }) => device),
  );
  const touching = (names: (name: string) => boolean): ReadonlySet<string> =>
    new Set(powerStage.circuit.elements.filter(({ name }) => names(name)).flatMap(({ a, b }) => [a, b]));
  const ofChokes = touching((name) => powerStage.elements.inductors.includes(name));
  const ofDevices = touching((name) => devices.has(name));
  const swings = (node: string): boolean => node !== GROUND && ofChokes.has(node) && ofDevices.has(node);
  const known = netsOf(worked);
  const nodes = [...new Set(outlines.flatMap(({ pads }) => pads.map(({ net }) => net)))];
  const nets = nodes.map((net): PlanNet => {
    const found = known.find(({ node }) => node === net);
    const current = found?.current ?? 0;
    if (net === FEEDBACK) return { net, words: 'feedback line', current, kind: 'feedback' };
    if (net.startsWith('gate '))
      return { net, words: `gate of ${elementWords(net.slice(5)).words}`, current, kind: 'gate' };
    const words = net === GROUND ? 'ground' : nodeWords(net);
    return { net, words, current, kind: net === GROUND ? 'ground' : swings(net) ? 'switch node' : 'power' };
  });
  const inCircuit = nodes.filter((node) => known.some((net) => net.node === node));
  const apart = Object.fromEntries(
    inCircuit.flatMap((a, k) =>
      inCircuit.slice(k + 1).map((b) => [apartKey(a, b), peakBetween(solved, a, b)] as const),
    ),
  );
  return {
    outlines,
    nets,
    loops: worstLoops(worked).map((worst) => ({
      key: loopKey(worst),
      words: worst.devices.map((name) => elementWords(name).words).join(' and '),
      worst,
      steps: stepsOf(worst, powerStage, outlines),
    })),
    apart,
    phaseChokes:
      complete.stage.phases > 1
        ? outlines.filter(({ element }) => powerStage.elements.inductors.includes(element ?? '')).map(({ key }) => key)
        : [],
    hot: outlines.filter(({ kind }) => kind === 'switch' || kind === 'diode' || kind === 'choke').map(({ key }) => key),
    sinks: complete.stage.parts.cooling?.heatsink !== undefined,
  };
}

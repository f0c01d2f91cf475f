import type { Circuit, Element } from '../circuit/elements.js';
import { dot } from '../linalg/dense.js';
import { rms } from '../orbit/measures.js';
import { currentOf } from '../orbit/signal.js';
import type { Segment } from '../orbit/segment.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import type { StageElements } from '../powerstage/powerStage.js';

/** Parts between the same two nodes, any of which can take the current: banks of capacitors side by side. */
export interface LoopHop {
  readonly from: string;
  readonly to: string;
  readonly elements: readonly string[];
}

/**
 * A loop that is closed by a current that turns over from one device to another: it flows in one interval and not in the next, so that the
 * inductance of the copper in it makes a voltage at every edge.
 *
 * @public
 */
export interface HotLoop {
  /** The two devices that take the current from each other, switches where body diodes lie beside them. */
  readonly devices: readonly [string, string];
  /** The way round it, from device to device. */
  readonly hops: readonly LoopHop[];
  /** A, the largest current that turns over. */
  readonly current: number;
  /** A, the largest that each of its devices takes over as it closes. */
  readonly closing: Readonly<Record<string, number>>;
  /** s from the clock of phase 1: when it does. */
  readonly instant: number;
  /** A, of the device that carries more. */
  readonly rms: number;
  /** V, the most that each of its devices blocks after the current has left it. */
  readonly blocking: Readonly<Record<string, number>>;
}

/** A circuit in its periodic steady state. */
export interface Switching {
  readonly powerStage: {
    readonly circuit: Circuit;
    readonly elements: Pick<StageElements, 'inductors' | 'senseResistors'>;
  };
  readonly solution: PeriodicSolution;
}

/** A current that has turned over below this share of the largest in the circuit is rounding. */
const NOTHING = 1e-6;

/** What holds its voltage, or conducts, while the current turns over: the way it can go. Chokes hold their current and are no way. */
const leads = (e: Element, conducting: ReadonlySet<string>, sensed: ReadonlySet<string>): boolean =>
  e.kind === 'capacitor' ||
  ((e.kind === 'switch' || e.kind === 'diode') && conducting.has(e.name)) ||
  (e.kind === 'resistor' && sensed.has(e.name));

const pairOf = (a: string, b: string): string => [a, b].sort().join(' ');

/** What tells a loop from others: its devices and the nodes that it joins. @public */
export const loopKey = ({ devices, hops }: Pick<HotLoop, 'devices' | 'hops'>): string =>
  [...devices, ...hops.map(({ from, to }) => pairOf(from, to)).sort()].join('|');

/** The shortest way between two nodes past some others; undefined where there is none. */
function shortest(
  hops: readonly LoopHop[],
  from: string,
  to: string,
  past: readonly string[],
): readonly LoopHop[] | undefined {
  const closed = new Set(past.filter((node) => node !== from && node !== to));
  let reached: readonly (readonly [node: string, way: readonly LoopHop[]])[] = [[from, []]];
  closed.add(from);
  while (reached.length > 0) {
    const there = reached.find(([node]) => node === to);
    if (there) return there[1];
    reached = reached.flatMap(([node, way]) =>
      hops.flatMap((hop) => {
        const [near, far] = hop.from === node ? [hop.from, hop.to] : hop.to === node ? [hop.to, hop.from] : [];
        if (near === undefined || far === undefined || closed.has(far)) return [];
        if (far !== to) closed.add(far);
        return [[far, [...way, { ...hop, from: near, to: far }]] as const];
      }),
    );
  }
  return undefined;
}

/** The loop through two devices: of both ways to join their ends the shorter. */
function around(x: Element, y: Element, hops: readonly LoopHop[]): readonly LoopHop[] | undefined {
  const joined = (p: string, q: string, r: string, s: string): readonly LoopHop[] | undefined => {
    const first = shortest(hops, p, q, [r, s]);
    if (!first) return undefined;
    const second = shortest(hops, r, s, [p, q, ...first.flatMap(({ from, to }) => [from, to])]);
    return second && [...first, ...second];
  };
  const ways = [joined(x.a, y.a, x.b, y.b), joined(x.a, y.b, x.b, y.a)].filter((way) => way !== undefined);
  return ways.sort((one, other) => one.length - other.length)[0];
}

const valueAt = (row: Float64Array | undefined, z: Float64Array): number => (row ? dot(row, z) : 0);

/**
 * The hot loops of a stage at an operating point, out of its circuit alone: whenever what conducts changes, the current of a device that opens
 * goes over to one that closes. Between two instants as near as an edge chokes hold their current and capacitors their voltage; the loop is
 * what the two devices close with capacitors and with whatever goes on conducting. Nothing here knows a topology.
 *
 * @public
 */
export function hotLoops({ powerStage, solution }: Switching): readonly HotLoop[] {
  const { circuit, elements } = powerStage;
  const named = new Map(circuit.elements.map((e) => [e.name, e]));
  const sensed = new Set(elements.senseResistors);
  const segments = solution.segments.filter(({ duration }) => duration > 0);
  const found = new Map<string, HotLoop>();
  const largest = Math.max(
    ...segments.flatMap(({ equations, initial }) =>
      elements.inductors.map((name) => Math.abs(valueAt(equations.current.get(name), initial))),
    ),
  );
  /** Of a switch and the diode beside it, the switch. */
  const switchAt = (e: Element): Element =>
    circuit.elements.find((one) => one.kind === 'switch' && pairOf(one.a, one.b) === pairOf(e.a, e.b)) ?? e;

  const turnedOver = (before: Segment, after: Segment, x: Element, y: Element): void => {
    if (pairOf(x.a, x.b) === pairOf(y.a, y.b)) return;
    const current = Math.abs(valueAt(after.equations.current.get(y.name), after.initial));
    if (current <= NOTHING * largest) return;
    const staying = new Set(before.equations.conducting.filter((name) => after.equations.conducting.includes(name)));
    const byPair = new Map<string, LoopHop>();
    for (const e of circuit.elements) {
      if (!leads(e, staying, sensed)) continue;
      const pair = pairOf(e.a, e.b);
      const known = byPair.get(pair);
      byPair.set(
        pair,
        known ? { ...known, elements: [...known.elements, e.name] } : { from: e.a, to: e.b, elements: [e.name] },
      );
    }
    const hops = around(x, y, [...byPair.values()]);
    if (!hops) return;
    const devices = [switchAt(x).name, switchAt(y).name].sort() as [string, string];
    const key = loopKey({ devices, hops });
    const known = found.get(key);
    const [opens, closes] = [switchAt(x).name, switchAt(y).name];
    const blocked = Math.abs(valueAt(after.equations.voltage.get(x.name), after.initial));
    found.set(key, {
      devices,
      hops,
      current: Math.max(current, known?.current ?? 0),
      closing: { ...known?.closing, [closes]: Math.max(current, known?.closing[closes] ?? 0) },
      instant: known && known.current >= current ? known.instant : after.start,
      rms: Math.max(...devices.map((name) => rms(solution, currentOf(name)))),
      blocking: { ...known?.blocking, [opens]: Math.max(blocked, known?.blocking[opens] ?? 0) },
    });
  };

  segments.forEach((after, k) => {
    const before = segments.at(k - 1);
    if (!before || before === after) return;
    const [was, is] = [before.equations.conducting, after.equations.conducting];
    const opened = was.filter((name) => !is.includes(name));
    const closed = is.filter((name) => !was.includes(name));
    for (const x of opened)
      for (const y of closed) {
        const [one, other] = [named.get(x), named.get(y)];
        if (one && other) turnedOver(before, after, one, other);
      }
  });
  return [...found.values()];
}

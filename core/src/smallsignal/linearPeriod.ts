import { isSource } from '../circuit/elements.js';
import { sourcedEquations } from '../circuit/stateEquations.js';
import type { UnitEquations } from '../circuit/unitEquations.js';
import { dot, product } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import { comparatorRow } from '../orbit/comparator.js';
import { diodeRow } from '../orbit/diodeRow.js';
import type { Event } from '../orbit/events.js';
import { propagatorOf } from '../orbit/propagation.js';
import { successors } from '../orbit/rotation.js';
import { finalRate, rateOf, type Segment } from '../orbit/segment.js';
import { updateMap } from '../orbit/updates.js';
import type { LoopOrbit } from './loopCircuit.js';

/**
 * How an instant moves with what disturbs the orbit: dt = −(row · [x̂; û]) / rate.
 */
export interface MovingInstant {
  /** Over [states, sources], without the constant. */
  readonly row: Float64Array;
  /** How fast the comparator, the current that stops or the voltage that starts a diode moves through zero, per second. */
  readonly rate: number;
  /** Whether a disturbance of the comparator's threshold counts: where a comparator decides, not where a diode does. */
  readonly compared: boolean;
}

/** One stretch of the period for small disturbances. */
export interface LinearSegment {
  readonly equations: UnitEquations;
  readonly start: number;
  readonly duration: number;
  /** States over states, for the whole stretch. */
  readonly phi: Float64Array;
  /** What ends it, where that is not the end of the share: how the disturbed state goes over. */
  readonly end: LinearEvent | undefined;
}

/** How an instant moves: of itself, or together with what a comparator last decided for a phase (dead time), or not at all. */
export type Moves =
  | { readonly kind: 'itself'; readonly instant: MovingInstant; readonly phase: number }
  | { readonly kind: 'with'; readonly phase: number }
  | undefined;

export interface LinearEvent {
  /** Into the next stretch: states over states, and over sources; undefined where entering changes nothing. */
  readonly entry: Float64Array | undefined;
  readonly moves: Moves;
  /** P f⁻ − f⁺: what a later instant adds to the state, per second. */
  readonly jump: Float64Array;
  /** Full states before and after, with the constant: for what steps in the outputs. */
  readonly before: Float64Array;
  readonly after: Float64Array;
}

/** A periodic orbit, linear about itself, over one share of the period: phases that are copies follow by rotation. */
export interface LinearPeriod {
  readonly order: number;
  readonly columns: number;
  /** s */
  readonly share: number;
  readonly shares: number;
  readonly segments: readonly LinearSegment[];
  /** Into the first stretch. */
  readonly opening: Float64Array | undefined;
  /** For each state, the state that takes its place after a share. */
  readonly successors: readonly number[];
  readonly phases: number;
  /** Whether no clock holds the period: a delay of the whole orbit then stays, and is no disturbance. */
  readonly free: boolean;
  /** Whether instants are remembered for edges that follow after a dead time. */
  readonly remembers: boolean;
  readonly sourceColumn: ReadonlyMap<string, number>;
  /** The values of the sources, for the full signals. */
  readonly sources: Float64Array;
}

/** Which of its inputs the comparator sees move: all, or only the current, its control voltage being held still. */
export type ComparatorSees = 'all' | 'current';

/** Take the orbit of a closed loop apart for small disturbances. */
export function linearPeriod(loop: LoopOrbit, sees: ComparatorSees): LinearPeriod {
  const { problem, pass, decides, period } = loop;
  const { circuit, phases, rotation } = problem;
  const drivers = circuit.elements.filter(isSource);
  const { order } = pass.unknowns;
  const columns = order + drivers.length;
  const width = columns + 1;
  const sourceColumn = new Map(drivers.map((e, i) => [e.name, order + i]));
  const of = ({ equations }: Segment): UnitEquations => sourcedEquations(circuit, new Set(equations.conducting));
  const [first] = pass.segments;
  if (!first) throw new Error('An orbit has at least one stretch.');
  const seen = new SeenInstants(loop, sees, order, columns, sourceColumn.get('source'));
  const free = decides === 'turn-on';

  const segments = pass.segments.map((segment, k): LinearSegment => {
    const equations = of(segment);
    const { start, duration } = segment;
    const stretch = { equations, start, duration, phi: statesOnly(segment, order) };
    const event = pass.events[k];
    const next = pass.segments[k + 1];
    if (event?.does === 'set-registers' && next) {
      const entry = updateMap(problem, event.update, equations.node, width).subarray(0, order * width);
      const end = { entry, moves: undefined, jump: zeros(order), before: segment.final, after: next.initial };
      return { ...stretch, end };
    }
    // The end of the share is an event too where a comparator decides when it comes.
    const into = next ?? (free ? first : undefined);
    if (!into) return { ...stretch, end: undefined };
    const moves = event ? seen.moves(event, segment, equations) : seen.turnOn(segment, equations);
    const end = {
      entry: of(into).entry,
      moves,
      jump: jumpBetween(segment, into, order),
      before: segment.final,
      after: into.initial,
    };
    return { ...stretch, end };
  });

  /** What the clock does: registers set, and the entry into the first configuration. */
  const opening = (): Float64Array | undefined => {
    const equations = of(first);
    let map = equations.entry;
    for (const update of problem.updates ?? []) {
      if (update.at !== 0) continue;
      const set = updateMap(problem, update, equations.node, width);
      map = map ? product(map, set, order, width, width) : set.subarray(0, order * width);
    }
    return map;
  };
  return {
    order,
    columns,
    share: period / rotation.order,
    shares: rotation.order,
    segments,
    opening: free ? undefined : opening(),
    free,
    successors: successors(problem),
    phases: phases.length,
    remembers: free || segments.some(({ end }) => end?.moves?.kind === 'with'),
    sourceColumn,
    sources: Float64Array.from(
      drivers.map((e) => (e.kind === 'voltageSource' ? e.voltage : e.kind === 'currentSource' ? e.current : 0)),
    ),
  };
}

/** Φ of the states, without the constant. */
function statesOnly({ equations, duration }: Segment, order: number): Float64Array {
  const { phi: whole } = propagatorOf(equations, duration);
  const phi = zeros(order * order);
  for (let i = 0; i < order; i += 1)
    for (let j = 0; j < order; j += 1) phi[i * order + j] = whole[i * (order + 1) + j] as number;
  return phi;
}

/** P f⁻ − f⁺ */
function jumpBetween(segment: Segment, { equations, initial }: Segment, order: number): Float64Array {
  const before = finalRate(segment);
  const after = rateOf(equations, initial);
  const entered = equations.entry ? product(equations.entry, before, order + 1, order + 1, 1) : before;
  return Float64Array.from({ length: order }, (_, i) => (entered[i] as number) - (after[i] as number));
}

/** How the instants of an orbit move with what their deciders see. */
class SeenInstants {
  constructor(
    private readonly loop: LoopOrbit,
    private readonly sees: ComparatorSees,
    private readonly order: number,
    private readonly columns: number,
    private readonly supply: number | undefined,
  ) {}

  /** What decides the instant of an event. */
  moves(event: Event, segment: Segment, equations: UnitEquations): Moves {
    if (event.does === 'set-registers') return undefined;
    const { phase } = event;
    if (event.does === 'commutate-diode') {
      const name = this.loop.problem.phases[phase]?.diodes[event.diode.diode] ?? '';
      const { crossing } = event.diode;
      // Its forward voltage is a constant, which nothing disturbs.
      const row = diodeRow(equations, name, 0, crossing)?.slice(0, this.columns) ?? zeros(this.columns);
      const folded = diodeRow(segment.equations, name, 0, crossing) ?? zeros(this.order + 1);
      return { kind: 'itself', phase, instant: { row, rate: dot(folded, finalRate(segment)), compared: false } };
    }
    // Once it has turned on, everything timed follows after it.
    if (this.loop.decides === 'turn-on') return { kind: 'with', phase };
    if (event.begins === 'after-command') return { kind: 'with', phase };
    return event.begins === 'command-end'
      ? { kind: 'itself', phase, instant: this.comparatorTrips(segment, equations, phase, event.local) }
      : undefined;
  }

  /** The end of a period that no clock holds: the comparator of the first phase turns it on. */
  turnOn(segment: Segment, equations: UnitEquations): Moves {
    return { kind: 'itself', phase: 0, instant: this.comparatorTrips(segment, equations, 0, 0) };
  }

  private comparatorTrips(segment: Segment, equations: UnitEquations, phase: number, local: number): MovingInstant {
    const { loop, order, columns, supply } = this;
    const { comparator, problem, feedforwardFrom } = loop;
    const inductor = problem.phases[phase]?.inductor ?? '';
    const seen = this.sees === 'all' ? comparator : { ...comparator, nodes: [], reference: '' };
    const row = comparatorRow(seen, equations, phase, inductor, columns + 1).slice(0, columns);
    if (feedforwardFrom !== undefined && supply !== undefined)
      row[supply] = (row[supply] as number) + (comparator.ramp / feedforwardFrom) * local;
    const before = finalRate(segment);
    let rate = comparator.ramp / loop.period;
    for (let j = 0; j < order; j += 1) rate += (row[j] as number) * (before[j] as number);
    return { row, rate, compared: true };
  }
}

import { sourcedEquations } from '../circuit/stateEquations.js';
import { isSource } from '../circuit/elements.js';
import type { UnitEquations } from '../circuit/unitEquations.js';
import { dot, product } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import { propagatorOf } from '../steady/propagation.js';
import { updateMap } from '../steady/updates.js';
import { successors } from '../steady/rotation.js';
import type { Segment } from '../steady/alongPeriod.js';
import type { ClosedLoop } from './loopCircuit.js';

/**
 * How an instant moves with what disturbs the orbit: dt = −(row · [x̂; û]) / rate.
 */
export interface MovingInstant {
  /** Over [states, sources], without the constant. */
  readonly row: Float64Array;
  /** How fast the comparator, or the current that stops, moves through zero, per second. */
  readonly rate: number;
  /** Whether a disturbance of the comparator's threshold counts: at the end of a command, not where a diode stops. */
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

export interface LinearEvent {
  /** Into the next stretch: states over states, and over sources; undefined where entering changes nothing. */
  readonly entry: Float64Array | undefined;
  /** Instant that moves of itself, or together with the end of the command of a phase (dead time), or not at all. */
  readonly moves:
    | { readonly kind: 'itself'; readonly instant: MovingInstant; readonly phase: number }
    | { readonly kind: 'with'; readonly phase: number }
    | undefined;
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
export function linearPeriod(loop: ClosedLoop, sees: ComparatorSees): LinearPeriod {
  const { problem, pass, feedforwardFrom, comparator, decides } = loop;
  const { circuit, phases, rotation, period } = problem;
  const share = period / rotation.order;
  const drivers = circuit.elements.filter(isSource);
  const { order } = pass;
  const columns = order + drivers.length;
  const sourceColumn = new Map(drivers.map((e, i) => [e.name, order + i]));
  const sources = Float64Array.from(
    drivers.map((e) => (e.kind === 'voltageSource' ? e.voltage : e.kind === 'currentSource' ? e.current : 0)),
  );
  const of = ({ equations }: Segment): UnitEquations => sourcedEquations(circuit, new Set(equations.conducting));
  const rateAt = ({ equations }: Segment, z: Float64Array): Float64Array =>
    product(equations.dynamics, z, order + 1, order + 1, 1);
  const jumpBetween = (segment: Segment, next: Segment): Float64Array => {
    const before = rateAt(segment, segment.final);
    const after = rateAt(next, next.initial);
    const entered = next.equations.entry ? product(next.equations.entry, before, order + 1, order + 1, 1) : before;
    return Float64Array.from({ length: order }, (_, i) => (entered[i] ?? 0) - (after[i] ?? 0));
  };
  /** The end of a period at constant on-time: the comparator turns on where the feedback has fallen to the reference. */
  const turnsOn = (segment: Segment, first: Segment, into: UnitEquations): LinearEvent => {
    const seen = of(segment).node.get(comparator.nodes[0] ?? '') ?? zeros(columns + 1);
    const before = rateAt(segment, segment.final);
    let rate = 0;
    for (let j = 0; j < order; j += 1) rate += comparator.sign * (seen[j] ?? 0) * (before[j] ?? 0);
    const row = seen.slice(0, columns).map((value) => (sees === 'all' ? comparator.sign * value : 0));
    return {
      entry: into.entry,
      moves: { kind: 'itself', phase: 0, instant: { row, rate, compared: true } },
      jump: jumpBetween(segment, first),
      before: segment.final,
      after: first.initial,
    };
  };
  let remembers = false;
  /** What the clock does: registers set, and the entry into the first configuration. */
  const openingOf = (): Float64Array | undefined => {
    const first = pass.segments[0] && of(pass.segments[0]);
    if (!first) return undefined;
    const width = columns + 1;
    let map = first.entry;
    for (const update of problem.updates ?? []) {
      if (update.at !== 0) continue;
      const set = updateMap(problem, update, first.node, width);
      map = map ? product(map, set, order, width, width) : set.subarray(0, order * width);
    }
    return map;
  };

  const segments = pass.segments.map((segment, k): LinearSegment => {
    const unit = of(segment);
    const { phi: whole } = propagatorOf(segment.equations, segment.duration);
    const phi = zeros(order * order);
    for (let i = 0; i < order; i += 1)
      for (let j = 0; j < order; j += 1) phi[i * order + j] = whole[i * (order + 1) + j] ?? 0;
    const event = pass.events[k];
    const next = pass.segments[k + 1];
    if (decides === 'turn-on' && !event) {
      const first = pass.segments[0] ?? segment;
      remembers = true;
      return {
        equations: unit,
        start: segment.start,
        duration: segment.duration,
        phi,
        end: turnsOn(segment, first, of(first)),
      };
    }
    if (!event || !next)
      return { equations: unit, start: segment.start, duration: segment.duration, phi, end: undefined };

    if (event.update)
      return {
        equations: unit,
        start: segment.start,
        duration: segment.duration,
        phi,
        end: {
          entry: updateMap(problem, event.update, unit.node, columns + 1).subarray(0, order * (columns + 1)),
          moves: undefined,
          jump: zeros(order),
          before: segment.final,
          after: next.initial,
        },
      };

    const before = rateAt(segment, segment.final);
    const jump = jumpBetween(segment, next);
    const withConstant = (row: Float64Array | undefined): Float64Array => row ?? zeros(columns + 1);
    const current = withConstant(unit.current.get(phases[event.phase]?.inductor ?? ''));
    const folded = segment.equations;
    let moves: LinearEvent['moves'];
    if (event.guard >= 0) {
      const rate = dot(folded.current.get(phases[event.phase]?.inductor ?? '') ?? zeros(order + 1), before);
      moves = {
        kind: 'itself',
        phase: event.phase,
        instant: { row: current.slice(0, columns), rate, compared: false },
      };
    } else if (decides === 'turn-on') {
      // Once it has turned on, everything timed follows after it.
      moves = { kind: 'with', phase: event.phase };
    } else if (event.endsCommand) {
      const node = withConstant(unit.node.get(comparator.nodes[event.phase] ?? ''));
      const supply = sourceColumn.get('source') ?? -1;
      const row = zeros(columns);
      for (let j = 0; j < columns; j += 1) {
        row[j] = comparator.sense * (current[j] ?? 0);
        if (sees === 'all') row[j] = (row[j] ?? 0) - comparator.sign * (node[j] ?? 0);
      }
      if (feedforwardFrom !== undefined && supply >= 0)
        row[supply] = (row[supply] ?? 0) + (comparator.ramp / feedforwardFrom) * event.local;
      let rate = comparator.ramp / period;
      for (let j = 0; j < order; j += 1) rate += (row[j] ?? 0) * (before[j] ?? 0);
      moves = { kind: 'itself', phase: event.phase, instant: { row, rate, compared: true } };
    } else if (event.perDuty !== 0) {
      moves = { kind: 'with', phase: event.phase };
      remembers = true;
    }
    return {
      equations: unit,
      start: segment.start,
      duration: segment.duration,
      phi,
      end: { entry: of(next).entry, moves, jump, before: segment.final, after: next.initial },
    };
  });
  return {
    order,
    columns,
    share,
    shares: rotation.order,
    segments,
    opening: decides === 'turn-on' ? undefined : openingOf(),
    free: decides === 'turn-on',
    successors: successors(problem),
    phases: phases.length,
    remembers,
    sourceColumn,
    sources,
  };
}

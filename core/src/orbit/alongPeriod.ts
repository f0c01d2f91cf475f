import { stateEquations, type StateEquations } from '../circuit/stateEquations.js';
import { dot, product } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import { comparatorRow, type Comparator } from './comparator.js';
import { conductingIn, standingDiodes, type Courses } from './course.js';
import { diodeRow, forwardVoltageOf } from './diodeRow.js';
import { eventsOf, type Event, type Guard, type Instants, type PhaseState } from './events.js';
import { distinctPhases, type PeriodicProblem, type Update } from './periodicProblem.js';
import { successors } from './rotation.js';
import { entered, passed, type Segment } from './segment.js';
import { Sensitivity } from './sensitivity.js';
import { dutyColumn, guardColumn, instantGradient, periodColumn, unknownsOf, type Unknowns } from './unknowns.js';
import { updateMap } from './updates.js';

/** Which segments belong to one step of one interval of one phase. */
export interface PhaseSpan extends PhaseState {
  readonly phase: number;
  readonly segment: number;
}

/** What one run along the period yields. */
export interface Pass {
  readonly unknowns: Unknowns;
  readonly x: Float64Array;
  readonly residual: Float64Array;
  readonly jacobian: Float64Array;
  readonly segments: readonly Segment[];
  readonly spans: readonly PhaseSpan[];
  /** What ends each segment but the last. */
  readonly events: readonly Event[];
}

/** The configurations of a circuit met so far, by what conducts. */
export type Configurations = Map<string, StateEquations>;

/**
 * Follow state and sensitivities through the solved share of a period, and gather what must vanish in the steady state: what the
 * state lacks to repeat; each diode's current, or what its voltage lacks, at its instant; and what the control decides by.
 *
 * @param start the state at the clock; zero where it is not known.
 */
export function alongPeriod(
  problem: PeriodicProblem,
  courses: Courses,
  guards: readonly Guard[],
  instants: Instants,
  start: Float64Array | undefined,
  configurations: Configurations,
  sensitivities = true,
): Pass {
  const { phases, control, rotation, circuit } = problem;
  const { dutyOf, period } = instants;
  const share = period / rotation.order;
  const { events, opening } = eventsOf(problem, guards, instants);
  const state = [...opening];
  const standing = standingDiodes(circuit, phases);
  const configuration = (): StateEquations => {
    const names = phases.flatMap((phase, p) => {
      const here = state[p];
      return here ? conductingIn(phase, here.interval, courses[here.interval], here.step) : [];
    });
    const key = names.join('|');
    const known = configurations.get(key);
    if (known) return known;
    const made = stateEquations(circuit, new Set([...names, ...standing]));
    configurations.set(key, made);
    return made;
  };

  let equations = configuration();
  const { order } = equations;
  const size = order + 1;
  const unknowns = unknownsOf(problem, order, guards.length);
  const { count } = unknowns;
  const averaged = control.kind === 'regulated' ? control.node : undefined;
  const comparator: Comparator | undefined = 'comparator' in control ? control.comparator : undefined;

  const x = start ?? zeros(order);
  let z: Float64Array = zeros(size);
  z.set(x);
  z[order] = 1;
  const sensitivity = sensitivities ? new Sensitivity(size, count) : undefined;
  const residual = zeros(count);
  const jacobian = zeros(count * count);
  const segments: Segment[] = [];
  const spans: PhaseSpan[] = [];
  let averageSum = 0;
  const averageGradient = zeros(count);

  const setRegisters = (update: Update): void => {
    const map = updateMap(problem, update, equations.node, size);
    z = product(map, z, size, size, 1);
    sensitivity?.map(map);
  };
  /** A condition at the instant reached: its value, and how that moves with the unknowns. */
  const demand = (at: number, row: Float64Array | undefined, besides = 0, column = -1, slope = 0): void => {
    if (!row) return;
    residual[at] = dot(row, z) + besides;
    if (!sensitivity) return;
    const gradient = sensitivity.of(row);
    if (column >= 0) gradient[column] = (gradient[column] ?? 0) + slope;
    jacobian.set(gradient, at * count);
  };
  const compared = (phase: number): Float64Array | undefined =>
    comparator && comparatorRow(comparator, equations, phase, phases[phase]?.inductor ?? '', size);

  for (const update of problem.updates ?? []) if (update.at === 0) setRegisters(update);
  let time = 0;
  for (let e = 0; e <= events.length; e += 1) {
    const event = events[e];
    sensitivity?.map(equations.entry);
    const endTime = event ? event.tau * period : share;
    const segment = passed(equations, time, Math.max(0, endTime - time), entered(equations, z), !sensitivities);
    const averagedRow = averaged === undefined ? undefined : equations.node.get(averaged);
    if (averagedRow) averageSum += dot(averagedRow, segment.integral);
    if (sensitivity) {
      const swept = sensitivity.stretch(segment, endGradient(problem, unknowns, event, period, dutyOf), averagedRow);
      if (swept)
        for (let j = 0; j < count; j += 1) averageGradient[j] = (averageGradient[j] as number) + (swept[j] as number);
    }
    state.forEach((here, phase) => spans.push({ phase, ...here, segment: segments.length }));
    segments.push(segment);
    z = segment.final;
    time = endTime;
    if (!event) break;
    switch (event.does) {
      case 'set-registers':
        setRegisters(event.update);
        break;
      case 'commutate-diode': {
        const name = phases[event.phase]?.diodes[event.diode.diode] ?? '';
        const forward = forwardVoltageOf(circuit, name);
        demand(guardColumn(unknowns, event.guard), diodeRow(equations, name, forward, event.diode.crossing));
        state[event.phase] = event;
        equations = configuration();
        break;
      }
      case 'begin-interval':
        if (comparator && control.kind === 'compared' && event.begins === 'command-end') {
          const at = dutyColumn(unknowns, event.phase);
          demand(at, compared(event.phase), comparator.ramp * event.local, at, comparator.ramp);
        }
        state[event.phase] = event;
        equations = configuration();
        break;
    }
  }
  // What begins the next command: seen by the phase whose turn it is, whose copy is the first.
  if (control.kind === 'begun') demand(dutyColumn(unknowns, 0), compared(0));
  if (control.kind === 'on-time') demand(periodColumn(unknowns), compared(0));
  const successor = successors(problem);
  for (let i = 0; i < order; i += 1) {
    const to = successor[i] ?? i;
    residual[to] = (z[to] ?? 0) - (x[i] ?? 0);
    for (let j = 0; sensitivity && j < count; j += 1)
      jacobian[to * count + j] = sensitivity.at(to, j) - (i === j ? 1 : 0);
  }
  if (control.kind === 'regulated') {
    const at = dutyColumn(unknowns, 0);
    residual[at] = averageSum / share - control.average;
    for (let j = 0; j < count; j += 1) jacobian[at * count + j] = (averageGradient[j] ?? 0) / share;
  }
  return { unknowns, x, residual, jacobian, segments, spans, events };
}

/** How the end of a stretch moves with the unknowns, s: the instant of an event, or the end of the share. */
function endGradient(
  { rotation }: PeriodicProblem,
  unknowns: Unknowns,
  event: Event | undefined,
  period: number,
  dutyOf: (phase: number) => number,
): Float64Array {
  if (event) return instantGradient(unknowns, event, period, event.does === 'set-registers' ? 0 : dutyOf(event.phase));
  const gradient = zeros(unknowns.count);
  if (unknowns.period) gradient[periodColumn(unknowns)] = 1 / rotation.order;
  return gradient;
}

/** The duty ratio of every phase where distinct ones have their own, or one for all. */
export const dutiesOf = (problem: PeriodicProblem, duties: readonly number[]): ((phase: number) => number) => {
  const distinct = distinctPhases(problem);
  return (phase) => duties[duties.length > 1 ? phase % distinct : 0] ?? 0;
};

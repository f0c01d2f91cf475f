import { zeros } from '../linalg/zeros.js';
import type { Event } from './events.js';
import { distinctPhases, type PeriodicProblem } from './periodicProblem.js';

/** Where each unknown of a periodic problem stands: states at the clock, instants of diodes, duty ratios, the period. */
export interface Unknowns {
  readonly count: number;
  /** States of the circuit, which come first. */
  readonly order: number;
  readonly guards: number;
  /** Unknown duty ratios: none, one for all phases, or one for each distinct phase. */
  readonly duties: number;
  /** Whether the period is unknown; it comes last. */
  readonly period: boolean;
}

export function unknownsOf(problem: PeriodicProblem, order: number, guards: number): Unknowns {
  const { kind } = problem.control;
  const duties = kind === 'compared' ? distinctPhases(problem) : kind === 'regulated' || kind === 'begun' ? 1 : 0;
  const period = kind === 'on-time';
  return { order, guards, duties, period, count: order + guards + duties + (period ? 1 : 0) };
}

export const guardColumn = ({ order }: Unknowns, guard: number): number => order + guard;
/** Of a phase; meaningful where duty ratios are unknown. */
export const dutyColumn = ({ order, guards, duties }: Unknowns, phase: number): number =>
  order + guards + (duties > 1 ? phase % duties : 0);
export const periodColumn = ({ count }: Unknowns): number => count - 1;

/**
 * How the instant of an event moves with each unknown, s: a guard and an instant that follows the duty ratio by the period; and
 * with the period, the command lasting as long as ever, by whatever of it is a share of the period.
 */
export function instantGradient(unknowns: Unknowns, event: Event, period: number, duty: number): Float64Array {
  const gradient = zeros(unknowns.count);
  if (event.does === 'commutate-diode') gradient[guardColumn(unknowns, event.guard)] = period;
  const follows = event.does === 'begin-interval' ? event.start : undefined;
  if (follows && unknowns.duties > 0 && event.does === 'begin-interval')
    gradient[dutyColumn(unknowns, event.phase)] = follows.perDuty * period;
  if (unknowns.period) {
    const lasting = follows ? follows.perDuty * duty + follows.delay / period : 0;
    gradient[periodColumn(unknowns)] = event.tau - lasting;
  }
  return gradient;
}

import type { CourseStep, Courses, DiodeEvent } from './course.js';
import { distinctPhases, type PeriodicProblem, type Update } from './periodicProblem.js';
import { fraction, instantAt, type Beginning, type Instant } from './schedule.js';

/** Where a phase stands: in which interval of its schedule, and at which step of the course of its diodes. */
export interface PhaseState {
  readonly interval: number;
  readonly step: number;
}

/** An event of one phase. */
interface OfPhase extends PhaseState {
  readonly phase: number;
  /** Share of the period from the clock of the phase. */
  readonly local: number;
}

/** Something that happens at an instant of the period, and what it does. */
export type Event = {
  /** Share of the period from the clock of phase 1, 0 to below 1. */
  readonly tau: number;
} & (
  | ({ readonly does: 'begin-interval'; readonly begins: Beginning; readonly start: Instant } & OfPhase)
  | ({ readonly does: 'commutate-diode'; readonly guard: number; readonly diode: DiodeEvent } & OfPhase)
  | { readonly does: 'set-registers'; readonly update: Update }
);

/** An event of one phase, of either kind. */
type PhaseEvent = Exclude<Event, { readonly does: 'set-registers' }>;

/** An unknown instant at which a diode starts or stops, shared by phases that are copies of each other. */
export interface Guard extends PhaseState {
  /** First of the phases that share it. */
  readonly phase: number;
  readonly diode: DiodeEvent;
}

/** The unknown instants: one for each distinct phase and each step of a course that a diode ends. */
export function guardsOf(problem: PeriodicProblem, courses: Courses): readonly Guard[] {
  const ended = (course: readonly CourseStep[], phase: number, interval: number): readonly Guard[] =>
    course.flatMap(({ until }, step) => (until ? [{ phase, interval, step, diode: until }] : []));
  return Array.from({ length: distinctPhases(problem) }, (_, phase) =>
    courses.flatMap((course, interval) => ended(course, phase, interval)),
  ).flat();
}

/** What the instants of the events depend on. */
export interface Instants {
  /** Duty ratio of a phase. */
  readonly dutyOf: (phase: number) => number;
  /** s */
  readonly period: number;
  /** Of each guard, as a share of the period from its phase's clock. */
  readonly guards: readonly number[];
}

/** The events within the solved share of the period, in order, and how each phase stands at its start. */
export function eventsOf(
  problem: PeriodicProblem,
  guards: readonly Guard[],
  { dutyOf, period, guards: instants }: Instants,
): { readonly events: readonly Event[]; readonly opening: readonly PhaseState[] } {
  const distinct = distinctPhases(problem);
  const events: Event[] = [];
  const opening = problem.phases.map((phase, p): PhaseState => {
    const timing = { duty: dutyOf(p), period };
    const own: PhaseEvent[] = phase.intervals.map(({ start, begins }, interval) => {
      const local = instantAt(start, timing);
      const tau = fraction(phase.offset + local);
      return { does: 'begin-interval', begins, start, tau, local, phase: p, interval, step: 0 };
    });
    guards.forEach(({ phase: first, interval, step, diode }, guard) => {
      if (first !== p % distinct) return;
      const local = instants[guard] ?? 0;
      const tau = fraction(phase.offset + local);
      own.push({ does: 'commutate-diode', guard, diode, tau, local, phase: p, interval, step: step + 1 });
    });
    own.sort((a, b) => a.local - b.local);
    // In force at the start of the period is what last began before it, by the phase's own clock.
    const startLocal = fraction(-phase.offset);
    const open = own.findLast(({ local }) => local <= startLocal + 1e-15) ?? own.at(-1);
    // What the clock of phase 1 itself begins is how the period opens, and no event in it.
    events.push(...own.filter((e) => e.tau > 0 || e.does === 'commutate-diode' || e.begins !== 'clock'));
    return { interval: open?.interval ?? 0, step: open?.step ?? 0 };
  });
  const share = 1 / problem.rotation.order;
  for (const update of problem.updates ?? [])
    if (update.at > 0) events.push({ does: 'set-registers', tau: update.at * share, update });
  return { events: events.filter(({ tau }) => tau < share).sort((a, b) => a.tau - b.tau), opening };
}

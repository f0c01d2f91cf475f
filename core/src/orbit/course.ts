import { diodesIn, type Circuit } from '../circuit/elements.js';
import type { Interval, PhaseSchedule } from './schedule.js';

/** One step of what the diodes of an interval do. */
export interface CourseStep {
  /** Those that conduct, as places in the list of the phase's diodes, ascending. */
  readonly conducting: readonly number[];
  /** What ends the step; absent for the last one, which lasts as long as the interval. */
  readonly until?: DiodeEvent;
}

/** A diode whose current has died, or whose forward voltage has been reached. */
export interface DiodeEvent {
  readonly diode: number;
  readonly crossing: 'stops' | 'starts';
}

/** What the diodes do in one interval, in order; the same in every phase, as all phases are alike. */
export type Course = readonly CourseStep[];

/** The course of every interval of a phase. */
export type Courses = readonly Course[];

/** Places of diodes in the list of their phase, by name. */
export const placesOf = ({ diodes }: PhaseSchedule, names: readonly string[]): readonly number[] =>
  names.map((name) => diodes.indexOf(name)).sort((a, b) => a - b);

/** What is assumed before anything is known: a freewheeling current is positive, and no other diode conducts. */
export const assumedCourses = (phase: PhaseSchedule): Courses =>
  phase.intervals.map(({ freewheel }) => [{ conducting: freewheel ? placesOf(phase, freewheel.forward) : [] }]);

/** Whether the current of an interval that leaves it to diodes comes to rest in it. */
export const comesToRest = ({ freewheel }: Interval, course: Course): boolean =>
  freewheel !== undefined && course.some(({ conducting }) => conducting.length === 0);

/** Diodes that no phase looks after: they stand in the way of a current that keeps its direction, and conduct throughout. */
export function standingDiodes({ elements }: Circuit, phases: readonly PhaseSchedule[]): readonly string[] {
  const looked = new Set(phases.flatMap(({ diodes }) => diodes));
  return diodesIn(elements).filter((name) => !looked.has(name));
}

/** Names conducting in a phase: the closed switches of an interval, and its diodes at a step of their course. */
export function conductingIn(
  phase: PhaseSchedule,
  interval: number,
  course: Course | undefined,
  step: number,
): readonly string[] {
  const closed = phase.intervals[interval]?.closed ?? [];
  const diodes = course?.[step]?.conducting ?? [];
  return diodes.length === 0 ? closed : [...closed, ...diodes.map((d) => phase.diodes[d] ?? '')];
}

const sameStep = (a: CourseStep, b: CourseStep | undefined): boolean =>
  b !== undefined &&
  a.conducting.length === b.conducting.length &&
  a.conducting.every((d, k) => d === b.conducting[k]) &&
  a.until?.diode === b.until?.diode &&
  a.until?.crossing === b.until?.crossing;

/** Whether two intervals, or two phases, go the same course. */
export const sameCourse = (a: Course, b: Course | undefined): boolean =>
  a.length === b?.length && a.every((step, k) => sameStep(step, b[k]));
export const sameCourses = (a: Courses, b: Courses): boolean =>
  a.length === b.length && a.every((course, k) => sameCourse(course, b[k]));

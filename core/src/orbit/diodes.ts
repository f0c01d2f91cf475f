import { dot } from '../linalg/dense.js';
import type { PhaseSpan } from './alongPeriod.js';
import { comesToRest, placesOf, type Course, type CourseStep, type Courses } from './course.js';
import { diodeRow, forwardVoltageOf } from './diodeRow.js';
import type { Guard } from './events.js';
import { gridOf } from './inside.js';
import type { Orbit } from './orbitNewton.js';
import type { PeriodicProblem } from './periodicProblem.js';
import { fraction, intervalSpan, type Interval, type PhaseSchedule } from './schedule.js';
import type { Segment } from './segment.js';

/** Share of the source voltage by which a blocking diode may be driven beyond its forward voltage: rounding, not ringing. */
const FORWARD_SHARE = 1e-3;
/** Driven forward for less than this share of the period, a diode does not conduct: the spike of an inductance that must take a current at once. */
const SPIKE = 1e-4;
/** A current counts as negative at the start of an interval below this fraction of the largest. */
const CURRENT_SIGN = 1e-9;
/** Share of the largest current in an interval that a diode current must swing past zero to count as having stopped. */
const RINGING = 1e-6;

/**
 * Share of the largest current by which the inductor current may jump as a switch closes: less is the flux that the series inductance
 * of a capacitor takes, whose time is shorter than any edge.
 */
const JUMP = 1e-3;
/** Where the end of an overlap is first looked for, as a share of its interval. */
const OVERLAP_GUESS = 0.02;

/** What a check of the diodes found. */
export type DiodeCheck =
  | { readonly kind: 'consistent' }
  | {
      readonly kind: 'mended';
      readonly courses: Courses;
      /** Whether the orbit stands without: what is mended lasts shorter than most edges, and need not have an orbit of its own. */
      readonly refines: boolean;
      /** Where the new events are to be looked for, as shares of the period from the phase's clock, by `interval.step`. */
      readonly instants: ReadonlyMap<string, number>;
    }
  /** No course of the diodes can be right. */
  | { readonly kind: 'amiss'; readonly reason: string };

const REVERSED =
  'the inductor current would be reversed when the switch leaves it to the diode: the input or the output rings (more capacitance, or more damping, avoids it)';

/** A course with a step that a guard cannot end within it: what follows the step begins it. */
export function stuckCourses(phase: PhaseSchedule, courses: Courses, { interval, step, diode }: Guard): Courses {
  const { freewheel } = phase.intervals[interval] ?? {};
  return courses.map((course, i) => {
    if (i !== interval) return course;
    const forward = freewheel && placesOf(phase, freewheel.forward).includes(diode.diode);
    // The forward diode would have to stop before its turn begins: the current has the other sign then, or there is none.
    if (step === 0 && diode.crossing === 'stops' && forward && freewheel.reverse.length > 0)
      return [{ conducting: placesOf(phase, freewheel.reverse) }];
    return [...course.slice(0, step), ...course.slice(step + 1)];
  });
}

/**
 * Hold the course of the diodes against the orbit it led to: at every instant what conducts must carry a current forward, and what
 * blocks must not be driven beyond its forward voltage. In each interval the first that fails mends the course.
 */
export function amended(problem: PeriodicProblem, courses: Courses, orbit: Orbit): DiodeCheck {
  const [phase] = problem.phases;
  if (!phase) return { kind: 'consistent' };
  const look = new DiodeLook(problem, phase, orbit);
  const instants = new Map<string, number>();
  let changed = false;
  let refines = true;
  let atRest = false;
  const next: Course[] = [];
  for (const [i, course] of courses.entries()) {
    const interval = phase.intervals[i];
    if (!interval) continue;
    const found = look.interval(interval, i, course, atRest);
    if (typeof found === 'string') return { kind: 'amiss', reason: found };
    const mended = found?.course ?? course;
    if (found) {
      changed = true;
      refines &&= found.refines === true;
    }
    if (found?.instant !== undefined) instants.set(`${String(i)}.${String(found.step)}`, found.instant);
    next.push(mended);
    atRest = comesToRest(interval, mended.slice(-1));
  }
  return changed ? { kind: 'mended', courses: next, refines, instants } : { kind: 'consistent' };
}

/** A course mended, and where the event that it gained is to be looked for. */
interface Mended {
  readonly course: Course;
  readonly step?: number;
  readonly instant?: number;
  readonly refines?: boolean;
}

/** A stretch of an interval of the first phase. */
interface Stretch {
  readonly step: number;
  readonly segment: Segment;
}

/** The diodes of the first phase along an orbit. */
class DiodeLook {
  private readonly largestSource: number;
  private readonly largestCurrent: number;

  constructor(
    private readonly problem: PeriodicProblem,
    private readonly phase: PhaseSchedule,
    private readonly orbit: Orbit,
  ) {
    const { elements } = problem.circuit;
    this.largestSource = Math.max(...elements.map((e) => (e.kind === 'voltageSource' ? Math.abs(e.voltage) : 0)));
    this.largestCurrent = Math.max(
      ...orbit.pass.segments.map(({ equations, initial }) =>
        Math.abs(dot(equations.current.get(phase.inductor) ?? initial, initial)),
      ),
      1e-12,
    );
  }

  /** The course of an interval mended; undefined where it holds; the words where none can. */
  interval(interval: Interval, i: number, course: Course, atRest: boolean): Mended | string | undefined {
    const late = this.lateEvent(i, course);
    if (late) return { course: late };
    const stretches = this.stretchesOf(i);
    const [first] = stretches;
    if (!first) return course.length > 1 ? { course: [openEnded(course[0])] } : undefined;
    const opening = this.opening(interval, course, first, atRest) ?? this.overlap(i, course, first);
    if (opening !== undefined) return opening;
    for (const stretch of stretches) {
      const found = this.within(interval, course, stretch, stretches);
      if (found) return found;
    }
    return undefined;
  }

  /** A course whose event would come only after the interval is over does without it. */
  private lateEvent(i: number, course: Course): Course | undefined {
    const { duties, period } = this.orbit;
    const { to } = intervalSpan(this.phase, i, { duty: duties[0] ?? 0, period });
    let g = 0;
    for (const [step, { until }] of course.entries()) {
      if (!until) continue;
      const instant = this.instantOf(i, g);
      g += 1;
      if (instant !== undefined && instant >= to) return [...course.slice(0, step), openEnded(course[step])];
    }
    return undefined;
  }

  /** The instant of a guard of the first phase, by interval and number within it. */
  private instantOf(interval: number, number: number): number | undefined {
    let at = -1;
    const events = this.orbit.pass.events.filter(
      (e) => e.does === 'commutate-diode' && e.phase === 0 && e.interval === interval,
    );
    for (const event of events) {
      if (event.does !== 'commutate-diode' || event.step !== number + 1) continue;
      at = event.guard;
    }
    return at < 0 ? undefined : this.orbit.instants[at];
  }

  /** The stretches of an interval in the order of the phase's own time: one that wraps round the period begins late in it. */
  private stretchesOf(interval: number): readonly Stretch[] {
    const { pass, period } = this.orbit;
    const local = ({ segment }: Stretch): number => fraction(segment.start / period - this.phase.offset + 1e-12);
    return pass.spans
      .filter((span: PhaseSpan) => span.phase === 0 && span.interval === interval)
      .flatMap(({ step, segment: at }) => {
        const segment = pass.segments[at];
        return segment && segment.duration > 0 ? [{ step, segment }] : [];
      })
      .sort((a, b) => local(a) - local(b));
  }

  /** Whether the diodes that an interval opens with are the right ones. */
  private opening(
    { freewheel }: Interval,
    course: Course,
    { segment }: Stretch,
    atRest: boolean,
  ): Mended | string | undefined {
    const [step] = course;
    if (!freewheel || !step) return undefined;
    const forward = placesOf(this.phase, freewheel.forward);
    const reverse = placesOf(this.phase, freewheel.reverse);
    const [diode] = step.conducting;
    if (diode === undefined) {
      // Left to diodes with a current still flowing, it cannot be at rest from the start.
      const left = atRest ? 0 : this.currentBefore(segment);
      if (Math.abs(left) <= RINGING * this.largestCurrent) return undefined;
      if (left > 0) return { course: [{ conducting: forward }] };
      return reverse.length > 0 ? { course: [{ conducting: reverse }] } : REVERSED;
    }
    const row = segment.equations.current.get(this.phase.diodes[diode] ?? '');
    if (!row) return undefined;
    const first = dot(row, segment.initial);
    const last = dot(row, segment.final);
    const tolerance = CURRENT_SIGN * this.largestCurrent;
    const nothing = Math.abs(first) <= tolerance;
    if (!(first < -tolerance || (nothing && last < -tolerance))) return undefined;
    if (nothing && atRest) return { course: [{ conducting: [] }] };
    const other = forward.includes(diode) ? reverse : forward;
    if (other.length > 0) return { course: [{ conducting: other }] };
    return first < -RINGING * this.largestCurrent ? REVERSED : nothing ? { course: [{ conducting: [] }] } : undefined;
  }

  /**
   * A switch that closes onto an inductance cannot take over the current at once: the diode that carried it goes on until it has.
   * Closing would else make the inductor current jump.
   */
  private overlap(i: number, course: Course, { segment }: Stretch): Mended | undefined {
    const { phase, orbit } = this;
    const [step] = course;
    const row = segment.equations.current.get(phase.inductor);
    const before = this.before(segment);
    if (!step || !row || !before) return undefined;
    const jump = Math.abs(dot(row, segment.initial) - this.currentBefore(segment));
    if (jump <= JUMP * this.largestCurrent) return undefined;
    const carried = phase.diodes.flatMap((name, d) => (before.equations.conducting.includes(name) ? [d] : []));
    const [diode] = carried.filter((d) => !step.conducting.includes(d));
    if (diode === undefined) return undefined;
    const conducting = [...new Set([...step.conducting, ...carried])].sort((a, b) => a - b);
    const { from, to } = intervalSpan(phase, i, { duty: orbit.duties[0] ?? 0, period: orbit.period });
    return {
      course: [{ conducting, until: { diode, crossing: 'stops' } }, ...course],
      step: 0,
      instant: from + OVERLAP_GUESS * (to - from),
      refines: true,
    };
  }

  /** The segment before another in time. */
  private before(segment: Segment): Segment | undefined {
    const { segments } = this.orbit.pass;
    return segments.at(segments.indexOf(segment) - 1);
  }

  /** The inductor current just before a segment begins, A. */
  private currentBefore(segment: Segment): number {
    const before = this.before(segment);
    const row = before?.equations.current.get(this.phase.inductor);
    return row && before ? dot(row, before.final) : 0;
  }

  /** The first instant of a stretch at which a diode does not do what its course says. */
  private within(
    { freewheel }: Interval,
    course: Course,
    { step, segment }: Stretch,
    stretches: readonly Stretch[],
  ): Mended | undefined {
    const { phase, problem, orbit } = this;
    const here = course[step];
    if (!here) return undefined;
    const { equations } = segment;
    const { times, states } = gridOf(segment);
    let earliest: { readonly time: number; readonly diode: number; readonly crossing: 'stops' | 'starts' } | undefined;
    phase.diodes.forEach((name, diode) => {
      const conducts = here.conducting.includes(diode);
      const forward = forwardVoltageOf(problem.circuit, name);
      const row = diodeRow(equations, name, forward, conducts ? 'stops' : 'starts');
      if (!row) return;
      // Positive where the diode does not do as told.
      const sign = conducts ? -1 : 1;
      const margin = conducts ? RINGING * this.largestIn(stretches, name) : FORWARD_SHARE * this.largestSource;
      const spike = conducts ? 0 : SPIKE * orbit.period;
      for (let k = 0; k < states.length; k += 1) {
        const time = times[k] ?? 0;
        const state = states[k];
        if (!state || (time <= spike && !conducts)) continue;
        const amiss = sign * dot(row, state);
        if (amiss <= margin) continue;
        const before = states[k - 1];
        const earlier = before ? sign * dot(row, before) : amiss;
        const from = times[k - 1] ?? 0;
        const passes = before && earlier < 0 && from >= spike;
        const at = passes ? from + (time - from) * (earlier / (earlier - amiss)) : 0;
        if (!earliest || at < earliest.time) earliest = { time: at, diode, crossing: conducts ? 'stops' : 'starts' };
        return;
      }
    });
    if (!earliest) return undefined;
    const { time, diode, crossing } = earliest;
    const together = this.togetherWith(freewheel, diode);
    const conducting =
      crossing === 'stops'
        ? here.conducting.filter((d) => !together.includes(d))
        : [...new Set([...here.conducting, ...together])].sort((a, b) => a - b);
    const opens = stretches.find((one) => one.step === step)?.segment === segment;
    // From its very beginning: then the step is another one altogether.
    if (time === 0 && opens) return { course: [...course.slice(0, step), { conducting }] };
    const instant = fraction((segment.start + time) / orbit.period - phase.offset);
    return {
      course: [...course.slice(0, step), { conducting: here.conducting, until: { diode, crossing } }, { conducting }],
      step,
      instant,
    };
  }

  /** Diodes in series with one, which start and stop with it. */
  private togetherWith(freewheel: Interval['freewheel'], diode: number): readonly number[] {
    const lists = freewheel ? [freewheel.forward, freewheel.reverse].map((names) => placesOf(this.phase, names)) : [];
    return lists.find((list) => list.includes(diode)) ?? [diode];
  }

  /** The largest current that a diode carries over the stretches of an interval, A. */
  private largestIn(stretches: readonly Stretch[], name: string): number {
    let largest = 0;
    for (const { segment } of stretches) {
      const row = segment.equations.current.get(name);
      if (!row) continue;
      for (const state of gridOf(segment).states) largest = Math.max(largest, dot(row, state));
    }
    return largest;
  }
}

/** A step that lasts as long as its interval. */
const openEnded = (step: CourseStep | undefined): CourseStep => ({ conducting: step?.conducting ?? [] });

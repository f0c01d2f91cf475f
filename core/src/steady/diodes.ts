import { dot } from '../linalg/dense.js';
import { guardsOf, type Segment } from './alongPeriod.js';
import { clamp, noPhase, type Attempt, type Warm } from './attempt.js';
import { gridOf } from './inside.js';
import type { PeriodicProblem } from './periodicProblem.js';
import { fraction, intervalSpan, type DiodeOutcome } from './schedule.js';

/** Share of the source voltage by which a blocking diode may be driven beyond its forward voltage: rounding, not ringing. */
const FORWARD_SHARE = 1e-3;
/** Driven forward for less than this share of the period, a diode does not conduct: the spike of an inductance that must take a current at once. */
const SPIKE = 1e-4;
/** A current counts as negative below this fraction of the largest current in the interval. */
const CURRENT_SIGN = 1e-9;
/** Share of the largest current in an interval that a diode current must swing past zero to count as having stopped. */
const RINGING = 1e-6;

/** The segments in which one phase's diodes conduct in one freewheel interval, in order, with the row of its current. */
function freewheelSegments(problem: PeriodicProblem, attempt: Attempt, phase: number, interval: number) {
  const schedule = problem.phases[phase] ?? noPhase();
  const found = attempt.spans
    .filter((span) => span.phase === phase && span.interval === interval && !span.idle)
    .map((span) => attempt.segments[span.segment])
    .flatMap((segment) => {
      const row = segment?.equations.current.get(schedule.inductor);
      return segment && row && segment.duration > 0 ? [{ segment, row }] : [];
    });
  // In a phase whose interval wraps round the end of the period the later part comes first in time.
  const clock = schedule.offset * problem.period;
  const local = (t: number): number => fraction((t - clock) / problem.period + 1e-12);
  return found.sort((a, b) => local(a.segment.start) - local(b.segment.start));
}

/** The inductor current over one freewheel interval of one phase: first and last value. */
function currentOver(problem: PeriodicProblem, attempt: Attempt, phase: number, interval: number) {
  const inside = freewheelSegments(problem, attempt, phase, interval);
  const first = inside[0];
  const last = inside.at(-1);
  return {
    first: first ? dot(first.row, first.segment.initial) : 0,
    last: last ? dot(last.row, last.segment.final) : 0,
  };
}

/**
 * Intervals in which a diode current passes through zero before the diode is taken to stop, with the first such instant: a
 * current that rings has several zeros, and the search may find a later one.
 */
export function earlierStops(
  problem: PeriodicProblem,
  outcomes: readonly DiodeOutcome[],
  attempt: Attempt,
): ReadonlyMap<number, number> {
  const phase = problem.phases[0] ?? noPhase();
  const found = new Map<number, number>();
  phase.intervals.forEach(({ freewheel }, i) => {
    const outcome = outcomes[i];
    if (!freewheel || outcome === 'idle' || outcome === undefined) return;
    // Without a path for a current of the other sign there is nothing to stop but the forward diode.
    const sign = outcome.startsWith('reverse') ? -1 : 1;
    const inside = freewheelSegments(problem, attempt, 0, i).map(({ segment, row }) => {
      const { times, states } = gridOf(segment);
      return { start: segment.start, times, currents: states.map((z) => sign * dot(row, z)) };
    });
    const largest = Math.max(...inside.flatMap(({ currents }) => currents), 0);
    let flowing = false;
    for (const { start, times, currents } of inside) {
      for (let k = 0; k < currents.length; k += 1) {
        const current = currents[k] ?? 0;
        if (current > RINGING * largest) flowing = true;
        if (!flowing || current > -RINGING * largest) continue;
        const before = currents[k - 1] ?? 0;
        const from = times[k - 1] ?? 0;
        const time = start + from + ((times[k] ?? 0) - from) * (before / (before - current));
        found.set(i, fraction(time / problem.period - phase.offset));
        return;
      }
    }
  });
  return found;
}

/**
 * Why a solution is none: a diode taken to block is driven forward. It happens where an output with hardly any capacitance
 * rings through zero. Body diodes are left to the switch beside them.
 */
export function conductsAgain(
  { circuit, rotation, period }: PeriodicProblem,
  segments: readonly Segment[],
): string | undefined {
  const largest = Math.max(...circuit.elements.map((e) => (e.kind === 'voltageSource' ? Math.abs(e.voltage) : 0)));
  const switches = circuit.elements.filter((e) => e.kind === 'switch');
  const rectifiers = circuit.elements.filter(
    (e) => e.kind === 'diode' && !switches.some(({ a, b }) => [a, b].includes(e.a) && [a, b].includes(e.b)),
  );
  for (const segment of segments.slice(0, segments.length / rotation.order)) {
    if (segment.duration === 0) continue;
    const { equations } = segment;
    const conducting = new Set(equations.conducting);
    for (const diode of rectifiers) {
      const row = equations.voltage.get(diode.name);
      if (diode.kind !== 'diode' || conducting.has(diode.name) || !row) continue;
      const limit = diode.forwardVoltage + FORWARD_SHARE * largest;
      const { times, states } = gridOf(segment);
      if (states.some((z, k) => (times[k] ?? 0) > SPIKE * period && dot(row, z) > limit)) {
        return 'a diode that blocks would be driven to conduct a second time within the period: the output rings (more output capacitance, or more damping, avoids it)';
      }
    }
  }
  return undefined;
}

/**
 * Why a solution is none: the inductor current is reversed when it is left to a diode that cannot take it so. It happens where
 * an input with hardly any capacitance rings through zero.
 */
export function startsReversed(
  problem: PeriodicProblem,
  outcomes: readonly DiodeOutcome[],
  attempt: Attempt,
): string | undefined {
  const scale = largestCurrent(problem, attempt);
  const reversed = (problem.phases[0]?.intervals ?? []).some(
    ({ freewheel }, i) =>
      freewheel?.reverse.length === 0 &&
      outcomes[i]?.startsWith('forward') &&
      currentOver(problem, attempt, 0, i).first < -RINGING * scale,
  );
  return reversed
    ? 'the inductor current would be reversed when the switch leaves it to the diode: the input or the output rings (more capacitance, or more damping, avoids it)'
    : undefined;
}

/** The largest current of the first phase's inductor at the edges of the period. */
const largestCurrent = (problem: PeriodicProblem, { segments }: Attempt): number =>
  Math.max(
    ...segments.map(({ equations, initial }) =>
      Math.abs(dot(equations.current.get(problem.phases[0]?.inductor ?? '') ?? initial, initial)),
    ),
    1e-12,
  );

/** What the diodes really do in the solution found, to compare with what was assumed. */
export function observedOutcomes(
  problem: PeriodicProblem,
  assumed: readonly DiodeOutcome[],
  attempt: Attempt,
): readonly DiodeOutcome[] {
  const intervals = problem.phases[0]?.intervals ?? [];
  const guards = guardsOf(problem, assumed);
  const tolerance = CURRENT_SIGN * largestCurrent(problem, attempt);
  let idleBefore = false;
  return intervals.map((interval, i) => {
    const outcome = assumed[i] ?? 'forward';
    if (!interval.freewheel) {
      idleBefore = false;
      return 'forward';
    }
    if (idleBefore) return 'idle';
    const { first, last } = currentOver(problem, attempt, 0, i);
    let found: DiodeOutcome;
    if (outcome.endsWith('then-idle')) {
      const guard = guards.findIndex((g) => g.phase === 0 && g.interval === i);
      const end = intervalSpan(problem.phases[0] ?? noPhase(), i, attempt.duty).to;
      const within = (attempt.instants[guard] ?? 0) < end;
      found = within ? outcome : outcome === 'forward-then-idle' ? 'forward' : 'reverse';
    } else if (
      first > tolerance ||
      (Math.abs(first) <= tolerance && last > tolerance) ||
      interval.freewheel.reverse.length === 0
    ) {
      found = last < -tolerance ? 'forward-then-idle' : 'forward';
    } else {
      found = last > tolerance ? 'reverse-then-idle' : 'reverse';
    }
    idleBefore = found.endsWith('then-idle');
    return found;
  });
}

/**
 * A start for the next run when diodes turn out to stop early. In discontinuous conduction the load current goes with the
 * square of the on-time, so the boundary solution is scaled by √(I / I at the boundary).
 */
export function warmStart(problem: PeriodicProblem, attempt: Attempt, outcomes: readonly DiodeOutcome[]): Warm {
  const phase = problem.phases[0] ?? noPhase();
  const instants = new Map<number, number>();
  let duty = attempt.duty;
  outcomes.forEach((outcome, i) => {
    if (!outcome.endsWith('then-idle')) return;
    const span = intervalSpan(phase, i, attempt.duty);
    const { first, last } = currentOver(problem, attempt, 0, i);
    const swing = Math.abs(first - last);
    const mean = Math.abs(first + last) / 2;
    const share = swing > 0 ? Math.min(1, Math.max(0.02, Math.sqrt((2 * mean) / swing))) : 0.5;
    const whole = intervalSpan(phase, i, 0).from === 0 || span.to - span.from > 0.5 * (1 - attempt.duty);
    if (whole && problem.control.kind === 'regulated') {
      duty = clamp(attempt.duty * share, problem.control.min, problem.control.max);
      instants.set(i, intervalSpan(phase, i, duty).from + (span.to - span.from) * share);
    } else {
      const crossing = first === last ? 0.5 : first / (first - last);
      instants.set(i, span.from + (span.to - span.from) * clamp(crossing, 0.02, 0.98));
    }
  });
  return { duty, instants };
}

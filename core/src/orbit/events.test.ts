import { describe, expect, test } from '@jest/globals';
import { assumedCourses, comesToRest, conductingIn, placesOf, sameCourse, sameCourses } from './course.js';
import { eventsOf, guardsOf, type Event } from './events.js';
import type { PeriodicProblem } from './periodicProblem.js';
import { at, fraction, instantAt, intervalSpan, type PhaseSchedule } from './schedule.js';
import { dutyColumn, guardColumn, instantGradient, periodColumn, unknownsOf } from './unknowns.js';

const DEAD = 20e-9;
const PERIOD = 2e-6;
/** A leg with dead time, as a synchronous phase has it. */
const phase = (offset: number, k: number): PhaseSchedule => {
  const name = (stem: string): string => `${stem}${String(k)}`;
  const freewheel = { forward: [name('lowBody')], reverse: [name('highBody')] };
  return {
    offset,
    inductor: name('inductor'),
    diodes: [name('lowBody'), name('highBody')],
    intervals: [
      { start: at(0), begins: 'clock', closed: [], freewheel },
      { start: at(0, 0, DEAD), begins: 'clock', closed: [name('high')] },
      { start: at(0, 1), begins: 'command-end', closed: [], freewheel },
      { start: at(0, 1, DEAD), begins: 'after-command', closed: [name('low')] },
    ],
  };
};
const problem = (phases: number, control: PeriodicProblem['control'], whole = false): PeriodicProblem => ({
  circuit: { elements: [], couplings: [] },
  rotation: { order: whole ? 1 : phases, next: new Map() },
  phases: Array.from({ length: phases }, (_, k) => phase(k / phases, k + 1)),
  period: PERIOD,
  control,
});
const fixed = { kind: 'duty', duty: 0.3 } as const;
const comparator = { ramp: 1, sense: 0, nodes: ['control'], sign: 1 } as const;
const timing = (guards: readonly number[] = []) => ({ dutyOf: () => 0.3, period: PERIOD, guards });
const short = ({ tau, ...event }: Event): string =>
  `${tau.toFixed(3)} ${event.does}${event.does === 'begin-interval' ? ` ${event.begins}` : ''}`;

describe('instants', () => {
  test('are a share, a share that goes with the duty ratio, and a delay that keeps its time', () => {
    expect(instantAt(at(0.1, 1, 40e-9), { duty: 0.3, period: 2e-6 })).toBeCloseTo(0.42, 12);
    expect(instantAt(at(0.1, 1, 40e-9), { duty: 0.3, period: 4e-6 })).toBeCloseTo(0.41, 12);
    expect(intervalSpan(phase(0, 1), 3, { duty: 0.3, period: PERIOD })).toEqual({ from: 0.3 + 0.01, to: 1 });
    expect(fraction(-0.25)).toBe(0.75);
  });
});

describe('events of a period', () => {
  test('each says what it does; what the clock of phase 1 begins is how the period opens', () => {
    const { events, opening } = eventsOf(problem(1, fixed), [], timing());
    expect(events.map(short)).toEqual([
      '0.010 begin-interval clock',
      '0.300 begin-interval command-end',
      '0.310 begin-interval after-command',
    ]);
    expect(opening).toEqual([{ interval: 0, step: 0 }]);
  });
  test('of phases that are copies only those within the solved share are met', () => {
    const share = eventsOf(problem(2, fixed), [], timing());
    expect(share.events.every(({ tau }) => tau < 0.5)).toBe(true);
    // The second phase is half a period behind: it rests on its low side as the first begins.
    expect(share.opening).toEqual([
      { interval: 0, step: 0 },
      { interval: 3, step: 0 },
    ]);
    const whole = eventsOf(problem(2, fixed, true), [], timing());
    expect(whole.events).toHaveLength(7);
    expect(whole.events.map(({ tau }) => tau)).toEqual(whole.events.map(({ tau }) => tau).sort((a, b) => a - b));
  });
  test('a diode event lies where its guard says, and registers are set at their instant', () => {
    const courses = assumedCourses(phase(0, 1)).map((course, i) =>
      i === 2 ? [{ conducting: [0], until: { diode: 0, crossing: 'stops' as const } }, { conducting: [] }] : course,
    );
    const updates = [{ at: 0.75, assignments: [] }];
    const of = { ...problem(1, fixed), updates };
    const guards = guardsOf(of, courses);
    expect(guards).toEqual([{ phase: 0, interval: 2, step: 0, diode: { diode: 0, crossing: 'stops' } }]);
    const { events } = eventsOf(of, guards, timing([0.305]));
    expect(events.map(short)).toEqual([
      '0.010 begin-interval clock',
      '0.300 begin-interval command-end',
      '0.305 commutate-diode',
      '0.310 begin-interval after-command',
      '0.750 set-registers',
    ]);
    expect(events[2]).toMatchObject({ interval: 2, step: 1, guard: 0 });
  });
});

describe('how instants move with the unknowns', () => {
  const move = (control: PeriodicProblem['control'], which: number, guards = 0) => {
    const of = problem(1, control);
    const unknowns = unknownsOf(of, 3, guards);
    const event = eventsOf(of, [], timing()).events[which];
    if (!event) throw new Error('no event');
    return { unknowns, gradient: [...instantGradient(unknowns, event, PERIOD, 0.3)] };
  };
  test('with the duty ratio by the period, where it follows the command', () => {
    for (const [which, expected] of [
      [0, 0],
      [1, PERIOD],
      [2, PERIOD],
    ] as const) {
      const { unknowns, gradient } = move({ kind: 'compared', comparator }, which);
      expect(unknowns).toMatchObject({ order: 3, duties: 1, period: false, count: 4 });
      expect(gradient[dutyColumn(unknowns, 0)]).toBe(expected);
    }
  });
  test('with the period not at all, where the pulse lasts a constant time', () => {
    const control = { kind: 'on-time', comparator, onTime: 0.3 * PERIOD } as const;
    for (const which of [0, 1, 2]) {
      const { unknowns, gradient } = move(control, which);
      expect(unknowns).toMatchObject({ duties: 0, period: true, count: 4 });
      expect(gradient[periodColumn(unknowns)]).toBeCloseTo(0, 15);
    }
  });
  test('columns: states, then guards, then duty ratios of distinct phases', () => {
    const unknowns = unknownsOf(problem(4, { kind: 'compared', comparator }, true), 5, 2);
    expect(unknowns).toMatchObject({ guards: 2, duties: 4, count: 11 });
    expect([guardColumn(unknowns, 1), dutyColumn(unknowns, 0), dutyColumn(unknowns, 6)]).toEqual([6, 7, 9]);
    expect(unknownsOf(problem(4, { kind: 'compared', comparator }), 5, 0).duties).toBe(1);
    const regulated = { kind: 'regulated', node: 'out', average: 1, guess: 0.3, min: 0, max: 1 } as const;
    expect(unknownsOf(problem(4, regulated, true), 5, 0).duties).toBe(1);
    expect(unknownsOf(problem(1, fixed), 5, 0).count).toBe(5);
  });
});

describe('courses of diodes', () => {
  const schedule = phase(0, 1);
  test('at first a freewheeling current is taken to be positive, and no other diode to conduct', () => {
    expect(assumedCourses(schedule).map(([step]) => step?.conducting)).toEqual([[0], [], [0], []]);
    expect(placesOf(schedule, ['highBody1', 'lowBody1'])).toEqual([0, 1]);
  });
  test('what conducts is the closed switches and the diodes of the step', () => {
    const course = [{ conducting: [0] }, { conducting: [] }];
    expect(conductingIn(schedule, 1, course, 0)).toEqual(['high1', 'lowBody1']);
    expect(conductingIn(schedule, 1, course, 1)).toEqual(['high1']);
    expect(conductingIn(schedule, 2, undefined, 0)).toEqual([]);
  });
  test('a current comes to rest where it is left to diodes of which none conducts', () => {
    const [dead, closed] = schedule.intervals;
    if (!dead || !closed) throw new Error('no intervals');
    expect(comesToRest(dead, [{ conducting: [0] }, { conducting: [] }])).toBe(true);
    expect(comesToRest(dead, [{ conducting: [0] }])).toBe(false);
    expect(comesToRest(closed, [{ conducting: [] }])).toBe(false);
  });
  test('are the same where diodes, events and their kinds are', () => {
    const one = [{ conducting: [0], until: { diode: 0, crossing: 'stops' as const } }, { conducting: [] }];
    expect(sameCourse(one, structuredClone(one))).toBe(true);
    expect(sameCourse(one, [{ conducting: [0], until: { diode: 0, crossing: 'starts' } }, { conducting: [] }])).toBe(
      false,
    );
    expect(sameCourse(one, [{ conducting: [1], until: { diode: 0, crossing: 'stops' } }, { conducting: [] }])).toBe(
      false,
    );
    expect(sameCourse(one, [{ conducting: [0] }])).toBe(false);
    expect(sameCourses([one, one], [one])).toBe(false);
    expect(sameCourses([one, one], [one, one])).toBe(true);
  });
});

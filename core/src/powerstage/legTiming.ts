import { at, instantAt, type Beginning, type Instant, type Interval, type Timing } from '../orbit/schedule.js';
import type { Drive } from '../topology/topology.js';
import type { SwitchCell } from './switchCell.js';

/** A leg and how it is driven. */
export interface LegTiming {
  readonly cell: SwitchCell;
  readonly drive: Drive;
}

/**
 * One leg over a period. Duty counts from the command: with dead time each turn-on waits for it, so the main switch
 * conducts for D·T − t_dead and the body diodes carry the current in both gaps.
 *
 * @param dead dead time, s.
 */
function legIntervals({ cell, drive }: LegTiming, dead: number): readonly Interval[] {
  const { on, off, freewheel, diodeRectifier } = cell;
  const clock = { start: at(0), begins: 'clock' } as const;
  const rests = diodeRectifier ? { closed: [], freewheel } : { closed: off };
  if ('resting' in drive) return [{ ...clock, ...(drive.resting === 'on' ? { closed: on } : rests) }];
  const fixed = drive.until === 'command-end' ? undefined : drive.until;
  const ends = {
    start: at(fixed ?? 0, fixed === undefined ? 1 : 0),
    begins: fixed === undefined ? 'command-end' : 'clock',
  } as const;
  if (diodeRectifier || dead === 0)
    return [
      { ...clock, closed: on },
      { ...ends, ...rests },
    ];
  const after: Beginning = fixed === undefined ? 'after-command' : 'clock';
  return [
    { ...clock, closed: [], freewheel },
    { start: at(0, 0, dead), begins: 'clock', closed: on },
    { ...ends, closed: [], freewheel },
    { start: { ...ends.start, delay: dead }, begins: after, closed: off },
  ];
}

const sameInstant = (a: Instant, b: Instant): boolean =>
  a.share === b.share && a.perDuty === b.perDuty && a.delay === b.delay;

/**
 * The intervals of a phase whose legs switch each in its own time. Their order is that at `timing`, and holds as long as no
 * edge of one leg overtakes one of the other.
 *
 * @param dead dead time, s.
 */
export function phaseIntervals(legs: readonly LegTiming[], dead: number, timing: Timing): readonly Interval[] {
  const each = legs.map((leg) => legIntervals(leg, dead));
  const starts: Interval[] = [];
  for (const one of each.flat()) if (!starts.some(({ start }) => sameInstant(start, one.start))) starts.push(one);
  const when = ({ start }: Interval): number => instantAt(start, timing);
  starts.sort((a, b) => when(a) - when(b));
  return starts.map((first) => {
    const present = each.map((intervals) => intervals.findLast((one) => when(one) <= when(first) + 1e-12));
    const deciding = present.flatMap((one) => (one?.freewheel ? [one.freewheel] : []));
    // While one leg freewheels through a diode and the other has none to offer, current cannot turn round.
    const reverse = deciding.every((one) => one.reverse.length > 0) ? deciding.flatMap((one) => one.reverse) : [];
    const { start, begins } = first;
    const interval = { start, begins, closed: present.flatMap((one) => one?.closed ?? []) };
    return deciding.length > 0
      ? { ...interval, freewheel: { forward: deciding.flatMap((one) => one.forward), reverse } }
      : interval;
  });
}

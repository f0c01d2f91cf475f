import { at, instantAt, type Freewheel, type Instant, type Interval } from '../steady/schedule.js';
import type { SwitchCell } from './switchCell.js';

/** A leg and when its command is on: from the clock to `until`; undefined never switches and stays as `resting` says. */
export interface LegTiming {
  readonly cell: SwitchCell;
  readonly until: Instant | undefined;
  readonly resting?: 'on' | 'off';
}

interface LegInterval {
  readonly start: Instant;
  readonly closed: readonly string[];
  readonly freewheel?: Freewheel;
}

/**
 * One leg over a period. Duty counts from the command: with dead time each turn-on waits for it, so the main switch
 * conducts for D·T − t_dead and the body diodes carry the current in both gaps.
 *
 * @param dead dead time as a share of the period.
 */
function legIntervals({ cell, until, resting }: LegTiming, dead: number): readonly LegInterval[] {
  const { on, off, freewheel, diodeRectifier } = cell;
  if (!until) {
    if (resting === 'on') return [{ start: at(0), closed: on }];
    return diodeRectifier ? [{ start: at(0), closed: [], freewheel }] : [{ start: at(0), closed: off }];
  }
  if (diodeRectifier) {
    return [
      { start: at(0), closed: on },
      { start: until, closed: [], freewheel },
    ];
  }
  if (dead === 0) {
    return [
      { start: at(0), closed: on },
      { start: until, closed: off },
    ];
  }
  return [
    { start: at(0), closed: [], freewheel },
    { start: at(dead), closed: on },
    { start: until, closed: [], freewheel },
    { start: at(until.base + dead, until.perDuty), closed: off },
  ];
}

const sameInstant = (a: Instant, b: Instant): boolean => a.base === b.base && a.perDuty === b.perDuty;

/**
 * The intervals of a phase whose legs switch each in its own time. Their order is that at `duty`, and holds as long as no
 * edge of one leg overtakes one of the other.
 */
export function phaseIntervals(legs: readonly LegTiming[], dead: number, duty: number): readonly Interval[] {
  const each = legs.map((leg) => legIntervals(leg, dead));
  const starts: Instant[] = [];
  for (const { start } of each.flat()) if (!starts.some((one) => sameInstant(one, start))) starts.push(start);
  starts.sort((a, b) => instantAt(a, duty) - instantAt(b, duty));
  return starts.map((start) => {
    const present = each.map((intervals) =>
      intervals.findLast((one) => instantAt(one.start, duty) <= instantAt(start, duty) + 1e-12),
    );
    const deciding = present.flatMap((one) => (one?.freewheel ? [one.freewheel] : []));
    // While one leg freewheels through a diode and the other has none to offer, current cannot turn round.
    const reverse = deciding.every((one) => one.reverse.length > 0) ? deciding.flatMap((one) => one.reverse) : [];
    const interval = { start, closed: present.flatMap((one) => one?.closed ?? []) };
    return deciding.length > 0
      ? { ...interval, freewheel: { forward: deciding.flatMap((one) => one.forward), reverse } }
      : interval;
  });
}

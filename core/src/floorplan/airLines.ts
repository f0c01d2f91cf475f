import { GROUND } from '../circuit/elements.js';
import { gapOf, nearest, padBox, type Box, type Placement, type Point } from './placement.js';
import type { PlanGround } from './planGround.js';

/** A way that copper still has to take, as straight as it can be. @public */
export interface AirLine {
  readonly net: string;
  readonly from: Point;
  readonly to: Point;
}

/**
 * What joins the pads of each net with the least copper: the minimum spanning tree by the gaps between them (R. C. Prim, Shortest connection
 * networks and some generalizations, 1957). Ground is left to the plane.
 *
 * @public
 */
export function airLines({ outlines, nets }: PlanGround, placement: Placement): readonly AirLine[] {
  return nets.flatMap(({ net }): AirLine[] => {
    if (net === GROUND) return [];
    const pads = outlines.flatMap(({ key, pads: all }): Box[] => {
      const placed = placement[key];
      return placed ? all.filter((pad) => pad.net === net).map((pad) => padBox(pad, placed)) : [];
    });
    const [first, ...rest] = pads;
    if (!first) return [];
    const joined = [first];
    const lines: AirLine[] = [];
    const left = new Set(rest);
    while (left.size > 0) {
      let best: { from: Box; to: Box; gap: number } | undefined;
      for (const to of left)
        for (const from of joined) {
          const gap = gapOf(from, to);
          if (!best || gap < best.gap) best = { from, to, gap };
        }
      if (!best) break;
      left.delete(best.to);
      joined.push(best.to);
      const [from, to] = nearest(best.from, best.to);
      lines.push({ net, from, to });
    }
    return lines;
  });
}

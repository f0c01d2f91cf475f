import { GROUND } from '../circuit/elements.js';
import type { ClosedForm } from '../firstcut/closedForm.js';
import { planeLoopInductance } from '../layout/conductorForms.js';
import { MU_0 } from '../magnetics/copper.js';
import { areaOf, hullOf } from './hull.js';
import type { Outline } from './outline.js';
import { gapOf, nearest, padBox, type Box, type Placement, type Point } from './placement.js';
import type { LoopStep, PlanLoop } from './planGround.js';
import { closedWayInductance, type Strip } from './stripInductance.js';

/** A piece of the way of a loop on the board: through a part, or over copper between two. @public */
export interface WayPiece extends Strip {
  /** The net of the copper; undefined through a part. */
  readonly net: string | undefined;
}

/** A loop as it lies on a board. @public */
export interface LoopWay {
  readonly pieces: readonly WayPiece[];
  /** The parts it goes through, in order. */
  readonly keys: readonly string[];
  /** m, once round it. */
  readonly length: number;
  /** m², within its outline. */
  readonly area: number;
}

/** Parts with their places, looked up by key. */
export interface Laid {
  readonly outlines: ReadonlyMap<string, Outline>;
  readonly placement: Placement;
}

/** The pad of a part on a net, on the board; undefined where it is not placed. */
export function padOn({ outlines, placement }: Laid, key: string, net: string): Box | undefined {
  const placed = placement[key];
  const pad = outlines.get(key)?.pads.find((one) => one.net === net);
  return placed && pad && padBox(pad, placed);
}

/** m that are rounding. */
const ROUNDING = 1e-12;

const middle = ({ left, right, top, bottom }: Box): Point => ({ x: (left + right) / 2, y: (top + bottom) / 2 });
const between = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y);

/** The two pads of a step through one part. */
interface Through {
  readonly key: string;
  readonly enters: Box;
  readonly leaves: Box;
  readonly through: number;
}

const throughs = (laid: Laid, step: LoopStep, keys: readonly string[]): readonly Through[] =>
  keys.flatMap((key) => {
    const [enters, leaves] = [padOn(laid, key, step.from), padOn(laid, key, step.to)];
    return enters && leaves ? [{ key, enters, leaves, through: between(middle(enters), middle(leaves)) }] : [];
  });

/** The shortest closed way when each step has some parts to choose from: dynamic programming over the steps, for each part of the first. */
function shortest(
  candidates: readonly (readonly Through[])[],
): { length: number; way: readonly Through[] } | undefined {
  const [first = [], ...rest] = candidates;
  let best: { length: number; way: readonly Through[] } | undefined;
  for (const start of first) {
    let reached = [{ length: start.through, way: [start] as readonly Through[] }];
    for (const layer of rest) {
      reached = layer.flatMap((part) => {
        let nearestWay: (typeof reached)[number] | undefined;
        for (const { length, way } of reached) {
          const last = way.at(-1) ?? start;
          const whole = length + gapOf(last.leaves, part.enters) + part.through;
          if (!nearestWay || whole < nearestWay.length) nearestWay = { length: whole, way: [...way, part] };
        }
        return nearestWay ? [nearestWay] : [];
      });
    }
    for (const { length, way } of reached) {
      const whole = length + gapOf((way.at(-1) ?? start).leaves, start.enters);
      if (!best || whole < best.length) best = { length: whole, way };
    }
  }
  return best;
}

/** A way through chosen parts: closed by the shortest of copper between their pads. */
function closed({ outlines }: Laid, steps: readonly LoopStep[], way: readonly Through[]): LoopWay {
  const widthOf = (key: string): number => outlines.get(key)?.width ?? 0;
  const joints = way.map((part, k) => {
    const next = way[(k + 1) % way.length] ?? part;
    const [from, to] = nearest(part.leaves, next.enters);
    return { from, to, width: Math.min(widthOf(part.key), widthOf(next.key)), net: steps[k]?.to };
  });
  const pieces = way.flatMap((part, k): readonly WayPiece[] => {
    const [before, after] = [joints.at(k - 1), joints[k]];
    if (!before || !after) return [];
    return [{ from: before.to, to: after.from, width: widthOf(part.key), net: undefined }, after];
  });
  return {
    pieces,
    keys: way.map(({ key }) => key),
    length: pieces.reduce((sum, { from, to }) => sum + between(from, to), 0),
    area: areaOf(hullOf(pieces.map(({ from }) => from))),
  };
}

/** A way made shorter by other parts of its steps, as long as one is found: the first choice went by middles, this by the copper. */
function shortened(
  laid: Laid,
  steps: readonly LoopStep[],
  choices: readonly (readonly Through[])[],
  from: readonly Through[],
): LoopWay {
  let way = from;
  let best = closed(laid, steps, way);
  for (let better = true; better;) {
    better = false;
    choices.forEach((layer, k) => {
      for (const part of layer) {
        const other = way.map((one, j) => (j === k ? part : one));
        const found = closed(laid, steps, other);
        if (found.length >= best.length - ROUNDING) continue;
        [way, best, better] = [other, found, true];
      }
    });
  }
  return best;
}

/**
 * The way of a hot loop over the board: through the nearest parts where several stand side by side; where switches are in parallel, that of the
 * switch which is worst off. Undefined while a part of it is not placed.
 *
 * @public
 */
export function loopWay({ steps }: PlanLoop, laid: Laid): LoopWay | undefined {
  const all = steps.map((step) => throughs(laid, step, step.keys));
  let worst: LoopWay | undefined;
  steps.forEach((step, k) => {
    if (!step.each) return;
    for (const one of all[k] ?? []) {
      const choices = all.map((layer, j) => (j === k ? [one] : layer));
      const first = shortest(choices);
      const way = first && shortened(laid, steps, choices, first.way);
      if (way && (!worst || way.length > worst.length)) worst = way;
    }
  });
  return worst;
}

/** Barrels through which the way of a loop goes down to a plane and up again, m. A usual via; common practice. */
export const VIA_DIAMETER = 0.3e-3;

/** Inductance of a pair of vias by which a loop goes down to its plane and up again. */
export const viaInductance: ClosedForm<'height' | 'diameter'> = {
  name: 'Two vias to the plane',
  symbol: 'L_v',
  unit: 'H',
  formula: '2\\cdot\\frac{\\mu_0 h}{2\\pi}\\left(\\ln\\frac{4h}{d}+1\\right)',
  source: 'H. Johnson and M. Graham, High-Speed Digital Design, ch. 7; from memory',
  assumption: 'One via at each end; several side by side are less.',
  inputs: {
    height: { symbol: 'h', name: 'height over the plane', unit: 'm' },
    diameter: { symbol: 'd', name: 'diameter of a via', unit: 'm' },
  },
  compute: ({ height, diameter }) =>
    ((2 * MU_0 * height) / (2 * Math.PI)) * Math.max(0, Math.log((4 * height) / diameter) + 1),
};

/**
 * Inductance of a loop as it lies on the board, H. Over a plane every piece of its way counts as a line over it, but for those on the net of the
 * plane, which lie in it: there it goes down by a via and up by another. Without one the whole loop counts as strips in air.
 *
 * @param plane height over the plane, m; undefined where there is none.
 * @public
 */
export function wayInductance({ pieces }: LoopWay, plane: number | undefined): number {
  if (plane === undefined) return closedWayInductance(pieces);
  let sum = 0;
  for (const { from, to, width, net } of pieces) {
    if (net === GROUND) sum += viaInductance.compute({ height: plane, diameter: VIA_DIAMETER });
    else sum += planeLoopInductance.compute({ length: between(from, to), width, height: plane });
  }
  return sum;
}

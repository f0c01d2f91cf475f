import { z } from 'zod';
import { text } from '../stage/field.js';
import type { Outline, Pad } from './outline.js';

const placedSchema = z.strictObject({
  /** Middle of the part, m, y downwards. */
  x: z.number().min(-2).max(2),
  y: z.number().min(-2).max(2),
  /** Quarter turns, clockwise. */
  turn: z.union([z.literal(0), z.literal(1), z.literal(2), z.literal(3)]),
});
/** Where a part lies. @public */
export type Placed = z.infer<typeof placedSchema>;

/** Where parts lie, by their keys. */
export const placementSchema = z.record(text(500), placedSchema);
/** @public */
export type Placement = z.infer<typeof placementSchema>;

/** @public */
export interface Point {
  readonly x: number;
  readonly y: number;
}

/** A rectangle along the axes, m. @public */
export interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** A point of a part, given from its middle while it is not turned, on the board. */
export function onBoard({ x, y, turn }: Placed, dx: number, dy: number): Point {
  switch (turn) {
    case 0:
      return { x: x + dx, y: y + dy };
    case 1:
      return { x: x - dy, y: y + dx };
    case 2:
      return { x: x - dx, y: y - dy };
    case 3:
      return { x: x + dy, y: y - dx };
  }
}

const boxOf = (middle: Point, turn: number, length: number, width: number): Box => {
  const [across, down] = turn % 2 === 0 ? [length, width] : [width, length];
  return {
    left: middle.x - across / 2,
    right: middle.x + across / 2,
    top: middle.y - down / 2,
    bottom: middle.y + down / 2,
  };
};

/** The rectangle that a part covers. @public */
export const outlineBox = ({ length, width }: Pick<Outline, 'length' | 'width'>, placed: Placed): Box =>
  boxOf(placed, placed.turn, length, width);

/** The rectangle that a pad covers. @public */
export const padBox = ({ x, y, length, width }: Pad, placed: Placed): Box =>
  boxOf(onBoard(placed, x, y), placed.turn, length, width);

/** m between two rectangles, 0 where they touch or overlap. */
export function gapOf(a: Box, b: Box): number {
  const x = Math.max(0, a.left - b.right, b.left - a.right);
  const y = Math.max(0, a.top - b.bottom, b.top - a.bottom);
  return Math.sqrt(x * x + y * y);
}

/** m that are rounding. */
const ROUNDING = 1e-9;

/** Whether two rectangles cover some of the same ground. */
export const overlap = (a: Box, b: Box): boolean =>
  a.left < b.right - ROUNDING &&
  b.left < a.right - ROUNDING &&
  a.top < b.bottom - ROUNDING &&
  b.top < a.bottom - ROUNDING;

/** The nearest points of two rectangles; the middle of what they share along an axis. */
export function nearest(a: Box, b: Box): readonly [Point, Point] {
  const along = (lowA: number, highA: number, lowB: number, highB: number): readonly [number, number] => {
    if (lowB > highA) return [highA, lowB];
    if (lowA > highB) return [lowA, highB];
    const middle = (Math.max(lowA, lowB) + Math.min(highA, highB)) / 2;
    return [middle, middle];
  };
  const [ax, bx] = along(a.left, a.right, b.left, b.right);
  const [ay, by] = along(a.top, a.bottom, b.top, b.bottom);
  return [
    { x: ax, y: ay },
    { x: bx, y: by },
  ];
}

export const corners = ({ left, right, top, bottom }: Box): readonly Point[] => [
  { x: left, y: top },
  { x: right, y: top },
  { x: right, y: bottom },
  { x: left, y: bottom },
];

/** The rectangle around some others; undefined where there are none. @public */
export const around = (boxes: readonly Box[]): Box | undefined =>
  boxes.length === 0
    ? undefined
    : {
        left: Math.min(...boxes.map(({ left }) => left)),
        right: Math.max(...boxes.map(({ right }) => right)),
        top: Math.min(...boxes.map(({ top }) => top)),
        bottom: Math.max(...boxes.map(({ bottom }) => bottom)),
      };

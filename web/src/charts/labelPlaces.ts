/** A label and where it would like to stand, px; `x` is its left edge, `y` its base line. */
export interface Label {
  readonly x: number;
  readonly y: number;
  readonly width: number;
}

interface Area {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** Height of a line of labels, px. */
const LINE = 13;
/** Lines up and down that are tried, nearest first. */
const TRIED = [0, -1, 1, -2, 2, -3, 3, -4, 4] as const;

const overlaps = (a: Label, b: Label): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && Math.abs(a.y - b.y) < LINE;

/** Places for labels so that none lies on another or outside the picture: each moves by whole lines, as little as it must. */
export function labelPlaces(labels: readonly Label[], area: Area): readonly Label[] {
  const placed: Label[] = [];
  for (const label of labels) {
    const x = Math.max(area.left + 2, Math.min(area.right - 2 - label.width, label.x));
    const within = (y: number): boolean => y >= area.top + LINE - 2 && y <= area.bottom - 3;
    const tries = TRIED.map((lines) => ({ ...label, x, y: label.y + lines * LINE }));
    const free = tries.find((one) => within(one.y) && !placed.some((other) => overlaps(one, other)));
    placed.push(free ?? { ...label, x, y: Math.min(area.bottom - 3, Math.max(area.top + LINE - 2, label.y)) });
  }
  return placed;
}

import { create } from 'zustand';
import type { Curve } from './curves';

/** Sets kept in one picture: more than these nobody can tell apart. */
export const MOST_KEPT = 3;

/** The curves of a picture as they once were. */
interface KeptSet {
  readonly number: number;
  /** What they were of: a corner, a place. */
  readonly of: string | undefined;
  readonly curves: readonly Curve[];
}
const NONE: readonly KeptSet[] = [];

/** Kept curves by picture, as long as the page is open: a design is kept by holding it. */
const useKept = create<{ readonly byPicture: Readonly<Record<string, readonly KeptSet[]>> }>()(() => ({
  byPicture: {},
}));

/** The sets kept of a picture, the oldest first. */
export const keptCurves = (picture: string): readonly KeptSet[] => useKept.getState().byPicture[picture] ?? NONE;

export const useKeptCurves = (picture: string): readonly KeptSet[] =>
  useKept(({ byPicture }) => byPicture[picture] ?? NONE);

/** Keep the curves of a picture as they are now; the oldest set goes where there are too many. */
export function keepCurves(picture: string, curves: readonly Curve[], of?: string): void {
  useKept.setState(({ byPicture }) => {
    const before = byPicture[picture] ?? NONE;
    const number = (before.at(-1)?.number ?? 0) + 1;
    return { byPicture: { ...byPicture, [picture]: [...before, { number, of, curves }].slice(-MOST_KEPT) } };
  });
}

export function dropCurves(picture: string): void {
  useKept.setState(({ byPicture }) => ({
    byPicture: Object.fromEntries(Object.entries(byPicture).filter(([name]) => name !== picture)),
  }));
}

const DASHES: readonly (readonly number[])[] = [
  [2, 3],
  [6, 3],
  [1, 2, 6, 2],
];

/**
 * The present curves with the kept ones after them, as shading counts on the order: quiet, unfilled, told apart by their dash and
 * their number. A single curve needs no name until there are others.
 */
export function withKept(present: readonly Curve[], kept: readonly KeptSet[]): readonly Curve[] {
  if (kept.length === 0) return present;
  const unnamed = present.every(({ words }) => words === '');
  return [
    ...present.map((curve, k) => (unnamed && k === 0 ? { ...curve, words: 'now' } : curve)),
    ...kept.flatMap(({ number, of, curves }) =>
      curves.map(({ words, x, y }): Curve => {
        const dash = [...(DASHES[(number - 1) % DASHES.length] ?? [])];
        const said = [`kept ${String(number)}`, of, words].filter((one) => one !== undefined && one !== '');
        return { words: said.join(': '), x, y, colour: '--ink-2', dash };
      }),
    ),
  ];
}

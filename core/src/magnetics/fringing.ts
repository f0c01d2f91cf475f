/** How the flux that bulges out of a gap is counted. @public */
export type Fringing = 'logarithm' | 'edge';

/** The names of the methods, to be chosen by. @public */
export const FRINGING_WORDS: Readonly<Record<Fringing, string>> = {
  logarithm: 'logarithm of gap over window (McLyman)',
  edge: 'a gap’s length added on every side',
};

/** What a gap stands in, m. */
export interface GapPlace {
  /** Of the leg. */
  readonly width: number;
  readonly depth: number;
  /** m, of the winding along the leg. */
  readonly window: number;
}

/**
 * How much more a gap lets through than its leg's own area would, at least 1:
 *
 *     logarithm: F = 1 + (g/√A) ln(2 W/g)     C. W. T. McLyman, Transformer and Inductor Design Handbook (from memory)
 *     edge:      F = (w + g)(d + g)/(w d)      common practice
 *
 * Both are for one gap, small beside its leg, with the winding away from it.
 *
 * @param gap m
 * @public
 */
export function fringingFactor(method: Fringing, gap: number, { width, depth, window }: GapPlace): number {
  if (gap <= 0) return 1;
  if (method === 'edge') return ((width + gap) * (depth + gap)) / (width * depth);
  return 1 + (gap / Math.sqrt(width * depth)) * Math.log(Math.max(1, (2 * window) / gap));
}

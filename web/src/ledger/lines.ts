import { verdictWord, type LeastMargin, type LedgerLine, type Verdict, type VerdictWord } from '@yundro/core';
import { stationOf, type Station } from '../stage/stations';

/** A verdict as a line of the ledger; in full where its drivers and the spread of its parts are worked. */
export interface Line {
  readonly verdict: Verdict | LedgerLine;
  /** The same with every part at its stated value: what the held design is compared with. */
  readonly stated: Verdict;
  readonly station: Station;
  /** How many sets of scattered parts keep it, in words, where they were scattered. */
  readonly kept?: string;
}

/** A target that is stated and that nothing judges as the stage stands. */
export interface Unjudged {
  readonly quantity: string;
  readonly reason: string;
  /** Where it could be made to be judged. */
  readonly station: Station;
}

/** The groups of the ledger, in their order. */
export interface Groups {
  readonly fails: readonly Line[];
  readonly unjudged: readonly Unjudged[];
  readonly tight: readonly Line[];
  readonly holds: readonly Line[];
}

/** Every state a line, a station or a corner can be in, the one that presses most first. */
export const MARKS = ['fails', 'not judged', 'tight', 'holds'] as const;
export type Mark = (typeof MARKS)[number];

/** Why a target is not judged, and where that can be mended, by its words in the evaluation. */
const REASONS: Readonly<Record<string, Omit<Unjudged, 'quantity'>>> = {
  'load step': {
    reason: 'it is simulated where a deviation or a recovery time is allowed, and the stage has a loop',
    station: 'transient',
  },
  'phase margin': { reason: 'the stage has no loop yet: let one be proposed', station: 'loop' },
  'gain margin': { reason: 'the stage has no loop yet: let one be proposed', station: 'loop' },
  'output voltage tolerance': { reason: 'reference and divider are not given', station: 'loop' },
};

export const unjudgedLine = (quantity: string): Unjudged => ({
  quantity,
  ...(REASONS[quantity] ?? { reason: 'nothing here decides it yet', station: 'targets' }),
});

export const lineOf = (stated: Verdict, full?: LedgerLine): Line => ({
  verdict: full ?? stated,
  stated,
  station: stationOf(stated.target),
});

const least = ({ verdict }: Line): number => verdict.margin ?? -Infinity;

/** Lines in groups, what presses most first, and in each the smallest margin first. */
export function groupsOf(lines: readonly Line[], unjudged: readonly Unjudged[]): Groups {
  const of = (word: VerdictWord): readonly Line[] =>
    lines.filter(({ verdict }) => verdictWord(verdict) === word).toSorted((a, b) => least(a) - least(b));
  return { fails: of('fails'), unjudged, tight: of('tight'), holds: of('holds') };
}

/** The lines of one station. */
export const ofStation = (groups: Groups, station: Station): Groups => ({
  fails: groups.fails.filter((one) => one.station === station),
  unjudged: groups.unjudged.filter((one) => one.station === station),
  tight: groups.tight.filter((one) => one.station === station),
  holds: groups.holds.filter((one) => one.station === station),
});

/** The mark of a set of lines: of the one that presses most; undefined where there is none. */
export function markOf({ fails, unjudged, tight, holds }: Groups): Mark | undefined {
  if (fails.length > 0) return 'fails';
  if (unjudged.length > 0) return 'not judged';
  if (tight.length > 0) return 'tight';
  return holds.length > 0 ? 'holds' : undefined;
}

/** The line that presses most: of those that fail, else of those that are tight, the one with the smallest margin. */
export const worstLine = ({ fails, tight, holds }: Groups): Line | undefined => fails[0] ?? tight[0] ?? holds[0];

/** The mark of a margin at a corner. */
export const markOfMargin = (margin: number | null): VerdictWord =>
  verdictWord({ margin, pass: margin !== null && margin >= 0 });

/** The smaller of what several sources find at one corner. */
export function smaller(a: LeastMargin | undefined, b: LeastMargin | undefined): LeastMargin | undefined {
  if (!a || !b) return a ?? b;
  return (b.margin ?? -Infinity) < (a.margin ?? -Infinity) ? b : a;
}

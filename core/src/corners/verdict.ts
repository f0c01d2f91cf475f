import { z } from 'zod';
import { NOT_WORKED } from '../quantity/engineering.js';
import type { Unit } from '../quantity/unit.js';

/** Below this margin a target that holds is called tight. */
export const TIGHT_MARGIN = 0.1;

const cornerSchema = z.strictObject({ inputVoltage: z.number(), outputCurrent: z.number(), temperature: z.number() });

/** A design value that a margin hangs on. */
const driverSchema = z.strictObject({
  path: z.string(),
  quantity: z.string(),
  unit: z.custom<Unit>((value) => typeof value === 'string'),
  value: z.number(),
  /** Change of the margin per relative change of the value: dm / (dv/v). */
  sensitivity: z.number(),
  /** The value at which the margin is zero, all else as it is; null where none is within a factor of ten. */
  zeroAt: z.number().nullable(),
});

/** The change of one value that mends a target and breaks no other. */
const remedySchema = z.strictObject({
  path: z.string(),
  from: z.number(),
  to: z.number(),
  /** What it does, in words. */
  effect: z.string(),
});
/** @public */
export type Remedy = z.infer<typeof remedySchema>;

/** One target against its worst corner. `worst` and `margin` are null where a corner has no operating point. @public */
export const verdictSchema = z.strictObject({
  target: z.string(),
  /** The quantity in words. */
  quantity: z.string(),
  unit: z.custom<Unit>((value) => typeof value === 'string'),
  sense: z.enum(['at-most', 'at-least']),
  required: z.number(),
  worst: z.number().nullable(),
  /** Share of the required value by which it holds; negative where it fails. */
  margin: z.number().nullable(),
  pass: z.boolean(),
  corner: cornerSchema,
  /** Key of the figure that was judged, for its working. */
  figure: z.string(),
  /** Why it fails, where the numbers alone do not say it. */
  reason: z.string().optional(),
  /** What else a designer should know of it, whether it holds or not. */
  note: z.string().optional(),
  /** In the full ledger: the worst figure and margin with every part at its stated value. */
  nominal: z.strictObject({ worst: z.number().nullable(), margin: z.number().nullable() }).optional(),
  /** In the full ledger: the values moved to the end of their spread, and why. */
  moved: z
    .array(z.strictObject({ path: z.string(), quantity: z.string(), factor: z.number(), because: z.string() }))
    .optional(),
  /** In the full ledger: the three strongest drivers of the margin. */
  drivers: z.array(driverSchema).optional(),
  /** Of a target that fails, in the whole ledger: what mends it. */
  remedies: z.array(remedySchema).optional(),
});
/** @public */
export type Verdict = z.infer<typeof verdictSchema>;

/** Margins beyond this share no longer inform: a part is so far off its limit that another decides. */
const TELLING = 1;

/** A margin as a share for reading: with a decimal where it is small, cut where it no longer informs. @public */
export function marginText(margin: number): string {
  if (!Number.isFinite(margin)) return NOT_WORKED;
  if (margin > TELLING) return 'over 100 %';
  if (margin < -TELLING) return 'under -100 %';
  return `${(100 * margin).toFixed(Math.abs(margin) < TIGHT_MARGIN ? 1 : 0)} %`;
}

/** @public */
export type VerdictWord = 'holds' | 'tight' | 'fails';

/** The word the ledger shows for a verdict. @public */
export function verdictWord({ pass, margin }: Pick<Verdict, 'pass' | 'margin'>): VerdictWord {
  if (!pass) return 'fails';
  return margin !== null && margin < TIGHT_MARGIN ? 'tight' : 'holds';
}

/** How many of each word a stage has: the summary on the shelf. @public */
export function verdictSummary(verdicts: readonly Verdict[]): Readonly<Record<VerdictWord, number>> {
  const summary = { holds: 0, tight: 0, fails: 0 };
  for (const verdict of verdicts) summary[verdictWord(verdict)] += 1;
  return summary;
}

/** Whether a verdict is of the steady state: of a figure of an operating point. */
export const isSteady = ({ figure }: Verdict): boolean => figure !== 'loop' && figure !== 'transient';

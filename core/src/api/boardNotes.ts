import { z } from 'zod';
import { INSULATORS, type Insulator } from '../layout/sharedHeatsink.js';
import { text } from '../stage/field.js';
import { placementSchema } from '../floorplan/placement.js';

const size = z.number().positive();
/** Names of loops, lines and parts. */
const key = text(500);
const loopGeometrySchema = z.strictObject({
  length: size,
  breadth: size,
  width: size,
  /** Height over a plane, m; undefined where there is none under the loop. */
  height: size.optional(),
});
/** A loop as it is laid out, m. @public */
export type LoopGeometry = z.infer<typeof loopGeometrySchema>;

const copperSchema = z.strictObject({ rise: size, foil: size, length: size });
/** What conductors are laid out for: a rise, K, the foil, m, and a length of them, m. @public */
export type Copper = z.infer<typeof copperSchema>;

const checkSchema = z.strictObject({ state: z.enum(['open', 'done', 'not for us']), note: text(2000) });
/** How a line of the checklist stands. @public */
export type Check = z.infer<typeof checkSchema>;

const noiseSchema = z.strictObject({
  network: z.enum(['mains', 'vehicle']),
  /** The limit line as it was typed. */
  limit: text(4000),
  /** dB */
  margin: z.number().min(0).max(60),
  /** Of dithering, each way, as a share. */
  deviation: z.number().min(0).max(0.3),
  /** F, across the terminals; absent where there is none. */
  terminal: size.optional(),
});
/** How conducted noise is measured and judged. @public */
export type NoiseNotes = z.infer<typeof noiseSchema>;

const planSchema = z.strictObject({
  placement: placementSchema,
  /** Height over a whole plane, m; absent where there is none. */
  plane: size.optional(),
});
/** The floor plan as the designer laid it; empty while the proposal stands. @public */
export type PlanNotes = z.infer<typeof planSchema>;

const heatsinkSchema = z.strictObject({
  /** K/W, to the air. */
  sink: size,
  insulator: z.enum(Object.keys(INSULATORS) as [Insulator, ...Insulator[]]),
  /** m², of a tab whose record does not say. */
  area: size,
});

const typedSchema = z.record(key, z.record(key, z.number()));

/** What a designer says about the board of a stage. @public */
export const boardNotesSchema = z.strictObject({
  /** By the devices of the loop. */
  geometry: z.record(key, loopGeometrySchema),
  copper: copperSchema,
  /** Values of parts around the controller, by part and field, SI. */
  values: typedSchema,
  /** Their tolerances: shares, or amounts where a tolerance is one. */
  tolerances: typedSchema,
  /** Values of parts around the controller that were put on the list of parts: they stay what they were chosen as. */
  taken: typedSchema.default({}),
  checks: z.record(key, checkSchema),
  noise: noiseSchema,
  heatsink: heatsinkSchema.default({ sink: 8, insulator: 'pad', area: 1e-4 }),
  plan: planSchema.default({ placement: {}, plane: 0.2e-3 }),
});
export type BoardNotes = z.infer<typeof boardNotesSchema>;

/** What is kept about the board of a stage; a revision of 0 where nothing is yet. */
export const boardRowSchema = z.strictObject({
  revision: z.int32().min(0),
  notes: boardNotesSchema.nullable(),
});
/** @public */
export type BoardRow = z.infer<typeof boardRowSchema>;

/** The notes of a board as a page has them, and whether something was typed that the server does not have yet. */
export const keptBoardSchema = boardRowSchema.extend({ notes: boardNotesSchema, unsaved: z.boolean() });
/** @public */
export type KeptBoard = z.infer<typeof keptBoardSchema>;

/** What a save of the board of a stage sends: the revision it began from. */
export const saveBoardSchema = z.strictObject({ revision: z.int32().min(0), notes: boardNotesSchema });

/**
 * Notes of one board from two windows as one: line by line, by their keys, the own where both have one. So nothing typed in either is lost but
 * for an older word on the same line.
 *
 * @public
 */
export function mergedBoard(stored: BoardNotes, own: BoardNotes): BoardNotes {
  const each = <T>(a: Readonly<Record<string, T>>, b: Readonly<Record<string, T>>): Record<string, T> => ({
    ...a,
    ...b,
  });
  return {
    ...stored,
    ...own,
    geometry: each(stored.geometry, own.geometry),
    values: each(stored.values, own.values),
    tolerances: each(stored.tolerances, own.tolerances),
    taken: each(stored.taken, own.taken),
    checks: each(stored.checks, own.checks),
    plan: Object.keys(own.plan.placement).length > 0 ? own.plan : stored.plan,
  };
}

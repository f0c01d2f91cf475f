import { z } from 'zod';
import { placementSchema } from '../floorplan/placement.js';

const size = z.number().positive();
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

const checkSchema = z.strictObject({ state: z.enum(['open', 'done', 'not for us']), note: z.string().max(2000) });
/** How a line of the checklist stands. @public */
export type Check = z.infer<typeof checkSchema>;

const noiseSchema = z.strictObject({
  network: z.enum(['mains', 'vehicle']),
  /** The limit line as it was typed. */
  limit: z.string().max(4000),
  /** dB */
  margin: z.number().min(0).max(60),
  /** Of dithering, each way, as a share. */
  deviation: z.number().min(0).max(0.3),
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

const typedSchema = z.record(z.string(), z.record(z.string(), z.number()));

/** What a designer says about the board of a stage. @public */
export const boardNotesSchema = z.strictObject({
  /** By the devices of the loop. */
  geometry: z.record(z.string(), loopGeometrySchema),
  copper: copperSchema,
  /** Values of parts around the controller, by part and field, SI. */
  values: typedSchema,
  /** Their tolerances: shares, or amounts where a tolerance is one. */
  tolerances: typedSchema,
  checks: z.record(z.string(), checkSchema),
  noise: noiseSchema,
  plan: planSchema.default({ placement: {}, plane: 0.2e-3 }),
});
export type BoardNotes = z.infer<typeof boardNotesSchema>;

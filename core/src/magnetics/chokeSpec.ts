import { z } from 'zod';
import type { PartOf } from '../library/libraryPart.js';
import type { WoundChoke } from './woundChoke.js';
import { woundCore } from './woundCore.js';

const metres = (max: number) => z.number().min(0).max(max);
const conductorSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('wire'), diameter: metres(0.02).min(1e-5), strands: z.int().min(1).max(100) }),
  z.strictObject({ kind: z.literal('litz'), diameter: metres(0.02).min(1e-5), strands: z.int().min(1).max(20_000) }),
  z.strictObject({ kind: z.literal('foil'), thickness: metres(0.02).min(1e-6) }),
  z.strictObject({ kind: z.literal('board'), thickness: metres(0.02).min(1e-6), perLayer: z.int().min(1).max(100) }),
]);

/** A choke by the name of its core: what is kept of it, and crosses from one thread to another. m. @public */
export const chokeSpecSchema = z.strictObject({
  core: z.string().max(120),
  /** Of a second core in the same winding. */
  beside: z.string().max(120).optional(),
  turns: z.int().min(1).max(1000),
  conductor: conductorSchema,
  gap: metres(0.05),
  gaps: z.union([z.literal(1), z.literal(2)]),
  fringing: z.enum(['logarithm', 'edge']),
  step: z.strictObject({ share: z.number().min(0.02).max(0.9), gap: metres(0.05) }).optional(),
});
/** @public */
export type ChokeSpec = z.infer<typeof chokeSpecSchema>;

/**
 * The choke of a specification.
 *
 * @returns a sentence where a core is not in the library, or states too little.
 * @public
 */
export function chokeOf(spec: ChokeSpec, cores: readonly PartOf<'core'>[]): WoundChoke | string {
  const called = (name: string) => {
    const record = cores.find((one) => one.name === name);
    return record ? woundCore(record) : `The library has no core ${name}: choose another.`;
  };
  const core = called(spec.core);
  if (typeof core === 'string') return core;
  const beside = spec.beside === undefined ? undefined : called(spec.beside);
  if (typeof beside === 'string') return beside;
  return { ...spec, core, beside };
}

/** What is kept of a choke. @public */
export const specOf = ({ core, beside, turns, conductor, gap, gaps, fringing, step }: WoundChoke): ChokeSpec => ({
  core: core.name,
  beside: beside?.name,
  turns,
  conductor,
  gap,
  gaps,
  fringing,
  step,
});

import { z } from 'zod';

/** How well a reading is known, as a data sheet says it. @public */
export const accuracySchema = z.strictObject({
  /** Limit of the error that goes with the reading, a ratio. */
  ofReading: z.number().min(0).max(0.2),
  /** Limit of the error that is always there, in the unit of the reading. */
  fixed: z.number().min(0).max(100),
  /** Step of the display, in the unit of the reading. */
  resolution: z.number().min(0).max(10),
});
/** @public */
export type Accuracy = z.infer<typeof accuracySchema>;

/** One independent part of the error of a reading. */
export interface ErrorPart {
  readonly kind: 'gain' | 'offset' | 'resolution';
  /** Half the width between its limits, in the unit of the reading. */
  readonly limit: number;
  /** Whether it is the same in every reading of this instrument. */
  readonly common: boolean;
}

/** The parts of the error of a reading: those of gain and offset are the same in all readings of an instrument, rounding is not. */
export const errorParts = ({ ofReading, fixed, resolution }: Accuracy, reading: number): readonly ErrorPart[] => [
  { kind: 'gain', limit: ofReading * Math.abs(reading), common: true },
  { kind: 'offset', limit: fixed, common: true },
  // The last digit wavers by one: common practice.
  { kind: 'resolution', limit: resolution, common: false },
];

/**
 * Standard uncertainty of a reading. Within stated limits ± a every value is taken as equally likely: u = a/√3.
 *
 * Source: JCGM 100:2008, 4.3.7.
 *
 * @public
 */
export const standardUncertainty = (accuracy: Accuracy, reading: number): number =>
  Math.sqrt(errorParts(accuracy, reading).reduce((sum, { limit }) => sum + (limit * limit) / 3, 0));

/** Least resistance of what conducts, ohm: the program divides by it. */
export const LEAST = 1e-6;

/** A value as SPICE reads it. */
export const number = (value: number): string => value.toExponential(9);

/** What a limit at its low end leaves above the highest peak, for a load step. Common practice. */
export const LIMIT_OVER_PEAK = 1.2;
/** Tolerance of a limit whose controller is not known: a middling one, so that it stands half above the peak. Common practice. */
export const TYPICAL_LIMIT_TOLERANCE = 0.2;

/**
 * The current limit of a phase, A, that still lets its highest peak pass when it is as low as its tolerance allows.
 *
 * @param peak highest current of the phase, A.
 * @param tolerance of the limit, as a share of it.
 */
export const currentLimitFor = (peak: number, tolerance = TYPICAL_LIMIT_TOLERANCE): number =>
  // I_lim (1 − tol) = 1.2 Î
  (LIMIT_OVER_PEAK * peak) / (1 - tolerance);

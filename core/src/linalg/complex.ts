/** A complex number. @public */
export interface Complex {
  readonly re: number;
  readonly im: number;
}

/** @public */
export const product = (a: Complex, b: Complex): Complex => ({
  re: a.re * b.re - a.im * b.im,
  im: a.re * b.im + a.im * b.re,
});

export const scaled = ({ re, im }: Complex, factor: number): Complex => ({ re: factor * re, im: factor * im });

/** @public */
export function ratio(a: Complex, b: Complex): Complex {
  const size = b.re * b.re + b.im * b.im;
  return { re: (a.re * b.re + a.im * b.im) / size, im: (a.im * b.re - a.re * b.im) / size };
}

/** @public */
export const magnitude = ({ re, im }: Complex): number => Math.hypot(re, im);

/** Angle in degrees, between −180 and 180. @public */
export const degreesOf = ({ re, im }: Complex): number => (Math.atan2(im, re) * 180) / Math.PI;

/** Magnitude in dB. @public */
export const decibels = ({ re, im }: Complex): number => 10 * Math.log10(re * re + im * im);

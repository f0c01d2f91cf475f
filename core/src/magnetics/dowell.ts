/**
 * Resistance to a sine over that to a steady current, of a winding of layers in a window:
 *
 *     F = φ (G₁ + ⅔ (m² − 1)(G₁ − 2 G₂))
 *     G₁ = (sinh 2φ + sin 2φ)/(cosh 2φ − cos 2φ),  G₂ = (sinh φ cos φ + cosh φ sin φ)/(cosh 2φ − cos 2φ)
 *
 * the field in one dimension, rising over the layers from nothing to that of the whole winding.
 * P. L. Dowell, Effects of Eddy Currents in Transformer Windings, Proc. IEE 1966, in the form of R. W. Erickson, D. Maksimović,
 * Fundamentals of Power Electronics, 2nd ed., section 13.4.
 *
 * @param phi thickness of a layer over the skin depth, with √ of how much of the breadth is copper.
 * @param layers at least one, whole or not (strands of a bundle make layers of their own).
 * @public
 */
export function dowellRatio(phi: number, layers: number): number {
  // Where a layer is thin both fractions are 0/0, and the ratio is 1 + (5 m² − 1)/45 φ⁴.
  if (phi < THIN) return 1 + ((5 * layers ** 2 - 1) / 45) * phi ** 4;
  // Where it is thick, all current flows in the skin: G₁ is 1 and G₂ nothing.
  if (phi > THICK) return phi * (1 + (2 / 3) * (layers ** 2 - 1));
  const below = Math.cosh(2 * phi) - Math.cos(2 * phi);
  const alone = (Math.sinh(2 * phi) + Math.sin(2 * phi)) / below;
  const across = (Math.sinh(phi) * Math.cos(phi) + Math.cosh(phi) * Math.sin(phi)) / below;
  return phi * (alone + (2 / 3) * (layers ** 2 - 1) * (alone - 2 * across));
}

/** Where the series is used: its next term is of φ⁸. */
const THIN = 0.05;
/** Beyond it the limit differs by less than a rounding error. */
const THICK = 40;

import type { PartOf } from '../libraryPart.js';
import { rounded } from './grade.js';

/** Generic cores to wind on. */
export function cores(): readonly PartOf<'core'>[] {
  const sizes = [5, 6, 8, 10, 13, 16, 20, 23, 27, 33, 40, 47, 58];
  const materials = [
    ['ferrite', 'FE', 60, 0.38],
    ['iron-powder', 'IP', 75, 1.2],
    ['alloy-powder', 'AP', 125, 1],
  ] as const;
  return materials.flatMap(([material, mark, relativePermeability, saturationFluxDensity]) =>
    sizes.map((size): PartOf<'core'> => ({
      name: `K${mark}${String(size).padStart(2, '0')}`,
      material,
      effectiveArea: rounded((size * 1e-3) ** 2 * 0.22),
      effectiveLength: rounded(size * 1e-3 * 2.4),
      relativePermeability,
      saturationFluxDensity,
    })),
  );
}

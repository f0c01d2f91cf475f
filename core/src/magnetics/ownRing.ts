import type { MaterialKey } from '../library/coreKinds.js';
import { ring } from '../library/generic/coreShapes.js';
import type { PartOf } from '../library/libraryPart.js';
import { MATERIALS } from './materials.js';
import { sixDigits } from '../quantity/sixDigits.js';

/** A ring as one has it in the hand. @public */
export interface OwnRing {
  readonly name: string;
  /** m, over all. */
  readonly outer: number;
  readonly inner: number;
  readonly height: number;
  readonly material: MaterialKey;
  readonly permeability: number;
}

/**
 * The record of a ring of one's own, by its measures (IEC 60205); saturation and loss are those of its material in general.
 *
 * @returns a sentence where the measures make no ring.
 * @public
 */
export function ownRing({ name, outer, inner, height, material, permeability }: OwnRing): PartOf<'core'> | string {
  if (!(inner > 0 && height > 0 && outer > inner * 1.05))
    return `An outer diameter of ${(1e3 * outer).toPrecision(3)} mm and an inner one of ${(1e3 * inner).toPrecision(3)} mm make no ring: measure both, the outer one is the larger.`;
  const geometry = ring(outer, inner, height);
  return {
    name,
    material,
    shape: 'toroid',
    effectiveArea: sixDigits(geometry.effectiveArea),
    effectiveLength: sixDigits(geometry.effectiveLength),
    relativePermeability: permeability,
    saturationFluxDensity: MATERIALS[material].saturation[0],
    windowBreadth: sixDigits(geometry.windowBreadth),
    windowDepth: sixDigits(geometry.windowDepth),
    turnLength: sixDigits(geometry.turnLength),
    legWidth: sixDigits(geometry.legWidth),
    legDepth: sixDigits(geometry.legDepth),
    length: sixDigits(outer),
    width: sixDigits(outer),
    height: sixDigits(height),
    notes: 'By its measures; saturation and loss of its material in general.',
  };
}

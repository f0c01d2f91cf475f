import type { CoreShape } from '../library/coreKinds.js';
import type { PartOf } from '../library/libraryPart.js';
import type { GapPlace } from './fringing.js';
import { MATERIALS, type CoreMaterial } from './materials.js';

/** A core that a choke can be wound on: a record of the library with all that takes. */
export interface WoundCore {
  readonly name: string;
  readonly shape: CoreShape;
  readonly round: boolean;
  readonly material: CoreMaterial;
  readonly permeability: number;
  /** T, as the record states it, at 25 °C. */
  readonly saturation: number;
  readonly area: number;
  readonly pathLength: number;
  readonly windowBreadth: number;
  readonly windowDepth: number;
  readonly turnLength: number;
  readonly leg: GapPlace;
  /** m, that stands in the flux path by the shape itself. */
  readonly airGap: number;
  /** m: of the body. */
  readonly outline: readonly [length: number, width: number, height: number];
  readonly price: number;
  /** What was filled from its class, as the record does not state it. */
  readonly filled: readonly string[];
}

/** Shapes whose middle leg is round. */
const ROUND: readonly CoreShape[] = ['pot', 'drum'];

/**
 * A record as a core to wind on; a sentence where it lacks what a winding needs. Loss comes of the material's class where the record
 * states none.
 *
 * @public
 */
export function woundCore(record: PartOf<'core'>): WoundCore | string {
  const { shape, windowBreadth, windowDepth, turnLength, length, width, height } = record;
  if (shape === undefined || windowBreadth === undefined || windowDepth === undefined || turnLength === undefined)
    return `The core ${record.name} states no shape, window or length of a turn: enter them in the library to wind on it.`;
  const side = Math.sqrt(record.effectiveArea);
  const material: CoreMaterial = MATERIALS[record.material];
  const filled: string[] = [];
  if (record.lossDensity === undefined) filled.push(`loss density of ${material.words} in general`);
  if (length === undefined || width === undefined || height === undefined)
    filled.push('size of the body, from its flux path');
  const across = record.effectiveLength / 2.5;
  return {
    name: record.name,
    shape,
    round: ROUND.includes(shape),
    material: record.lossDensity === undefined ? material : { ...material, lossDensity: record.lossDensity },
    permeability: record.relativePermeability,
    saturation: record.saturationFluxDensity,
    area: record.effectiveArea,
    pathLength: record.effectiveLength,
    windowBreadth,
    windowDepth,
    turnLength,
    leg: {
      width: record.legWidth ?? side,
      depth: record.legDepth ?? side,
      window: shape === 'toroid' ? (length ?? across) : windowBreadth,
    },
    airGap: record.airGap ?? 0,
    outline: [length ?? across, width ?? across, height ?? side],
    price: record.price ?? material.price * 1e3 * record.effectiveArea * record.effectiveLength,
    filled,
  };
}

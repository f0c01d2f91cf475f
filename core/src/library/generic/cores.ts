import type { CoreShape, MaterialKey } from '../coreKinds.js';
import type { PartOf } from '../libraryPart.js';
import { drum, legged, ring, type CoreGeometry } from './coreShapes.js';
import { gradeOf, rounded } from './grade.js';

const MM = 1e-3;

/** Rings, outer and inner diameter and height, mm: proportions of usual rings. Invented sizes. */
const RINGS: readonly (readonly [number, number, number])[] = [
  [8, 4.5, 3.2],
  [10, 5.5, 4],
  [13, 7.5, 5],
  [17, 10, 6.5],
  [20.5, 12.5, 6.5],
  [23, 14, 8],
  [27, 15, 11],
  [33, 20, 11],
  [40, 24, 14.5],
  [47, 24, 18],
  [57, 27, 15],
];
/** E pairs: width and depth of the middle leg, breadth and depth of the window, mm. */
const E_PAIRS: readonly (readonly [number, number, number, number])[] = [
  [3.6, 3.6, 7, 2.7],
  [4.7, 4.7, 11, 4],
  [5.8, 6, 14, 5],
  [7.3, 7.3, 17, 6],
  [9, 9, 20, 7],
  [12, 12, 26, 8.5],
  [14, 20, 30, 9.5],
];
/** Low pairs: broad legs in a low window. */
const LOW_PAIRS: readonly (readonly [number, number, number, number])[] = [
  [4, 6, 4.5, 3],
  [5, 9, 6, 4],
  [6.5, 13, 7.5, 5],
  [8, 18, 9, 6],
  [10, 25, 11, 7.5],
];
/** Pots: diameter of the middle leg, breadth and depth of the window, mm. */
const POTS: readonly (readonly [number, number, number])[] = [
  [4.6, 5.6, 2.2],
  [6, 7.2, 3.1],
  [7.6, 9.2, 4],
  [9.5, 11, 5],
  [11.5, 13, 6],
  [14.5, 16, 7.5],
];
/** Drums: outer diameter, diameter of the middle, breadth of the winding, flange, mm. */
const DRUMS: readonly (readonly [number, number, number, number])[] = [
  [6, 2.8, 3, 0.9],
  [8, 3.8, 4.5, 1.2],
  [10, 4.8, 6, 1.5],
  [13, 6.2, 8, 2],
  [16, 8, 10, 2.5],
];
/** Planar: width and depth of the middle leg, breadth and depth of the window, mm. */
const PLANAR: readonly (readonly [number, number, number, number])[] = [
  [4, 10, 3.5, 5],
  [5, 16, 4, 7],
  [7, 20, 5, 9],
  [9, 28, 6.5, 11],
];

interface Grade {
  readonly material: MaterialKey;
  readonly mark: string;
  readonly permeability: number;
  readonly saturation: number;
  /** Of a litre. */
  readonly price: number;
}

/** What they are pressed from: invented grades. */
const FERRITE: Grade = { material: 'ferrite', mark: 'FE', permeability: 2200, saturation: 0.48, price: 45 };
const FAST: Grade = { material: 'megahertz-ferrite', mark: 'FM', permeability: 900, saturation: 0.45, price: 70 };
const POWDERS: readonly Grade[] = [
  { material: 'iron-powder', mark: 'IP', permeability: 75, saturation: 1.3, price: 12 },
  { material: 'alloy-powder', mark: 'AL', permeability: 60, saturation: 1, price: 40 },
  { material: 'alloy-powder', mark: 'AP', permeability: 125, saturation: 1, price: 40 },
  { material: 'nickel-powder', mark: 'NP', permeability: 60, saturation: 1.5, price: 150 },
];

function core(
  shape: CoreShape,
  letter: string,
  size: number,
  { material, mark, permeability, saturation, price }: Grade,
  of: CoreGeometry & { readonly airGap?: number },
): PartOf<'core'> {
  const name = `K${letter}${mark}${String(Math.round(size)).padStart(2, '0')}`;
  const { price: dearer } = gradeOf(name);
  // m³ to litres; pressing and grinding cost by the piece.
  const litres = 1e3 * of.effectiveArea * of.effectiveLength;
  return {
    name,
    material,
    shape,
    effectiveArea: rounded(of.effectiveArea),
    effectiveLength: rounded(of.effectiveLength),
    relativePermeability: permeability,
    saturationFluxDensity: saturation,
    windowBreadth: rounded(of.windowBreadth),
    windowDepth: rounded(of.windowDepth),
    turnLength: rounded(of.turnLength),
    legWidth: rounded(of.legWidth),
    legDepth: rounded(of.legDepth),
    ...(of.airGap !== undefined && { airGap: rounded(of.airGap) }),
    price: rounded((0.08 + price * litres) * dearer),
    length: rounded(of.length),
    width: rounded(of.width),
    height: rounded(of.height),
  };
}

/** Generic cores to wind on. */
export function cores(): readonly PartOf<'core'>[] {
  const grades = [FERRITE, FAST];
  const pairs = (shape: CoreShape, letter: string, sizes: typeof E_PAIRS): readonly PartOf<'core'>[] =>
    sizes.flatMap(([w, d, breadth, depth]) =>
      grades.map((grade) =>
        core(shape, letter, w * 3, grade, legged([w * MM, d * MM], [breadth * MM, depth * MM], false)),
      ),
    );
  return [
    ...RINGS.flatMap(([outer, inner, height]) =>
      [FERRITE, ...POWDERS].map((grade) =>
        core('toroid', 'R', outer, grade, ring(outer * MM, inner * MM, height * MM)),
      ),
    ),
    ...pairs('e', 'E', E_PAIRS),
    ...pairs('low-profile-e', 'L', LOW_PAIRS),
    ...pairs('planar', 'P', PLANAR),
    ...POTS.flatMap(([leg, breadth, depth]) =>
      grades.map((grade) =>
        core('pot', 'T', leg * 2.4, grade, legged([leg * MM, leg * MM], [breadth * MM, depth * MM], true)),
      ),
    ),
    ...DRUMS.flatMap(([outer, middle, breadth, flange]) =>
      grades.map((grade) => core('drum', 'D', outer, grade, drum(outer * MM, middle * MM, breadth * MM, flange * MM))),
    ),
  ];
}

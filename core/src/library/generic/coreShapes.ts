/** What the flux and the winding go through, m and m². */
export interface CoreGeometry {
  readonly effectiveArea: number;
  readonly effectiveLength: number;
  /** Along which turns lie side by side: the inner circumference of a ring, the height of a window. */
  readonly windowBreadth: number;
  /** In which layers lie over each other, what a former or a shuttle takes taken off. */
  readonly windowDepth: number;
  /** Of the innermost turn. */
  readonly turnLength: number;
  /** Of the leg with the gap. */
  readonly legWidth: number;
  readonly legDepth: number;
  readonly length: number;
  readonly width: number;
  readonly height: number;
}

/** Of the inner diameter of a ring that is wound at most, either side: the shuttle passes through what is left. Common practice. */
const WOUND = 0.3;
/** m, of a coil former's wall, at each side of a window. */
const FORMER = 0.8e-3;
/** Area of a round leg taken as that of a square one. */
const ROUND = Math.sqrt(Math.PI) / 2;

/**
 * A ring of rectangular section: C₁ = 2π/(h ln(r₂/r₁)), C₂ = 2π (1/r₁ − 1/r₂)/(h² ln³(r₂/r₁)), A = C₁/C₂, l = C₁²/C₂ (IEC 60205, ring cores).
 */
export function ring(outer: number, inner: number, height: number): CoreGeometry {
  const [r1, r2] = [inner / 2, outer / 2];
  const log = Math.log(r2 / r1);
  const c1 = (2 * Math.PI) / (height * log);
  const c2 = (2 * Math.PI * (1 / r1 - 1 / r2)) / (height ** 2 * log ** 3);
  return {
    effectiveArea: c1 / c2,
    effectiveLength: c1 ** 2 / c2,
    windowBreadth: Math.PI * inner,
    windowDepth: WOUND * inner,
    turnLength: 2 * height + (outer - inner),
    legWidth: r2 - r1,
    legDepth: height,
    length: outer,
    width: outer,
    height,
  };
}

/**
 * A closed core with a middle leg in a window, put together of two halves; outer legs have half the area of the middle one, and so have
 * yokes.
 *
 * @param leg width and depth of the middle leg, m.
 * @param window breadth along the leg and depth across it, m, as they are in the core.
 * @param round whether the middle leg is round, its width the diameter.
 */
export function legged(
  [legWidth, legDepth]: readonly [number, number],
  [breadth, depth]: readonly [number, number],
  round: boolean,
): CoreGeometry {
  const area = round ? (Math.PI * legWidth ** 2) / 4 : legWidth * legDepth;
  const yoke = legWidth / 2;
  const length = legWidth + 2 * depth + 2 * yoke;
  const height = breadth + 2 * yoke;
  return {
    effectiveArea: area,
    // Middle and outer leg along the window, yokes across it from middle to middle.
    effectiveLength: 2 * breadth + 2 * depth + legWidth + yoke,
    windowBreadth: breadth - 2 * FORMER,
    windowDepth: depth - FORMER,
    turnLength: round ? Math.PI * (legWidth + 2 * FORMER) : 2 * (legWidth + legDepth + 4 * FORMER),
    legWidth: round ? ROUND * legWidth : legWidth,
    legDepth: round ? ROUND * legWidth : legDepth,
    length,
    width: round ? length : legDepth,
    height,
  };
}

/** Share of the flux path of a drum that lies in the air beside its winding. From memory. */
const AIR_PATH = 0.7;

/** A drum: its flux returns through the air, so that it has its gap beside it. */
export function drum(
  outer: number,
  middle: number,
  breadth: number,
  flange: number,
): CoreGeometry & { readonly airGap: number } {
  const depth = (outer - middle) / 2;
  return {
    effectiveArea: (Math.PI * middle ** 2) / 4,
    effectiveLength: 2 * (breadth + flange) + outer,
    windowBreadth: breadth,
    windowDepth: depth,
    turnLength: Math.PI * middle,
    legWidth: ROUND * middle,
    legDepth: ROUND * middle,
    length: outer,
    width: outer,
    height: breadth + 2 * flange,
    airGap: AIR_PATH * breadth,
  };
}

import { inductanceCurveOf, type InductanceCurve } from '../parts/inductanceCurve.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Fringing } from './fringing.js';
import { layOut, type LaidOut } from './layOut.js';
import { pathState, permeanceOf, type FluxPath } from './magneticPath.js';
import { laidDiameter, type Conductor } from './wires.js';
import type { WoundCore } from './woundCore.js';

/** A choke as it is to be wound. */
export interface WoundChoke {
  readonly core: WoundCore;
  /** A second core beside the first, in the same winding: a composite. */
  readonly beside?: WoundCore | undefined;
  readonly turns: number;
  readonly conductor: Conductor;
  /** m, in all that the flux of the middle leg crosses. */
  readonly gap: number;
  /** 1: the middle leg is ground; 2: a spacer lies under all legs, half the gap each. */
  readonly gaps: 1 | 2;
  readonly fringing: Fringing;
  /** A part of the leg's area whose gap is another one: an inductance that swings with the current. */
  readonly step?: { readonly share: number; readonly gap: number } | undefined;
}

/** A core with turns on it, whatever they will be of: for what hangs on the flux alone. */
export const coreAlone = (core: WoundCore, turns: number, fringing: Fringing, gap = 0): WoundChoke => ({
  core,
  turns,
  conductor: { kind: 'wire', diameter: 1e-4, strands: 1 },
  gap,
  gaps: 1,
  fringing,
});

/** What the flux goes through. */
export function fluxPaths({ core, beside, gap, gaps, fringing, step }: WoundChoke): readonly FluxPath[] {
  const path = (of: WoundCore, share: number, open: number): FluxPath => ({
    material: of.material,
    permeability: of.permeability,
    saturation: of.saturation,
    area: share * of.area,
    length: of.pathLength,
    gap: open + of.airGap,
    gaps,
    leg: { ...of.leg, width: share * of.leg.width },
    fringing,
  });
  const main = step ? [path(core, 1 - step.share, gap), path(core, step.share, step.gap)] : [path(core, 1, gap)];
  // A second ring is closed by itself.
  return beside ? [...main, path(beside, 1, 0)] : main;
}

/** The winding in its window, about both cores where there are two. */
export function windingOf({ core, beside, turns, conductor }: WoundChoke): LaidOut {
  const around = beside ? { ...core, turnLength: core.turnLength + 2 * beside.outline[2] } : core;
  return layOut(around, turns, conductor);
}

/** Points of a curve, and how far it goes beyond the current asked for. */
const POINTS = 28;
const BEYOND = 1.6;

/**
 * Incremental inductance against current, H and A: N² dΦ/dF of all paths, from no current to beyond the one given.
 *
 * @param temperature °C of the core.
 */
export function chokeTable(choke: WoundChoke, current: number, temperature: number): [number, number][] {
  const paths = fluxPaths(choke);
  return Array.from({ length: POINTS }, (_, k): [number, number] => {
    // Closer together where little current swings a choke.
    const at = BEYOND * current * (k / (POINTS - 1)) ** 1.5;
    return [at, choke.turns ** 2 * permeanceOf(paths, choke.turns * at, temperature)];
  });
}

/** The curve through a table of it. */
export function chokeCurve(table: [number, number][]): InductanceCurve {
  const found = inductanceCurveOf({ inductance: table[0]?.[1] ?? 0, resistance: 0, inductanceCurve: table });
  if (!found) throw new RangeError('A curve needs points.');
  return found;
}

/** Flux density in each path, T, at a current, A. */
export const densities = (choke: WoundChoke, current: number, temperature: number): readonly number[] =>
  fluxPaths(choke).map((path) => pathState(path, choke.turns * current, temperature).density);

/** m: what is looked for is finer than a spacer can be cut. */
const FINEST = 1e-7;
const HALVINGS = 60;

/**
 * The gap, m in all, with which turns on a core have an inductance at a current; undefined where even without a gap it has less, or the
 * current saturates it with any.
 */
export function gapFor(
  choke: WoundChoke,
  inductance: number,
  current: number,
  temperature: number,
): number | undefined {
  const with_ = (gap: number): number =>
    choke.turns ** 2 * permeanceOf(fluxPaths({ ...choke, gap }), choke.turns * current, temperature);
  // With the current, inductance first rises with the gap, as the core comes out of saturation, and then falls.
  let wide = Math.max(choke.core.leg.width, choke.core.leg.depth) / 2;
  if (with_(wide) > inductance) return undefined;
  if (current === 0 ? with_(0) < inductance : false) return undefined;
  // From the wide side down: the first gap at which there is as much.
  let narrow = wide;
  while (narrow > FINEST && with_(narrow) < inductance) narrow *= 0.8;
  if (narrow <= FINEST) return with_(0) >= inductance ? 0 : undefined;
  wide = narrow / 0.8;
  for (let k = 0; k < HALVINGS && wide - narrow > FINEST / 100; k += 1) {
    const middle = (narrow + wide) / 2;
    if (with_(middle) >= inductance) narrow = middle;
    else wide = middle;
  }
  return narrow;
}

/** Cooling area of a body, m²: all its faces, what is wound about a ring counted with it. */
export function surfaceOf(choke: WoundChoke, { build }: LaidOut): number {
  const { core, beside } = choke;
  const [length, width, height] = core.outline;
  if (core.shape !== 'toroid') return 2 * (length * width + length * height + width * height);
  const across = length + build;
  const high = height + (beside?.outline[2] ?? 0) + 2 * build;
  return Math.PI * across * high + (Math.PI / 2) * across ** 2;
}

/** Length, width and height over the winding, m. */
export function bodyOf(
  { core, beside, conductor }: WoundChoke,
  { build, layers }: LaidOut,
): readonly [number, number, number] {
  const [length, width, height] = core.outline;
  if (core.shape !== 'toroid') return [length, width, height];
  const round = conductor.kind === 'wire' || conductor.kind === 'litz' ? laidDiameter(conductor) : 0;
  // Outside, turns have more room and lie in fewer layers.
  const outside = Math.min(build, Math.ceil(layers / 2) * round);
  return [length + 2 * outside, width + 2 * outside, height + (beside?.outline[2] ?? 0) + 2 * build];
}

/** A gap in words, with the spacer that makes it. */
export function gapWords({ core, gap, gaps, step }: WoundChoke): string {
  if (core.airGap > 0) return `the shape’s own, about ${formatQuantity(core.airGap, 'm', 2)}`;
  if (gap <= 0 && !step) return 'none';
  const millimetres = `${(1e3 * gap).toFixed(2)} mm`;
  const main =
    gaps === 2
      ? `${millimetres} in all: a spacer of ${(500 * gap).toFixed(2)} mm under all legs, as the flux crosses it twice`
      : `${millimetres} ground into the middle leg`;
  return step ? `${main}; over ${(100 * step.share).toFixed(0)} % of the leg ${(1e3 * step.gap).toFixed(2)} mm` : main;
}

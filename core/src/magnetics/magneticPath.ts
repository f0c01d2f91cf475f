import { MU_0 } from './copper.js';
import { fringingFactor, type Fringing, type GapPlace } from './fringing.js';
import { saturationAt, type CoreMaterial } from './materials.js';

/** A way the flux can take beside others: a stretch of core, and a gap in series with it. */
export interface FluxPath {
  readonly material: CoreMaterial;
  readonly permeability: number;
  /** T at 25 °C. */
  readonly saturation: number;
  /** m², m */
  readonly area: number;
  readonly length: number;
  /** m, in all, and how many it is made of. */
  readonly gap: number;
  readonly gaps: number;
  readonly leg: GapPlace;
  readonly fringing: Fringing;
}

/** How sharply ferrite gives way: the exponent of B = B_s x/(1 + xᵖ)^(1/p). From memory of usual curves. */
const KNEE = 5;

/** Magnetisation without hysteresis: flux density, T, and its slope, H/m, at a field, A/m. */
function magnetisation({ material, permeability, saturation }: FluxPath, temperature: number) {
  const { rollOff } = material;
  if (rollOff) {
    // μ(H) = μ₀ μᵢ/(1 + (H/H½)^c), H½ = K/μᵢ: the form in which data of powders have it. Below what air has it does not fall.
    const half = rollOff.field / permeability;
    const slope = (field: number): number =>
      MU_0 * Math.max(1, permeability / (1 + (Math.abs(field) / half) ** rollOff.exponent));
    return { slope, density: (field: number): number => integral(slope, field) };
  }
  // B = μ₀ H + B_s x/(1 + xᵖ)^(1/p), x = μ₀ (μᵢ − 1) H/B_s
  const limit = (saturation * saturationAt(material, temperature)) / material.saturation[0];
  const initial = MU_0 * (permeability - 1);
  return {
    slope: (field: number): number => {
      const x = Math.abs((initial * field) / limit);
      return MU_0 + initial * (1 + x ** KNEE) ** (-1 - 1 / KNEE);
    },
    density: (field: number): number => {
      const x = Math.abs((initial * field) / limit);
      return MU_0 * field + Math.sign(field) * limit * x * (1 + x ** KNEE) ** (-1 / KNEE);
    },
  };
}

const PARTS = 32;
/** ∫ from nothing by Simpson's rule. */
function integral(of: (x: number) => number, to: number): number {
  const step = to / PARTS;
  let sum = 0;
  for (let k = 0; k <= PARTS; k += 1) sum += (k === 0 || k === PARTS ? 1 : k % 2 === 1 ? 4 : 2) * of(k * step);
  return (sum * step) / 3;
}

/** Length over permeability of the gaps of a path, m: what field they take for a flux density. */
export function gapLength({ gap, gaps, leg, fringing }: FluxPath): number {
  if (gap <= 0) return 0;
  return gap / fringingFactor(fringing, gap / gaps, leg);
}

/** What a path carries at an excitation. */
export interface PathState {
  /** T */
  readonly density: number;
  /** A/m in the core. */
  readonly field: number;
  /** Incremental permeance, H. */
  readonly permeance: number;
}

const ROUNDS = 60;
const NEAR = 1e-10;

/** The field in a path, A/m, by which ampere-turns are used up: F = H l + B g/μ₀. */
function fieldIn(path: FluxPath, excitation: number, temperature: number) {
  const { slope, density } = magnetisation(path, temperature);
  const gap = gapLength(path) / MU_0;
  const whole = Math.abs(excitation);
  let field = whole / path.length;
  if (gap > 0) {
    // Rising in the field, and above the root at the upper end: Newton within a bracket.
    let [low, high] = [0, field];
    field = whole / (path.length + slope(0) * gap);
    for (let k = 0; k < ROUNDS; k += 1) {
      const off = field * path.length + density(field) * gap - whole;
      if (off > 0) high = field;
      else low = field;
      const next = field - off / (path.length + slope(field) * gap);
      const stays = next > low && next < high ? next : (low + high) / 2;
      const moved = Math.abs(stays - field);
      field = stays;
      if (moved <= NEAR * stays) break;
    }
  }
  return { slope, density, gap, field: Math.sign(excitation) * field };
}

/**
 * A path under ampere-turns: F = H l + B g/μ₀, its permeance dΦ/dF = A/(l/μ(H) + g/μ₀) (Ampère's law, B continuous through the gap).
 *
 * @param excitation A
 * @param temperature °C of the core.
 */
export function pathState(path: FluxPath, excitation: number, temperature: number): PathState {
  const { slope, density, gap, field } = fieldIn(path, excitation, temperature);
  return {
    density: density(field),
    field,
    permeance: path.area / (path.length / slope(field) + gap),
  };
}

/** Incremental permeance of paths beside each other, H. */
export function permeanceOf(paths: readonly FluxPath[], excitation: number, temperature: number): number {
  return paths.reduce((sum, path) => {
    const { field, slope } = fieldIn(path, excitation, temperature);
    return sum + path.area / (path.length / slope(field) + gapLength(path) / MU_0);
  }, 0);
}

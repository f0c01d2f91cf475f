import type { WoundCore } from './woundCore.js';
import { windingOhms } from './chokeForms.js';
import { COPPER_DENSITY, resistivityAt, skinDepth } from './copper.js';
import { dowellRatio } from './dowell.js';
import { laidDiameter, type Conductor } from './wires.js';

/** How turns lie in their window. @public */
export interface LaidOut {
  /** Why they cannot, in a sentence; undefined where they do. */
  readonly tooMuch: string | undefined;
  readonly layers: number;
  /** Conductors in the fullest layer, side by side. */
  readonly side: number;
  /** m, of all layers over each other. */
  readonly build: number;
  /** m, of the copper of one turn path. */
  readonly wireLength: number;
  /** m², of the copper of a turn. */
  readonly copperArea: number;
  /** Copper over the window of the core. */
  readonly fill: number;
  /** kg */
  readonly mass: number;
}

/** Insulation between foils and between layers of a board, m. Common practice. */
const FOIL_GAP = 0.05e-3;
const BOARD_GAP = 0.2e-3;
/** Of a board's breadth, that is copper between its edges and traces. Common practice. */
const BOARD_COPPER = 0.8;

/** Conductors of round section, layer by layer: in a ring each further layer inside is shorter. */
function layersOf(core: WoundCore, count: number, diameter: number) {
  let left = count;
  let layers = 0;
  let side = 0;
  while (left > 0) {
    const room =
      core.shape === 'toroid' ? core.windowBreadth - Math.PI * (2 * layers + 1) * diameter : core.windowBreadth;
    const fits = Math.floor(room / diameter);
    if (fits < 1) return undefined;
    side = Math.max(side, Math.min(fits, left));
    left -= fits;
    layers += 1;
  }
  return { layers, side };
}

/** How turns of a conductor lie in the window of a core. */
export function layOut(core: WoundCore, turns: number, conductor: Conductor): LaidOut {
  const { windowBreadth: breadth, windowDepth: depth } = core;
  // What is wound inside a ring is an annulus.
  const window = core.shape === 'toroid' ? depth * (breadth - Math.PI * depth) : breadth * depth;
  const made = (layers: number, side: number, build: number, copperArea: number): LaidOut => {
    // Each layer goes round those under it; about a ring the outside has room, half of a layer's thickness counts there.
    const around = core.shape === 'toroid' ? 4 : core.round ? Math.PI : 4;
    const wireLength = turns * (core.turnLength + around * build);
    return {
      tooMuch:
        build > depth
          ? `Its layers come to ${(1e3 * build).toFixed(1)} mm and the window takes ${(1e3 * depth).toFixed(1)} mm.`
          : undefined,
      layers,
      side,
      build,
      wireLength,
      copperArea,
      fill: (turns * copperArea) / window,
      mass: COPPER_DENSITY * copperArea * wireLength,
    };
  };
  if (conductor.kind === 'foil' || conductor.kind === 'board') {
    const perLayer = conductor.kind === 'board' ? conductor.perLayer : 1;
    const layers = Math.ceil(turns / perLayer);
    const gap = conductor.kind === 'board' ? BOARD_GAP : FOIL_GAP;
    const copper = conductor.kind === 'board' ? BOARD_COPPER : 1;
    if (core.shape === 'toroid') {
      const none = made(layers, perLayer, 0, conductor.thickness * breadth);
      return { ...none, tooMuch: 'A ring cannot be wound with foil or from a board.' };
    }
    return made(
      layers,
      perLayer,
      layers * (conductor.thickness + gap),
      (conductor.thickness * breadth * copper) / perLayer,
    );
  }
  const diameter = laidDiameter(conductor);
  const bundles = conductor.kind === 'wire' ? turns * conductor.strands : turns;
  const area = (conductor.strands * Math.PI * conductor.diameter ** 2) / 4;
  const found = layersOf(core, bundles, diameter);
  if (!found) {
    const all = made(bundles, 1, depth, area);
    return {
      ...all,
      tooMuch: `${String(bundles)} conductors of ${(1e3 * diameter).toFixed(2)} mm find no room in it.`,
    };
  }
  return made(found.layers, found.side, found.layers * diameter, area);
}

/** Resistance of the winding to a steady current, Ω, at a temperature, °C. */
export const windingResistance = ({ wireLength, copperArea }: LaidOut, temperature: number): number =>
  windingOhms.compute({ resistivity: resistivityAt(temperature), length: wireLength, area: copperArea });

/**
 * Resistance to a sine over that to a steady current: the layers of the winding after Dowell. Round wire counts as a foil of the same
 * copper, h = √(π/4) d, and of the breadth only what is copper, η; a bundle of n strands is √n times as many layers of single strands.
 * (Equivalences: P. L. Dowell 1966, and for bundles C. R. Sullivan, Optimal Choice for Number of Strands in a Litz-Wire Transformer Winding,
 * IEEE Trans. Power Electronics 1999, from memory.)
 */
export function windingRatio(
  core: WoundCore,
  conductor: Conductor,
  { layers, side }: LaidOut,
  frequency: number,
  temperature: number,
): number {
  const depth = skinDepth(frequency, temperature);
  if (conductor.kind === 'foil') return dowellRatio(conductor.thickness / depth, layers);
  if (conductor.kind === 'board') return dowellRatio((Math.sqrt(BOARD_COPPER) * conductor.thickness) / depth, layers);
  const strands = conductor.kind === 'litz' ? Math.sqrt(conductor.strands) : 1;
  // The square with a round conductor's copper, side by side over the breadth.
  const height = (Math.sqrt(Math.PI) / 2) * conductor.diameter;
  const breadth =
    core.shape === 'toroid'
      ? Math.max(core.windowBreadth - Math.PI * conductor.diameter, side * height)
      : core.windowBreadth;
  const porosity = Math.min(1, (side * strands * height) / breadth);
  return dowellRatio((Math.sqrt(porosity) * height) / depth, layers * strands);
}

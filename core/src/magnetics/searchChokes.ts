import type { PartOf } from '../library/libraryPart.js';
import { hardestCorners } from './chokeDemand.js';
import { surfaceRise } from './chokeForms.js';
import { MU_0 } from './copper.js';
import { magneticAt, workChoke, type ChokeDemand, type WorkedChoke } from './figures.js';
import type { Fringing } from './fringing.js';
import { CHOKE_RULES, chokeCautions, chokeFaults, chokePrice, chokeVolume, type ChokeRules } from './judgeChoke.js';
import { layOut, windingRatio, windingResistance } from './layOut.js';
import { permeanceOf } from './magneticPath.js';
import { saturationAt } from './materials.js';
import { chokeCurve, chokeTable, coreAlone, fluxPaths, gapFor, surfaceOf, type WoundChoke } from './woundChoke.js';
import { METRIC_DIAMETERS, type Conductor } from './wires.js';
import { woundCore, type WoundCore } from './woundCore.js';

/** A choke that holds, worked. @public */
export interface ChokeDesign {
  readonly choke: WoundChoke;
  readonly worked: WorkedChoke;
  /** W at its worst corner, m³ and the currency of the library. */
  readonly loss: number;
  readonly volume: number;
  readonly price: number;
  readonly cautions: readonly string[];
  /** What speaks for it. */
  readonly best: readonly ('loss' | 'volume' | 'price')[];
}

/** What a search found. @public */
export interface ChokeSearch {
  /** That no other found beats in loss, volume and price at once, the least product of loss and volume first. */
  readonly designs: readonly ChokeDesign[];
  /** Windings that were looked at, and that held. */
  readonly tried: number;
  readonly held: number;
  /** Cores on which nothing holds, by what stood in the way. */
  readonly passedOver: readonly { readonly why: string; readonly cores: readonly string[] }[];
}

/** °C at which candidates are compared; those taken are worked at the temperature they settle at. */
const WARM = 90;
/** A/m² and share of the window by which a core is large enough to be looked at. Common practice. */
const DENSITY = 8e6;
const FILL = 0.45;
/** How far below and above that a core may lie. */
const LEAST_SIZE = 0.3;
const MOST_SIZE = 10;
/** Designs worked in full. */
const WORKED = 36;
const MOST_TURNS = 250;
/** m, of strands of a bundle. */
const LITZ_STRAND = 0.1e-3;
const FOILS = [0.05e-3, 0.1e-3, 0.2e-3, 0.3e-3, 0.5e-3, 0.8e-3];
/** Wires side by side that are still wound by hand. */
const STRANDS = [1, 2, 3, 4, 6, 8];
const LITZ = [20, 40, 75, 150, 300, 600];
/** m: as thin as paper for a spacer is, and how wide a gap may be beside its leg. */
const THINNEST = 0.03e-3;
const WIDEST = 0.25;

/** Turns worth looking at on a core, with the gap each needs. */
function windingsOn(
  core: WoundCore,
  demand: ChokeDemand,
  fringing: Fringing,
): readonly Pick<WoundChoke, 'turns' | 'gap'>[] | string {
  const { inductance, full, limit } = demand;
  const inductanceOf = (turns: number): number =>
    turns ** 2 * permeanceOf(fluxPaths(coreAlone(core, turns, fringing)), turns * full, WARM);
  if (core.material.kind === 'powder' || core.airGap > 0) {
    const least = Math.ceil(Math.sqrt((inductance * core.pathLength) / (MU_0 * core.permeability * core.area)) || 1);
    for (let turns = core.airGap > 0 ? 1 : least; turns <= MOST_TURNS; turns += Math.max(1, Math.floor(turns / 25)))
      if (inductanceOf(turns) >= inductance)
        return [...new Set([turns, Math.ceil(turns * 1.15)])].map((one) => ({ turns: one, gap: 0 }));
    return 'with no number of turns it has the inductance at full load';
  }
  if (core.shape === 'toroid') return 'a ferrite ring without a gap saturates';
  // N A B ≥ L I: the flux at the limit within what the material bears, a little kept.
  const bears = 0.92 * saturationAt(core.material, 110);
  const least = Math.max(1, Math.ceil((inductance * limit) / (bears * core.area)));
  const turns = [...new Set([1, 1.12, 1.3, 1.6].map((by) => Math.ceil(by * least)))].filter((n) => n <= MOST_TURNS);
  const widest = WIDEST * Math.min(core.leg.width, core.leg.depth);
  const found = turns.flatMap((n) => {
    const gap = gapFor(coreAlone(core, n, fringing), inductance, full, WARM);
    return gap !== undefined && gap >= THINNEST && gap <= widest ? [{ turns: n, gap }] : [];
  });
  return found.length > 0
    ? found
    : 'its gap would be wider than a quarter of its leg, or it has too few turns to hold the limit';
}

/** Conductors that fill a window without overfilling it, of every make. */
function conductorsIn(core: WoundCore, turns: number): readonly Conductor[] {
  const thickest = <T extends Conductor>(all: readonly T[]): readonly T[] => {
    const fits = all.filter((one) => layOut(core, turns, one).tooMuch === undefined);
    // The thickest, and a thinner one: it loses less where eddy currents count.
    return [...new Set([fits.at(-1), fits.at(-4)])].filter((one) => one !== undefined);
  };
  const wires = STRANDS.flatMap((strands) =>
    thickest(METRIC_DIAMETERS.map((diameter) => ({ kind: 'wire' as const, diameter, strands }))),
  );
  const litz = thickest(LITZ.map((strands) => ({ kind: 'litz' as const, diameter: LITZ_STRAND, strands })));
  const foils =
    core.shape === 'toroid' || core.shape === 'drum'
      ? []
      : thickest(FOILS.map((thickness) => ({ kind: 'foil' as const, thickness })));
  const boards =
    core.shape === 'planar'
      ? [1, 2, 3].flatMap((perLayer) =>
          thickest([35e-6, 70e-6, 105e-6].map((thickness) => ({ kind: 'board' as const, thickness, perLayer }))),
        )
      : [];
  return [...wires, ...litz, ...foils, ...boards];
}

/** A candidate as it is compared, at one temperature. */
interface Rough {
  readonly choke: WoundChoke;
  readonly loss: number;
}

/**
 * Chokes that hold what a stage asks, over cores, turns, gaps and conductors: no other found has less loss, less volume and a lower
 * price at once.
 *
 * @param tell is told the share that is done.
 * @public
 */
export function searchChokes(
  demand: ChokeDemand,
  cores: readonly PartOf<'core'>[],
  { rules = CHOKE_RULES, fringing = 'edge' }: { readonly rules?: ChokeRules; readonly fringing?: Fringing } = {},
  tell: (share: number) => void = () => undefined,
): ChokeSearch {
  const hard = hardestCorners(demand);
  const passed = new Map<string, string[]>();
  const pass = (why: string, core: string): void => {
    passed.set(why, [...(passed.get(why) ?? []), core]);
  };
  const rough: Rough[] = [];
  let tried = 0;
  // Window times area, m⁴: what the limit and the rms at a usual density ask for (area product; McLyman, from memory).
  const rms = Math.max(...hard.corners.map(({ average }) => average));
  cores.forEach((record, k) => {
    tell((0.6 * k) / cores.length);
    const core = woundCore(record);
    if (typeof core === 'string') {
      pass('states too little to be wound on', record.name);
      return;
    }
    const bears = saturationAt(core.material, 110) * (core.material.kind === 'powder' ? 0.6 : 0.9);
    const needed = (demand.inductance * demand.limit * rms) / (bears * DENSITY * FILL);
    const has = core.area * core.windowBreadth * core.windowDepth;
    const size =
      has < LEAST_SIZE * needed ? 'too small' : has > MOST_SIZE * needed ? 'far larger than is needed' : undefined;
    const windings = size ?? windingsOn(core, demand, fringing);
    if (typeof windings === 'string') {
      pass(windings, core.name);
      return;
    }
    let best: string | undefined = 'no conductor finds room or stays cool enough in it';
    for (const { turns, gap } of windings) {
      const bare = coreAlone(core, turns, fringing, gap);
      // What the flux does has nothing to do with the copper.
      const curve = chokeCurve(chokeTable(bare, demand.limit, WARM));
      const magnetic = hard.corners.map((corner) => magneticAt(bare, curve, corner, WARM));
      for (const conductor of conductorsIn(core, turns)) {
        tried += 1;
        const choke = { ...bare, conductor };
        const laid = layOut(core, turns, conductor);
        const resistance = windingResistance(laid, WARM);
        const losses = magnetic.map((corner, c) => {
          const { harmonics: all = [], swing = 1, average = 0 } = hard.corners[c] ?? {};
          const share = corner.ripple / swing;
          const copper = all.reduce(
            (sum, { frequency, amplitude }) =>
              sum + ((amplitude * share) ** 2 / 2) * windingRatio(core, conductor, laid, frequency, WARM),
            average ** 2,
          );
          return corner.core + resistance * copper;
        });
        const loss = Math.max(...losses);
        // A little is let through here: it is judged again at its own temperature.
        if (surfaceRise.compute({ loss, surface: surfaceOf(choke, laid) }) > 1.15 * rules.rise) continue;
        best = undefined;
        rough.push({ choke, loss });
      }
    }
    if (best !== undefined) pass(best, core.name);
  });
  // Compared at the hardest corners; what is named holds at every one.
  const designs = workedDesigns(rough, hard, rules, tell);
  const kept = designs
    .filter((one) => !designs.some((other) => beats(other, one)))
    .map((one) => designed(one.choke, demand))
    .filter(({ choke, worked }) => chokeFaults(choke, worked, demand, rules).length === 0);
  return {
    designs: marked(kept),
    tried,
    held: designs.length,
    passedOver: [...passed].map(([why, names]) => ({ why, cores: names })),
  };
}

const AIMS = ['loss', 'volume', 'price'] as const;
const beats = (a: ChokeDesign, b: ChokeDesign): boolean =>
  a !== b && AIMS.every((aim) => a[aim] <= b[aim]) && AIMS.some((aim) => a[aim] < b[aim]);

/** The best of each core by loss, of those the best of all by each aim, worked in full. */
function workedDesigns(
  rough: readonly Rough[],
  demand: ChokeDemand,
  rules: ChokeRules,
  tell: (share: number) => void,
): readonly ChokeDesign[] {
  const byCore = new Map<string, Rough[]>();
  for (const one of rough) byCore.set(one.choke.core.name, [...(byCore.get(one.choke.core.name) ?? []), one]);
  const perCore = [...byCore.values()].flatMap((all) => all.sort((a, b) => a.loss - b.loss).slice(0, 2));
  const body = ({ choke }: Rough): number => choke.core.outline.reduce((a, b) => a * b, 1);
  const first = (order: (a: Rough, b: Rough) => number): readonly Rough[] =>
    [...perCore].sort(order).slice(0, WORKED / 3);
  const chosen = [
    ...new Set([
      ...first((a, b) => a.loss - b.loss),
      ...first((a, b) => body(a) - body(b)),
      ...first((a, b) => a.choke.core.price - b.choke.core.price),
    ]),
  ];
  return chosen.flatMap(({ choke }, k): ChokeDesign[] => {
    tell(0.6 + (0.4 * k) / chosen.length);
    const one = designed(choke, demand);
    return chokeFaults(choke, one.worked, demand, rules).length > 0 ? [] : [one];
  });
}

/** A choke worked, with what it is compared by. */
function designed(choke: WoundChoke, demand: ChokeDemand): ChokeDesign {
  const worked = workChoke(choke, demand);
  const { copper, alternating, core } = worked.worst;
  return {
    choke,
    worked,
    loss: copper + alternating + core,
    volume: chokeVolume(choke, worked),
    price: chokePrice(choke, worked),
    cautions: chokeCautions(choke, worked),
    best: [],
  };
}

/** The least of each aim marked; first what has little loss for its size: the product of both, as what is halved in one may double the other. */
function marked(designs: readonly ChokeDesign[]): readonly ChokeDesign[] {
  return designs
    .map((one) => ({ ...one, best: AIMS.filter((aim) => designs.every((other) => one[aim] <= other[aim])) }))
    .sort((a, b) => a.loss * a.volume - b.loss * b.volume);
}

import { formatQuantity } from '../quantity/engineering.js';
import type { ChokeDemand } from './figures.js';
import { MATERIALS, saturationAt } from './materials.js';
import { searchChokes, type ChokeDesign } from './searchChokes.js';
import { chokeCurve, chokeTable, coreAlone, densities } from './woundChoke.js';
import type { PartOf } from '../library/libraryPart.js';
import { woundCore } from './woundCore.js';

/** One way of holding the energy of a choke, with its inductance against current. @public */
export interface MaterialChoice {
  readonly words: string;
  readonly design: ChokeDesign | undefined;
  /** A and H. */
  readonly table: readonly (readonly [number, number])[];
  readonly says: string;
}

/** Powder beside gapped ferrite, and what a ferrite ring without a gap would do. @public */
export interface MaterialComparison {
  readonly powder: MaterialChoice;
  readonly ferrite: MaterialChoice;
  readonly ring: MaterialChoice;
  /** What all were asked. */
  readonly demand: Pick<ChokeDemand, 'inductance' | 'full' | 'limit'>;
}

/**
 * The same choke of a powder and of a gapped ferrite, each the least loss found within twice the volume of the smallest, and on a ferrite
 * ring of like size with the turns its permeability asks for: which is saturated long before the current is reached.
 *
 * @param tell is told the share that is done.
 * @public
 */
export function materialComparison(
  demand: ChokeDemand,
  cores: readonly PartOf<'core'>[],
  tell: (share: number) => void = () => undefined,
): MaterialComparison {
  const of = (kind: 'powder' | 'ferrite', from: number): ChokeDesign | undefined => {
    const all = searchChokes(
      demand,
      cores.filter(({ material }) => MATERIALS[material].kind === kind),
      {},
      (share) => tell(from + share / 2),
    ).designs;
    const smallest = Math.min(...all.map(({ volume }) => volume));
    return all
      .filter(({ volume }) => volume <= 2 * smallest)
      .reduce<ChokeDesign | undefined>((a, b) => (a && a.loss <= b.loss ? a : b), undefined);
  };
  const [powder, ferrite] = [of('powder', 0), of('ferrite', 0.5)];
  const table = (found: ChokeDesign | undefined): MaterialChoice['table'] => found?.worked.table ?? [];
  const volume = powder?.volume ?? ferrite?.volume ?? 0;
  const says = (found: ChokeDesign | undefined, what: string): string => {
    if (!found) return `No ${what} of the library holds what is asked.`;
    const [none, full, limit] = found.worked.inductance;
    return `${h(none)} without current, ${h(full)} at full load, ${h(limit)} at the limit of ${formatQuantity(demand.limit, 'A', 3)}.`;
  };
  return {
    powder: {
      words: 'powder',
      design: powder,
      table: table(powder),
      says: `${says(powder, 'powder')} Its gap is spread between the grains: inductance gives way slowly, nothing bulges out, and the core loses more.`,
    },
    ferrite: {
      words: 'ferrite with a gap',
      design: ferrite,
      table: table(ferrite),
      says: `${says(ferrite, 'gapped ferrite')} Nearly all of the energy stands in the gap: inductance holds, then goes at once; the core loses little, and more as it cools.`,
    },
    ring: ringWithout(demand, cores, volume),
    demand: { inductance: demand.inductance, full: demand.full, limit: demand.limit },
  };
}

const h = (value: number): string => formatQuantity(value, 'H', 3);

/** °C at which the ring is looked at. */
const WARM = 60;

/** A ferrite ring of like size without a gap, with the turns that make the inductance without current. */
function ringWithout(demand: ChokeDemand, cores: readonly PartOf<'core'>[], volume: number): MaterialChoice {
  const rings = cores.flatMap((record) => {
    const core = record.shape === 'toroid' && record.material === 'ferrite' ? woundCore(record) : undefined;
    return core === undefined || typeof core === 'string' ? [] : [core];
  });
  const size = ([l, w, h]: readonly [number, number, number]): number => l * w * h;
  const core = rings.sort(
    (a, b) => Math.abs(Math.log(size(a.outline) / volume)) - Math.abs(Math.log(size(b.outline) / volume)),
  )[0];
  const words = 'ferrite ring without a gap';
  if (!core) return { words, design: undefined, table: [], says: 'The library has no ferrite ring.' };
  const [[, single] = [0, 1]] = chokeTable(coreAlone(core, 1, 'edge'), 1, WARM);
  const turns = Math.max(1, Math.round(Math.sqrt(demand.inductance / single)));
  const choke = coreAlone(core, turns, 'edge');
  const table = chokeTable(choke, demand.limit, WARM);
  const curve = chokeCurve(table);
  const [none, full] = [curve.inductance(0), curve.inductance(demand.full)];
  const [density = 0] = densities(choke, demand.limit, WARM);
  const left = full / demand.inductance;
  return {
    words,
    design: undefined,
    table,
    says: `${String(turns)} turn${turns === 1 ? '' : 's'} on ${core.name} would have ${h(none)} without current. At ${formatQuantity(demand.full, 'A', 3)} ${left < 0.5 ? `it is saturated: ${h(full)} are left` : `${h(full)} are left`}, with ${density.toFixed(2)} T of the ${saturationAt(core.material, WARM).toFixed(2)} T that it bears at the limit. A ring of ferrite holds next to no energy; a gap would have to be sawn.`,
  };
}

import { formatQuantity } from '../quantity/engineering.js';
import type { ChokeDemand, WorkedChoke } from './figures.js';
import { FRINGING_WORDS } from './fringing.js';
import { bodyOf, type WoundChoke } from './woundChoke.js';
import { conductorWords, type Conductor } from './wires.js';

/** What is held of a choke. */
export interface ChokeRules {
  /** K over its surroundings. */
  readonly rise: number;
  /** Share of its inductance without current that it keeps at the limit, of a gapped ferrite and of a powder. */
  readonly keptByFerrite: number;
  readonly keptByPowder: number;
}

/** Common practice. @public */
export const CHOKE_RULES: ChokeRules = { rise: 50, keptByFerrite: 0.7, keptByPowder: 0.4 };

/** How far short of the inductance wanted a choke may be: a turn more or less, and a core's tolerance. */
const SHORT = 0.03;

/** Why a choke cannot be taken, a sentence each; none where it can. */
export function chokeFaults(
  choke: WoundChoke,
  { laid, inductance: [none, full, limit], worst, atLimit }: WorkedChoke,
  demand: ChokeDemand,
  rules: ChokeRules = CHOKE_RULES,
): readonly string[] {
  const faults: string[] = [];
  const { material } = choke.core;
  if (laid.tooMuch !== undefined) faults.push(laid.tooMuch);
  if (full < (1 - SHORT) * demand.inductance)
    faults.push(
      `At ${formatQuantity(demand.full, 'A', 3)} it has ${formatQuantity(full, 'H', 3)}, and ${formatQuantity(demand.inductance, 'H', 3)} are wanted there: more turns, or another gap.`,
    );
  const kept = material.kind === 'ferrite' ? rules.keptByFerrite : rules.keptByPowder;
  // What swings is meant to fall; it must still be what is wanted of it.
  const whole = choke.step || choke.beside ? Math.min(none, demand.inductance) : none;
  if (limit < kept * whole)
    faults.push(
      `At the limit of ${formatQuantity(demand.limit, 'A', 3)} its flux density of ${atLimit.density.toFixed(3)} T leaves ${((100 * limit) / whole).toFixed(0)} % of its inductance, and ${(100 * kept).toFixed(0)} % are to be left (${material.words} bears ${atLimit.saturation.toFixed(2)} T): a wider gap with more turns, or a larger core.`,
    );
  const rise = worst.temperature - demand.ambient;
  if (rise > rules.rise)
    faults.push(
      `It gets ${rise.toFixed(0)} K warmer than the air and ${rules.rise.toFixed(0)} K are allowed: thicker copper, or a larger core.`,
    );
  if (worst.temperature > material.hottest)
    faults.push(
      `It gets as hot as ${worst.temperature.toFixed(0)} °C, and its ${material.words} may be ${String(material.hottest)} °C at most.`,
    );
  return faults;
}

/** What is to be minded of a choke that can be taken, a sentence each. */
export function chokeCautions(choke: WoundChoke, { laid, worst }: WorkedChoke): readonly string[] {
  const { core, gap, gaps, conductor } = choke;
  const cautions: string[] = [];
  if (gap > 0 || core.airGap > 0)
    cautions.push('Not in the figures: what the field that bulges out of the gap heats in the winding beside it.');
  if (gap > 0.05 * core.leg.width)
    cautions.push(
      `The gap of ${(1e3 * gap).toFixed(2)} mm is wide beside its leg of ${(1e3 * core.leg.width).toFixed(1)} mm: flux bulges into the winding beside it and heats what lies there; keep the winding two gaps away (fringing by ${FRINGING_WORDS[choke.fringing]}).`,
    );
  if (gap > 0 && gaps === 2)
    cautions.push('A gap under the outer legs leaks into what stands beside the choke: keep sense lines away from it.');
  if (worst.alternating > worst.copper)
    cautions.push(
      `${conductorWords(conductor)} loses more by eddy currents than by its resistance: thinner strands, litz or fewer layers.`,
    );
  if (laid.fill > 0.45 && conductor.kind !== 'foil')
    cautions.push(`Copper fills ${(100 * laid.fill).toFixed(0)} % of the window: tight to wind by hand.`);
  if (core.shape === 'drum') cautions.push('A drum’s flux returns through the air about it: keep sense lines away.');
  return [...cautions, ...core.filled.map((what) => `Not stated by the core, so taken as usual: ${what}.`)];
}

/** m³ of the box about it. */
export const chokeVolume = (choke: WoundChoke, worked: WorkedChoke): number =>
  bodyOf(choke, worked.laid).reduce((a, b) => a * b, 1);

/** Of a kilogram, as it is wound, and of winding by the turn, in the currency of the library: strands and etching cost. From memory. */
const COPPER_PRICE: Readonly<Record<Conductor['kind'], number>> = { wire: 12, litz: 60, foil: 25, board: 80 };
const TURN_PRICE = 0.01;

/** What a choke costs: core, copper and the work of winding. */
export const chokePrice = ({ core, beside, turns, conductor }: WoundChoke, { laid }: WorkedChoke): number =>
  core.price + (beside?.price ?? 0) + COPPER_PRICE[conductor.kind] * laid.mass + TURN_PRICE * turns;

import { pathLoss, surfaceRise } from './chokeForms.js';
import { saturatedSwing, type InductanceCurve } from '../parts/inductanceCurve.js';
import { shapeOverSine } from '../losses/waveformShape.js';
import { windingRatio, windingResistance, type LaidOut } from './layOut.js';
import { pathState, type FluxPath } from './magneticPath.js';
import { lossLaw, saturationAt } from './materials.js';
import { chokeCurve, chokeTable, fluxPaths, surfaceOf, windingOf, type WoundChoke } from './woundChoke.js';

/** What a corner asks of a winding: it hardly depends on which winding it is. */
export interface CornerDemand {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  /** A */
  readonly average: number;
  /** V s peak to peak, of the flux linkage. */
  readonly swing: number;
  /** Whether the current stays at zero for part of the period. */
  readonly stopped: boolean;
  /** Hz */
  readonly frequency: number;
  /** How much of the swing each stretch of the period covers, and its share of it. */
  readonly pieces: readonly { readonly swing: number; readonly share: number }[];
  /** Amplitudes of the flux linkage, V s. */
  readonly harmonics: readonly { readonly frequency: number; readonly amplitude: number }[];
}

/** What a stage asks of a choke at all its corners. @public */
export interface ChokeDemand {
  readonly corners: readonly CornerDemand[];
  /** H, wanted at full load and the input at which the ripple is worst. */
  readonly inductance: number;
  /** A: average at full load, most of all corners. */
  readonly full: number;
  /** A, that it must still be a choke at: the current limit at the high end of its tolerance. */
  readonly limit: number;
  /** °C about it, the highest. */
  readonly ambient: number;
  /** What was taken where the stage states nothing. */
  readonly filled: readonly string[];
  /** Corners without an operating point: what the choke would bear there is not known. */
  readonly unsolved: number;
}

/** What a choke does at a corner. @public */
export interface ChokeAtCorner {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  /** H, incremental at the average. */
  readonly inductance: number;
  /** A */
  readonly peak: number;
  readonly ripple: number;
  readonly rms: number;
  /** T, of the path with most of it: at the peak, and peak to peak. */
  readonly density: number;
  readonly densitySwing: number;
  /** W */
  readonly copper: number;
  /** W, what alternates more than a steady current of its rms would lose. */
  readonly alternating: number;
  readonly core: number;
  /** °C of its surface. */
  readonly temperature: number;
}

/** A choke worked. @public */
export interface WorkedChoke {
  readonly laid: LaidOut;
  /** Incremental inductance against current, A and H, at its temperature and the limit of the demand. */
  readonly table: readonly (readonly [number, number])[];
  readonly corners: readonly ChokeAtCorner[];
  /** The corner with the most loss. */
  readonly worst: ChokeAtCorner;
  /** H: without current, at full load, and at the limit. */
  readonly inductance: readonly [none: number, full: number, limit: number];
  /** T, the highest of its paths at the limit, and what its material bears at that temperature. */
  readonly atLimit: { readonly density: number; readonly saturation: number };
  /** Ω at 25 °C. */
  readonly resistance: number;
  /** m² */
  readonly surface: number;
}

const ROUNDS = 40;
const SETTLED = 1e-3;
/** °C: beyond, nothing is said of copper or core. */
const HOTTEST = 400;

/** What the loss of a path hangs on: T at the peak and at the valley of the current, °C. */
export function lossOfPath(path: FluxPath, demand: CornerDemand, high: number, low: number, temperature: number) {
  const { density, frequencyExponent, fluxExponent } = lossLaw(path.material, demand.frequency, temperature);
  return {
    density,
    frequency: demand.frequency,
    frequencyExponent,
    swing: Math.abs(high - low),
    fluxExponent,
    shape: shapeOverSine(frequencyExponent, demand.pieces),
    rise: path.material.biasRise,
    steady: Math.min(1, Math.abs(high + low) / 2 / saturationAt(path.material, temperature)),
    volume: path.area * path.length,
  };
}

/** °C within which one curve serves. */
const ONE_CURVE = 5;

/** Work a choke at every corner, temperature and loss settled together. */
export function workChoke(choke: WoundChoke, demand: ChokeDemand): WorkedChoke {
  const laid = windingOf(choke);
  const surface = surfaceOf(choke, laid);
  const tables = new Map<number, [number, number][]>();
  const tableAt = (temperature: number): [number, number][] => {
    const near = ONE_CURVE * Math.round(temperature / ONE_CURVE);
    const found = tables.get(near) ?? chokeTable(choke, demand.limit, near);
    tables.set(near, found);
    return found;
  };
  const at = (corner: CornerDemand): ChokeAtCorner => {
    let temperature = demand.ambient + 30;
    for (let k = 0; ; k += 1) {
      const magnetic = magneticAt(choke, chokeCurve(tableAt(temperature)), corner, temperature);
      const found = withCopper(choke, laid, corner, magnetic, temperature);
      const next = Math.min(
        HOTTEST,
        demand.ambient + surfaceRise.compute({ loss: found.copper + found.alternating + found.core, surface }),
      );
      if (Math.abs(next - temperature) < SETTLED || k === ROUNDS) return { ...found, temperature: next };
      temperature = next;
    }
  };
  const corners = demand.corners.map(at);
  const [first] = corners;
  if (!first) throw new RangeError('A choke is worked at one corner at least.');
  const loss = (one: ChokeAtCorner): number => one.copper + one.alternating + one.core;
  const worst = corners.reduce((a, b) => (loss(b) > loss(a) ? b : a), first);
  const table = tableAt(worst.temperature);
  const curve = chokeCurve(table);
  const states = fluxPaths(choke).map((path) => ({
    density: pathState(path, choke.turns * demand.limit, worst.temperature).density,
    saturation: (path.saturation * saturationAt(path.material, worst.temperature)) / path.material.saturation[0],
  }));
  return {
    laid,
    table,
    corners,
    worst,
    inductance: [curve.inductance(0), curve.inductance(demand.full), curve.inductance(demand.limit)],
    atLimit: states.reduce((a, b) => (b.density / b.saturation > a.density / a.saturation ? b : a)),
    resistance: windingResistance(laid, 25),
    surface,
  };
}

/** What the flux does at a corner: it has nothing to do with the copper. */
export type MagneticAtCorner = Pick<
  ChokeAtCorner,
  'inductance' | 'peak' | 'ripple' | 'density' | 'densitySwing' | 'core'
>;

/** Current, flux density and core loss of a choke at a corner. */
export function magneticAt(
  choke: WoundChoke,
  curve: InductanceCurve,
  demand: CornerDemand,
  temperature: number,
): MagneticAtCorner {
  const { peak, valley } = saturatedSwing(curve, demand.swing, demand.average, demand.stopped);
  const paths = fluxPaths(choke).map((path) => {
    const [high, low] = [peak, valley].map(
      (current) => pathState(path, choke.turns * current, temperature).density,
    ) as [number, number];
    return { path, high, low };
  });
  return {
    inductance: curve.inductance(demand.average),
    peak,
    ripple: peak - valley,
    density: Math.max(...paths.map(({ high }) => high)),
    densitySwing: Math.max(...paths.map(({ high, low }) => high - low)),
    core: paths.reduce(
      (sum, { path, high, low }) => sum + pathLoss.compute(lossOfPath(path, demand, high, low, temperature)),
      0,
    ),
  };
}

function withCopper(
  choke: WoundChoke,
  laid: LaidOut,
  demand: CornerDemand,
  magnetic: MagneticAtCorner,
  temperature: number,
): Omit<ChokeAtCorner, 'temperature'> {
  const resistance = windingResistance(laid, temperature);
  // The current has the waveform of the linkage: A for each V s.
  const share = magnetic.ripple / demand.swing;
  let square = 0;
  let more = 0;
  for (const { frequency, amplitude } of demand.harmonics) {
    const half = (amplitude * share) ** 2 / 2;
    square += half;
    more += half * (windingRatio(choke.core, choke.conductor, laid, frequency, temperature) - 1);
  }
  return {
    ...magnetic,
    inputVoltage: demand.inputVoltage,
    outputCurrent: demand.outputCurrent,
    rms: Math.sqrt(demand.average ** 2 + square),
    copper: (demand.average ** 2 + square) * resistance,
    alternating: more * resistance,
  };
}

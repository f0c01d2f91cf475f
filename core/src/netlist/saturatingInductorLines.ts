import { inductanceCurveOf, type InductanceCurve } from '../parts/inductanceCurve.js';
import type { Inductor } from '../stage/partsSchema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { LEAST, number } from './spiceValue.js';

/** An inductor that saturates, at the start of a run. */
export interface SaturatingInductor {
  readonly curve: InductanceCurve;
  /** Flux linkage it starts with, V s. */
  readonly flux: number;
  /** Highest current it is expected to carry, A. */
  readonly peak: number;
}

/** Straight pieces its current is drawn by, and terms of a line. */
const PIECES = 32;
const TERMS = 4;
/** Share of the inductance below which a part is hardly one any more. */
const GONE = 0.1;

/**
 * The saturating inductors of a stage as they start in its steady state, by name; none where it was solved without saturation, or where they are
 * coupled: the flux of one is then not its own.
 *
 * @param part the inductor of the stage, with its curve.
 * @param currentOf current of an inductor at the start, with the constant inductance of the same ripple, A.
 */
export function saturatingInductors(
  { powerStage: { circuit, elements }, saturation }: Pick<SolvedPoint, 'powerStage' | 'saturation'>,
  part: Inductor | undefined,
  currentOf: (name: string) => number,
): ReadonlyMap<string, SaturatingInductor> {
  const curve = part && inductanceCurveOf(part);
  if (!curve || !saturation || circuit.couplings.length > 0) return new Map();
  const { valley, peak, effectiveInductance, fluxSwing, linearPeak } = saturation;
  const linearValley = linearPeak - fluxSwing / effectiveInductance;
  return new Map(
    elements.inductors.map((name) => {
      // The flux moves as it does in the constant inductance, from that of the valley on.
      const flux = curve.flux(valley) + effectiveInductance * (currentOf(name) - linearValley);
      return [name, { curve, flux, peak: Math.max(Math.abs(peak), Math.abs(valley)) }] as const;
    }),
  );
}

/** The current up to which a curve is drawn, A: where hardly anything is left of it, or well beyond the peak. */
function reachOf({ curve, peak }: SaturatingInductor): number {
  const most = 4 * peak;
  for (let k = 2 * PIECES; k < 4 * PIECES; k += 1) {
    const current = (k / (4 * PIECES)) * most;
    if (curve.inductance(current) <= GONE * curve.inductance(0)) return current;
  }
  return most;
}

/** The name of the current through an inductor in an expression. */
export const currentName = (name: string, saturating: ReadonlyMap<string, SaturatingInductor>): string =>
  saturating.has(name) ? `i(v_${name})` : `i(l_${name})`;

/**
 * An inductor whose current is a function of its flux linkage, λ = ∫v dt. A constant inductance L₀ takes up the flux, so that its own current
 * is λ/L₀, and beside it a source carries what saturation adds, i(λ) − λ/L₀, in straight pieces: SPICE knows ramps, no tables. The whole
 * current goes through a source of no voltage, by which it is measured.
 */
export function saturatingInductorLines(
  {
    name,
    a,
    b,
    resistance,
  }: { readonly name: string; readonly a: string; readonly b: string; readonly resistance: number },
  inductor: SaturatingInductor,
): readonly string[] {
  const { curve, flux } = inductor;
  const linear = curve.inductance(0);
  const reach = reachOf(inductor);
  const points = Array.from({ length: PIECES + 1 }, (_, k) => {
    const current = (k / PIECES) * reach;
    const own = curve.flux(current) / linear;
    return [own, current - own] as const;
  });
  let slope = 0;
  const terms = points.flatMap(([at, added], k) => {
    const next = points[k + 1];
    if (!next) return [];
    const turn = (next[1] - added) / (next[0] - at) - slope;
    slope += turn;
    // Odd in the flux: a core does not know its sign.
    return turn === 0 ? [] : [`${number(turn)}*(uramp(i(l_${name})-${number(at)})-uramp(-i(l_${name})-${number(at)}))`];
  });
  const lines = Array.from({ length: Math.ceil(terms.length / TERMS) }, (_, k) =>
    terms.slice(TERMS * k, TERMS * (k + 1)).join(' + '),
  );
  return [
    `v_${name} ${a} ${name}_i DC 0`,
    `l_${name} ${name}_i ${name}_w ${number(linear)} IC=${number(flux / linear)}`,
    ...(lines.length === 0
      ? []
      : [`b_${name} ${name}_i ${name}_w I = ${lines[0] ?? ''}`, ...lines.slice(1).map((line) => `+ + ${line}`)]),
    `r_${name} ${name}_w ${b} ${number(Math.max(resistance, LEAST))}`,
  ];
}

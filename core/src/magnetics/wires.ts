/** Diameter of bare copper of a gauge number, m: d = 0.127 mm · 92^((36 − n)/39) (ASTM B258). @public */
export const gaugeDiameter = (gauge: number): number => 0.127e-3 * 92 ** ((36 - gauge) / 39);

/** Diameters of metric wire, m: the series R 20, ten-to-the-twentieth apart, as IEC 60317 takes them from ISO 3. @public */
export const METRIC_DIAMETERS: readonly number[] = [
  0.1, 0.112, 0.125, 0.14, 0.16, 0.18, 0.2, 0.224, 0.25, 0.28, 0.315, 0.355, 0.4, 0.45, 0.5, 0.56, 0.63, 0.71, 0.8, 0.9,
  1, 1.12, 1.25, 1.4, 1.6, 1.8, 2,
].map((millimetres) => millimetres * 1e-3);

/** Diameter over the enamel, m: grade 2 of IEC 60317-0-1, met by this line within 4 % from 0.1 to 2 mm (from memory). */
export const enamelled = (diameter: number): number => 0.03e-3 + 1.065 * diameter;

/** A bundle's diameter over that of one strand over its enamel: √n, and a sixth more since round strands leave room. Common practice. */
const BUNDLED = 1.155;

/** What a choke is wound with. @public */
export type Conductor =
  /** Enamelled wire, one or several side by side. */
  | { readonly kind: 'wire'; readonly diameter: number; readonly strands: number }
  /** Many strands twisted so that each is everywhere. */
  | { readonly kind: 'litz'; readonly diameter: number; readonly strands: number }
  /** A foil as broad as the window: each turn is a layer. */
  | { readonly kind: 'foil'; readonly thickness: number }
  /** Copper of a board: turns in each layer, layers in series. */
  | { readonly kind: 'board'; readonly thickness: number; readonly perLayer: number };

/** Diameter of what is laid as one, over all, m. */
export const laidDiameter = (of: Extract<Conductor, { kind: 'wire' | 'litz' }>): number =>
  of.kind === 'wire' ? enamelled(of.diameter) : BUNDLED * Math.sqrt(of.strands) * enamelled(of.diameter);

/** Gauge numbers that are wound by hand. @public */
export const GAUGES: readonly number[] = Array.from({ length: 25 }, (_, k) => 12 + k);

const millimetres = (value: number): string => `${(1e3 * value).toPrecision(3).replace(/\.?0+$/, '')} mm`;

/** A conductor in words. @public */
export function conductorWords(of: Conductor): string {
  if (of.kind === 'foil') return `foil of ${millimetres(of.thickness)}`;
  if (of.kind === 'board') return `board, ${String(of.perLayer)} turns to a layer of ${millimetres(of.thickness)}`;
  const gauge = GAUGES.find((one) => Math.abs(gaugeDiameter(one) / of.diameter - 1) < 1e-3);
  const wire = gauge === undefined ? millimetres(of.diameter) : `gauge ${String(gauge)} (${millimetres(of.diameter)})`;
  if (of.kind === 'litz') return `litz of ${String(of.strands)} x ${wire}`;
  return of.strands === 1 ? `wire of ${wire}` : `${String(of.strands)} wires of ${wire} side by side`;
}

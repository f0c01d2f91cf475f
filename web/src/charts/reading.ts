import { formatQuantity } from '@yundro/core';
import type { Axis, Curve } from './curves';

/** A value as its axis writes it, with more digits. */
export const written = (value: number, axis: Axis): string =>
  axis.unit === 'ratio' || axis.unit === 'dB' || axis.unit === 'deg'
    ? `${value.toFixed(axis.unit === 'ratio' ? 3 : 1)}${axis.unit === 'dB' ? ' dB' : axis.unit === 'deg' ? '°' : ''}`
    : formatQuantity(value, axis.unit, 4);

/** The value of a curve between its points, along a linear or a logarithmic axis; undefined outside it or in a gap. */
export function valueAt({ x, y }: Pick<Curve, 'x' | 'y'>, at: number, logarithmic: boolean): number | undefined {
  const next = x.findIndex((one) => one >= at);
  if (next < 0) return undefined;
  const [x1, y1] = [x[next], y[next]];
  if (x1 === undefined || y1 === undefined || !Number.isFinite(y1)) return undefined;
  if (next === 0 || x1 === at) return x1 === at ? y1 : undefined;
  const [x0, y0] = [x[next - 1], y[next - 1]];
  if (x0 === undefined || y0 === undefined || !Number.isFinite(y0)) return undefined;
  const share = logarithmic ? Math.log(at / x0) / Math.log(x1 / x0) : (at - x0) / (x1 - x0);
  return y0 + share * (y1 - y0);
}

/** The named curves read at one place of the axis. */
export function readAt(
  curves: readonly Curve[],
  at: number,
  logarithmic: boolean,
): readonly { readonly words: string; readonly value: number }[] {
  return curves.flatMap((curve, k) => {
    const value = valueAt(curve, at, logarithmic);
    if (value === undefined) return [];
    // A single curve needs no name of its own.
    const words =
      curve.words === '' && curves.filter((one) => one.words !== '').length === 0 && k === 0 ? 'value' : curve.words;
    return words === '' ? [] : [{ words, value }];
  });
}

/** What a picture says, for those who do not see it: each curve from where to where, and the marks. */
export function pictureInWords(words: string, { x, y, curves, marks, regions }: PictureData): string {
  const said = curves.flatMap((curve) => {
    const values = curve.y.filter((value): value is number => value !== undefined && Number.isFinite(value));
    if (values.length === 0 || (curve.words === '' && curves.length > 1)) return [];
    const least = written(Math.min(...values), y);
    const most = written(Math.max(...values), y);
    return [`${curve.words === '' ? 'the curve' : curve.words} from ${least} to ${most}`];
  });
  const marked = marks.flatMap(({ label, x: at, y: value }) =>
    label === undefined || label === '' ? [] : [`${label} at ${written(at, x)}, ${written(value, y)}`],
  );
  const hatched = regions.map((one) => `hatched: ${one.words}`);
  const over = `over ${x.words === '' ? 'the same axis' : x.words} from ${written(x.min, x)} to ${written(x.max, x)}`;
  return [`${words}, ${over}`, ...said, ...marked, ...hatched].join('; ');
}

/** A picture as plain data. */
export interface PictureData {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly { readonly x: number; readonly y: number; readonly label?: string }[];
  readonly regions: readonly { readonly words: string }[];
}

/** The points of all curves as text, SI units: one block of columns to a curve, as their places differ. */
export function pictureAsCsv({ x, y, curves }: Pick<PictureData, 'x' | 'y' | 'curves'>): string {
  const name = (axis: Axis, fallback: string): string => `${axis.words === '' ? fallback : axis.words} (${axis.unit})`;
  const lines = curves.flatMap((curve, k) =>
    curve.x.flatMap((at, i) => {
      const value = curve.y[i];
      return value === undefined || !Number.isFinite(value)
        ? []
        : [
            `"${(curve.words === '' ? `curve ${String(k + 1)}` : curve.words).replaceAll('"', '""')}",${String(at)},${String(value)}`,
          ];
    }),
  );
  return `curve,"${name(x, 'x')}","${name(y, 'y')}"\n${lines.join('\n')}\n`;
}

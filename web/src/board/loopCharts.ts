import {
  applied,
  openLoopInductance,
  planeLoopInductance,
  ringingWith,
  type AppliedForm,
  type LoopGeometry,
  type WorstLoop,
} from '@yundro/core';
import { beyond, type Axis, type Curve, type Mark, type Region } from '../charts/curves';

/**
 * Inductance of a loop as it is laid out. Over a plane half the way round goes out, and comes back in it; without one the copper counts no
 * wider than the loop that it goes round.
 */
export const loopForm = ({ length, breadth, width, height }: LoopGeometry): AppliedForm =>
  height === undefined
    ? applied(openLoopInductance, { length, breadth, width: Math.min(width, length, breadth) })
    : applied(planeLoopInductance, { length: length + breadth, width, height });

/** The same, H. */
export const inductanceOf = (geometry: LoopGeometry): number => loopForm(geometry).value;

/** Areas that are drawn, m². */
const LARGEST = 4e-4;
const POINTS = 60;

export interface LoopChart {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
  readonly regions: readonly Region[];
}

/** Voltage on the device that blocks against the area of the loop, by its own shape; undefined where it is not reckoned. */
export function areaChart(loop: WorstLoop, geometry: LoopGeometry): LoopChart | undefined {
  if (!loop.rings) return undefined;
  const here = geometry.length * geometry.breadth;
  const most = Math.max(LARGEST, 1.5 * here);
  const scaled = (area: number, height: number | undefined): LoopGeometry => {
    const by = Math.sqrt(area / here);
    return { ...geometry, length: geometry.length * by, breadth: geometry.breadth * by, height };
  };
  const areas = Array.from({ length: POINTS }, (_, k) => ((k + 1) / POINTS) * most);
  const voltage = (area: number, height: number | undefined): number =>
    loop.blocked + (ringingWith(loop, inductanceOf(scaled(area, height)))?.most ?? 0);
  const open = areas.map((area) => voltage(area, undefined));
  const over = areas.map((area) => voltage(area, geometry.height ?? 0.2e-3));
  const top = 1.1 * Math.max(...open, ...over, loop.rating ?? 0);
  return {
    x: { words: 'area of the loop', unit: 'm²', min: 0, max: most, step: most / 4 },
    y: { words: 'peak voltage', unit: 'V', min: 0, max: top },
    curves: [
      {
        words: 'no plane under it',
        x: areas,
        y: open,
        colour: '--trace-2',
        dash: [6, 3],
        labelAt: 0.7 * most,
        labelAbove: true,
      },
      { words: 'over a plane', x: areas, y: over, colour: '--trace-1', dash: [], labelAt: 0.7 * most },
    ],
    marks: [{ x: here, y: voltage(here, geometry.height), label: 'as laid out', here: true }],
    regions: loop.rating === undefined ? [] : [beyond(loop.rating, 'above', 'beyond the rating')],
  };
}

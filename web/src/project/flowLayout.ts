import type { FlowThrough } from '@yundro/core';

/** A stage in the drawing, in columns from the source on and rows downward. */
export interface Placed {
  readonly flow: FlowThrough;
  readonly column: number;
  /** May lie between two rows: in the middle of what it feeds. */
  readonly row: number;
}

/** Places of the stages: each in the column after its feeder, in the middle of the rows of what it feeds. */
export function placed(flows: readonly FlowThrough[]): readonly Placed[] {
  const out: Placed[] = [];
  const names = new Set(flows.map(({ name }) => name));
  let next = 0;
  const place = (flow: FlowThrough, column: number): number => {
    const rows = flows.filter(({ feeder }) => feeder === flow.name).map((one) => place(one, column + 1));
    let row = next;
    if (rows.length > 0) row = ((rows[0] ?? 0) + (rows.at(-1) ?? 0)) / 2;
    else next += 1;
    out.push({ flow, column, row });
    return row;
  };
  for (const flow of flows) if (flow.feeder === undefined || !names.has(flow.feeder)) place(flow, 0);
  return out;
}

/** Thinnest and thickest line, px. */
const THIN = 1.2;
const THICK = 14;

/** How thick a line is for power through it: in proportion, but never too thin to be seen. */
export const thickness = (power: number, most: number): number =>
  most > 0 ? Math.max(THIN, (THICK * power) / most) : THIN;

import { formatQuantity, type PowerFlow } from '@yundro/core';
import { useMemo } from 'react';
import { placed, thickness } from './flowLayout';

/** Size of a stage in the drawing, and room about it, px. */
const WIDTH = 168;
const HEIGHT = 58;
const ACROSS = 92;
const DOWN = 18;
const SOURCE = 84;

const watts = (value: number): string => formatQuantity(value, 'W', 3);

/** The stages of a project with the power that flows through them: lines as thick as what they carry, from the sources on the left. */
export function FlowDrawing({ flow }: { readonly flow: PowerFlow }) {
  const places = useMemo(() => placed(flow.flows), [flow]);
  const columns = Math.max(0, ...places.map(({ column }) => column)) + 1;
  const rows = Math.max(0, ...places.map(({ row }) => row)) + 1;
  const most = Math.max(...flow.flows.map(({ input }) => input), 1e-9);
  const left = (column: number): number => SOURCE + column * (WIDTH + ACROSS);
  const top = (row: number): number => DOWN / 2 + row * (HEIGHT + DOWN);
  const byName = new Map(places.map((one) => [one.flow.name, one]));
  const [wide, high] = [left(columns) - ACROSS + 90, top(rows)];
  const words = flow.flows
    .map(
      ({ name, feeder, input, output }) =>
        `${name}, fed by ${feeder ?? 'the source'}: ${watts(input)} in, ${watts(output)} out`,
    )
    .join('; ');
  return (
    <div className="flow">
      <svg
        viewBox={`0 0 ${String(wide)} ${String(high)}`}
        width={wide}
        height={high}
        role="img"
        aria-label={`Power through the stages. ${words}`}
      >
        {places.map(({ flow: one, column, row }) => {
          const from = one.feeder === undefined ? undefined : byName.get(one.feeder);
          const x0 = from ? left(from.column) + WIDTH : 4;
          const y0 = (from ? top(from.row) : top(row)) + HEIGHT / 2;
          const [x1, y1] = [left(column), top(row) + HEIGHT / 2];
          const bend = (x0 + x1) / 2;
          const fed = flow.flows.some(({ feeder }) => feeder === one.name);
          return (
            <g key={one.name}>
              <path
                className="flow-line"
                d={`M ${String(x0)} ${String(y0)} C ${String(bend)} ${String(y0)}, ${String(bend)} ${String(y1)}, ${String(x1)} ${String(y1)}`}
                strokeWidth={thickness(one.input, most)}
              />
              <text className="flow-power" x={x1 - 6} y={y1 - thickness(one.input, most) / 2 - 4} textAnchor="end">
                {watts(one.input)}
              </text>
              <rect
                className={one.spare < 0 ? 'flow-stage over' : 'flow-stage'}
                x={x1}
                y={top(row)}
                width={WIDTH}
                height={HEIGHT}
              />
              <text className="flow-name" x={x1 + 9} y={top(row) + 20}>
                {one.name}
              </text>
              <text x={x1 + 9} y={top(row) + 37}>
                {((100 * one.output) / one.input).toFixed(1)} %, {watts(one.loss)} lost
              </text>
              <text x={x1 + 9} y={top(row) + 51}>
                {formatQuantity(one.outputCurrent, 'A', 3)}
                {one.spare < 0 ? `, ${formatQuantity(-one.spare, 'A', 2)} too much` : ''}
              </text>
              {!fed && (
                <>
                  <path
                    className="flow-line"
                    d={`M ${String(x1 + WIDTH)} ${String(y1)} h 26`}
                    strokeWidth={thickness(one.output, most)}
                  />
                  <text className="flow-power" x={x1 + WIDTH + 32} y={y1 + 4}>
                    {watts(one.output)}
                  </text>
                </>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

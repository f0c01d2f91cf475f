import { elementWords, formatQuantity, nodeWords, type Carried, type PlacedElement } from '@yundro/core';
import type { Drawn } from '../engine/engine';
import { ElementSymbol } from './ElementSymbol';
import { valueAtTime } from './traces';

/** Stroke of a wire without current, and what the largest current adds to it. */
const THIN = 1;
const SWELL = 4;
/** Below this share of the largest current of the period a path is drawn as idle. */
const IDLE = 0.004;
const ARROW = 5;
/** Half the length of the lines that stand for a core. */
const CORE = 18;
const DIGITS = 3;
/** Right of the load, for its label. */
const ROOM = 58;
/** Type of the labels, and a drawing so wide that it is shown smaller, where they grow to stay readable. */
const TYPE = 11.5;
const LARGEST_TYPE = 14.5;
const FULL_WIDTH = 700;
const LEADING = 1.12;

interface SchematicDrawingProps {
  readonly drawn: Drawn;
  /** s from the clock of phase 1. */
  readonly time: number;
  readonly valueOf: (element: PlacedElement['element']) => string;
  readonly selected: string | undefined;
  readonly onSelect: (element: string) => void;
  /** An instant, s, at which a current turns over: what carries it is marked. */
  readonly hotAt?: number | undefined;
}

/** Share of a period before and after an instant at which a jump is looked at, and the share of the largest current that is one. */
const BESIDE = 1e-6;
const JUMP = 0.05;

/** The largest current anywhere in the drawing over the period, A. */
function largestCurrent({ currents, schematic }: Drawn): number {
  return schematic.elements.reduce(
    (largest, { element }) =>
      (currents[element.name]?.value ?? []).reduce((most, value) => Math.max(most, Math.abs(value)), largest),
    0,
  );
}

/** The stage as drawn from its circuit, at an instant of the period: conducting paths are thick, by their current. */
export function SchematicDrawing({ drawn, time, valueOf, selected, onSelect, hotAt }: SchematicDrawingProps) {
  const { schematic, currents, nodes, period, stretches, phases } = drawn;
  const largest = largestCurrent(drawn);
  const currentOf = (name: string): number => {
    const found = currents[name];
    return found ? valueAtTime(found, period, time) : 0;
  };
  const carried = (terms: readonly Carried[]): number =>
    terms.reduce((sum, { element, sign }) => sum + sign * currentOf(element), 0);
  /** What carries a current that jumps at the instant: its copper belongs to the loop. */
  const isHot = (terms: readonly Carried[]): boolean => {
    if (hotAt === undefined) return false;
    const jump = terms.reduce((sum, { element, sign }) => {
      const found = currents[element];
      if (!found) return sum;
      const at = (side: number): number => valueAtTime(found, period, hotAt + side * BESIDE * period);
      return sum + sign * (at(1) - at(-1));
    }, 0);
    return Math.abs(jump) > JUMP * largest;
  };
  const widthOf = (current: number): number => THIN + (SWELL * Math.abs(current)) / (largest || 1);
  const isIdle = (current: number): boolean => Math.abs(current) < IDLE * largest;
  const conducting = stretches.findLast(({ start }) => start <= time)?.conducting ?? [];
  const type = Math.min(LARGEST_TYPE, Math.max(TYPE, (TYPE * schematic.width) / FULL_WIDTH));
  return (
    <div className="schematic-frame">
      <svg
        className="schematic"
        viewBox={`0 0 ${String(schematic.width + ROOM)} ${String(schematic.height)}`}
        style={{ fontSize: type, minWidth: schematic.width * 0.66, maxWidth: (schematic.width + ROOM) * 1.15 }}
        role="group"
        aria-label="Schematic of the stage"
      >
        {schematic.wires.map(({ from, to, carries }) => {
          const current = carried(carries);
          return (
            <line
              key={`${String(from)} ${String(to)}`}
              x1={from[0]}
              y1={from[1]}
              x2={to[0]}
              y2={to[1]}
              className={`${isIdle(current) ? 'idle' : 'flowing'} ${isHot(carries) ? 'hot' : ''}`}
              strokeWidth={widthOf(current)}
            />
          );
        })}
        <path
          d={`M ${String(schematic.ground[0])} ${String(schematic.ground[1])} v 8 m -9 0 h 18 m -15 4 h 12 m -9 4 h 6`}
          className="outline"
        />
        {schematic.elements.map((placed) => {
          const { element, from, to } = placed;
          const current = currentOf(element.name);
          // What stands in for an ideal source is no part: it is drawn as the wire it means.
          if (elementWords(element.name).ideal === true)
            return (
              <line
                key={element.name}
                x1={from[0]}
                y1={from[1]}
                x2={to[0]}
                y2={to[1]}
                className={isIdle(current) ? 'idle' : 'flowing'}
                strokeWidth={widthOf(current)}
              />
            );
          return (
            <PlacedSymbol
              key={element.name}
              placed={placed}
              current={current}
              idle={isIdle(current)}
              width={widthOf(current)}
              leading={LEADING * type}
              closed={conducting.includes(element.name)}
              core={schematic.cores.find(({ inductor }) => inductor === element.name)}
              value={valueOf(element)}
              selected={selected === element.name}
              hot={isHot([{ element: element.name, sign: 1 }])}
              onSelect={() => onSelect(element.name)}
            />
          );
        })}
        {schematic.nodes.map(({ name, x, y }) => {
          const stub = schematic.others.find((one) => one.at === 'top' && one.x >= x && one.x < x + 40);
          const found = nodes[name];
          return (
            <g key={name}>
              <circle cx={x} cy={y} r={2.2} className="dot" />
              <text x={(stub?.x ?? x) + 5} y={y - 7} className="volts">
                <title>{nodeWords(name)}</title>
                {found ? formatQuantity(valueAtTime(found, period, time), 'V', DIGITS) : ''}
              </text>
            </g>
          );
        })}
        {schematic.others.map(({ x, y, at }) => (
          <text key={String([x, y])} x={x} y={at === 'top' ? y - 5 : y + 12} className="aside" textAnchor="middle">
            {phases === 2 ? 'other phase' : 'other phases'}
          </text>
        ))}
      </svg>
    </div>
  );
}

interface PlacedSymbolProps {
  readonly placed: PlacedElement;
  readonly current: number;
  readonly idle: boolean;
  readonly width: number;
  readonly leading: number;
  readonly closed: boolean;
  readonly value: string;
  readonly core: Drawn['schematic']['cores'][number] | undefined;
  readonly selected: boolean;
  readonly hot: boolean;
  readonly onSelect: () => void;
}

function PlacedSymbol({
  placed,
  current,
  idle,
  width,
  leading,
  closed,
  value,
  core,
  selected,
  hot,
  onSelect,
}: PlacedSymbolProps) {
  const { element, from, to, reversed, place } = placed;
  const upright = place === 'shunt';
  const length = upright ? to[1] - from[1] : to[0] - from[0];
  const { words, mark } = elementWords(element.name);
  const along = (reversed ? -1 : 1) * current;
  const shares =
    core &&
    `one core with phase${core.phases.length > 1 ? 's' : ''} ${core.phases.join(', ')}, ${core.opposed ? 'opposed' : 'aiding'}`;
  const lines = [mark, value, formatQuantity(current, 'A', DIGITS)];
  const text = upright
    ? { x: from[0] + 15, y: (from[1] + to[1]) / 2 - 10, anchor: 'start' as const }
    : { x: (from[0] + to[0]) / 2, y: place === 'bypass' ? from[1] - 34 : from[1] + 20, anchor: 'middle' as const };
  const shown = place === 'bypass' ? [`${mark}  ${formatQuantity(current, 'A', DIGITS)}`] : lines;
  return (
    <g
      className={`element ${idle ? 'idle' : 'flowing'} ${selected ? 'selected' : ''} ${hot ? 'hot' : ''}`}
      role="button"
      tabIndex={0}
      aria-pressed={selected}
      aria-label={`${words}, ${value}${shares === undefined ? '' : `, ${shares}`}${hot ? ', in the hot loop' : ''}`}
      data-element={element.name}
      data-current={current}
      data-conducting={closed}
      onClick={onSelect}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        onSelect();
      }}
    >
      <g transform={`translate(${String(from[0])} ${String(from[1])})${upright ? ' rotate(90)' : ''}`}>
        <rect x={length / 2 - 24} y={-14} width={48} height={28} className="target" />
        <ElementSymbol element={element} length={length} closed={closed} reversed={reversed} leadWidth={width} />
        {core && (
          <>
            <path
              d={`M ${String(length / 2 - CORE)} -15 h ${String(2 * CORE)} m 0 -3.5 h ${String(-2 * CORE)}`}
              className="outline"
            />
            <text x={length / 2} y={-24} textAnchor="middle" className="aside">
              with {core.phases.map((one) => `L${String(one)}`).join(', ')}
            </text>
            {/* The dot of the winding: here at the end from which its current counts, with the others’ where they aid it. */}
            <circle cx={length / 2 + (reversed ? 1 : -1) * (CORE + 4)} cy={-9} r={1.8} className="dot" />
          </>
        )}
        {!idle && (
          <path
            d={`M ${String(ARROW + 1)} 0 L ${String(-ARROW)} ${String(-ARROW)} L ${String(-ARROW)} ${String(ARROW)} Z`}
            transform={`translate(${String(length * 0.15)} 0)${along < 0 ? ' scale(-1 1)' : ''}`}
            className="arrow"
          />
        )}
      </g>
      {shown.map((line, i) => (
        <text
          key={i}
          x={text.x}
          y={place === 'bypass' ? text.y + 20 : text.y + leading * i}
          textAnchor={text.anchor}
          className={['mark', 'value', 'amps'][i]}
        >
          {line}
        </text>
      ))}
    </g>
  );
}

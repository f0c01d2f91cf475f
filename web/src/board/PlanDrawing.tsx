import {
  airLines,
  around,
  outlineBox,
  padBox,
  type Box,
  type JudgedPlan,
  type Outline,
  type Placed,
  type PlanGround,
  type Placement,
  type Point,
} from '@yundro/core';
import { useDrag } from '@use-gesture/react';
import { useMemo, useState, type RefObject } from 'react';

/** Everything is drawn in millimetres. */
const MM = 1e3;
const MARGIN = 4;
const LEAST = 32;
/** Width over height of the drawing on the page. */
const ASPECT = 1.31;
const RULE = 5;
const SCALE = 10;
/** Millimetres of type on a drawing as wide as the least; it grows with the drawing, to stay readable. */
const TYPE = 0.66;
/** An arrow key moves a part by so much, m; with Shift by less. */
const STEP = 0.5e-3;
const FINE = 0.1e-3;

interface Props {
  readonly ground: PlanGround;
  readonly placement: Placement;
  readonly judged: JudgedPlan;
  readonly selected: string | undefined;
  readonly onSelect: (key: string | undefined) => void;
  /** Moved by the pointer, and whether it was let go. */
  readonly onMove: (key: string, by: Point, done: boolean) => void;
  readonly onTurn: (key: string) => void;
  readonly drawing: RefObject<SVGSVGElement | null>;
}

const points = (polygon: readonly Point[]): string =>
  polygon.map(({ x, y }) => `${String(MM * x)},${String(MM * y)}`).join(' ');
const rect = ({ left, top, right, bottom }: Box) => ({
  x: MM * left,
  y: MM * top,
  width: MM * (right - left),
  height: MM * (bottom - top),
});

/** What is drawn, mm: all parts with room around them. */
function viewOf(
  { outlines }: PlanGround,
  placement: Placement,
): { x: number; y: number; width: number; height: number } {
  const whole = around(
    outlines.flatMap((outline) => {
      const placed = placement[outline.key];
      return placed ? [outlineBox(outline, placed)] : [];
    }),
  ) ?? { left: 0, top: 0, right: 0, bottom: 0 };
  const { x, y, width, height } = rect(whole);
  const wide = Math.max(LEAST, width + 2 * MARGIN, ASPECT * (height + 2 * MARGIN));
  const high = wide / ASPECT;
  return { x: x + width / 2 - wide / 2, y: y + height / 2 - high / 2, width: wide, height: high };
}

/** The plan: parts that are dragged, their hot loops, the copper of the switch node, what is still to be joined. */
export function PlanDrawing({ ground, placement, judged, selected, onSelect, onMove, onTurn, drawing }: Props) {
  // While a part is dragged what is shown stands still.
  const [held, setHeld] = useState<ReturnType<typeof viewOf>>();
  const view = held ?? viewOf(ground, placement);
  const type = (TYPE * view.width) / LEAST;
  const broken = new Set(judged.rules.flatMap(({ keys }) => keys));
  const lines = useMemo(() => airLines(ground, placement), [ground, placement]);
  const bind = useDrag(
    ({ args, movement: [x, y], first, last, tap }) => {
      const [key] = args as [string];
      if (tap) return;
      if (first) setHeld(view);
      if (last) setHeld(undefined);
      // Dots of the screen as metres of the drawing.
      const scale = drawing.current?.getScreenCTM()?.a ?? 1;
      onMove(key, { x: x / scale / MM, y: y / scale / MM }, last);
    },
    { filterTaps: true, keys: false },
  );
  const marks = (length: number, from: number): readonly number[] =>
    Array.from({ length: Math.floor(length / RULE) + 1 }, (_, k) => Math.ceil(from / RULE) * RULE + k * RULE);
  return (
    <svg
      ref={drawing}
      className="plan"
      viewBox={[view.x, view.y, view.width, view.height].join(' ')}
      role="group"
      aria-label="Floor plan"
      style={{ fontSize: type }}
      onPointerDown={(event) => {
        if (event.target === event.currentTarget) onSelect(undefined);
      }}
    >
      {marks(view.width, view.x).map((x) => (
        <line key={x} className="ruled" x1={x} x2={x} y1={view.y} y2={view.y + view.height} />
      ))}
      {marks(view.height, view.y).map((y) => (
        <line key={y} className="ruled" y1={y} y2={y} x1={view.x} x2={view.x + view.width} />
      ))}
      {judged.copper.map(({ net, words, hull }) => (
        <polygon key={net} className="swinging" points={points(hull)}>
          <title>{words}</title>
        </polygon>
      ))}
      {lines.map(({ net, from, to }, k) => (
        <line
          key={`${net} ${String(k)}`}
          className="air"
          x1={MM * from.x}
          y1={MM * from.y}
          x2={MM * to.x}
          y2={MM * to.y}
        />
      ))}
      {ground.outlines.map((outline) => {
        const placed = placement[outline.key];
        return (
          placed && (
            <Part
              key={outline.key}
              outline={outline}
              placed={placed}
              type={type}
              broken={broken.has(outline.key)}
              selected={selected === outline.key}
              bind={bind(outline.key)}
              onSelect={() => onSelect(outline.key)}
              onNudge={(by) => onMove(outline.key, by, true)}
              onTurn={() => onTurn(outline.key)}
            />
          )
        );
      })}
      {judged.loops.map(({ loop, way }) => (
        <polygon key={loop.key} className="way" points={points(way.pieces.flatMap(({ from, to }) => [from, to]))} />
      ))}
      {judged.feedback.map(([from, to], k) => (
        <line key={k} className="feedback" x1={MM * from.x} y1={MM * from.y} x2={MM * to.x} y2={MM * to.y} />
      ))}
      <g transform={`translate(${String(view.x + 1.5)} ${String(view.y + view.height - 1.2)})`}>
        <path className="scale" d={`M 0 -0.6 V 0 H ${String(SCALE)} V -0.6`} />
        <text x={SCALE / 2} y={-0.5} textAnchor="middle" className="aside">
          {SCALE} mm
        </text>
      </g>
    </svg>
  );
}

interface PartProps {
  readonly outline: Outline;
  readonly placed: Placed;
  readonly type: number;
  readonly broken: boolean;
  readonly selected: boolean;
  readonly bind: object;
  readonly onSelect: () => void;
  readonly onNudge: (by: Point) => void;
  readonly onTurn: () => void;
}

const ARROWS: Readonly<Record<string, Point>> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};

function Part({ outline, placed, type, broken, selected, bind, onSelect, onNudge, onTurn }: PartProps) {
  const { words, mark, stated, pads } = outline;
  const box = rect(outlineBox(outline, placed));
  // Letters are about half as wide as high.
  const fitting = Math.min(type, (1.8 * box.width) / Math.max(1, mark.length));
  return (
    <g
      {...bind}
      className={`part${broken ? ' broken' : ''}${selected ? ' selected' : ''}${stated ? '' : ' assumed'}`}
      role="button"
      tabIndex={0}
      aria-pressed={selected}
      aria-label={`${words}${stated ? '' : ', size assumed'}${broken ? ', breaks a rule' : ''}`}
      data-part={outline.key}
      onFocus={onSelect}
      onKeyDown={(event) => {
        const arrow = ARROWS[event.key];
        if (arrow) {
          const by = event.shiftKey ? FINE : STEP;
          onNudge({ x: by * arrow.x, y: by * arrow.y });
        } else if (event.key === ' ') onTurn();
        else return;
        event.preventDefault();
      }}
    >
      <title>{words}</title>
      <rect className="body" {...box} />
      {pads.map((pad) => (
        <rect key={`${pad.net} ${String(pad.x)} ${String(pad.y)}`} className="pad" {...rect(padBox(pad, placed))} />
      ))}
      <text
        x={box.x + box.width / 2}
        y={box.y + box.height / 2}
        dy="0.35em"
        textAnchor="middle"
        style={{ fontSize: fitting }}
      >
        {mark}
      </text>
    </g>
  );
}

import type { Element } from '@yundro/core';

/** Half the length a symbol takes of its lead. */
const HALF: Readonly<Record<Element['kind'], number>> = {
  resistor: 16,
  inductor: 20,
  capacitor: 3,
  voltageSource: 12,
  currentSource: 12,
  switch: 12,
  diode: 7,
  // The drawing shows the power stage, which has no amplifiers.
  transconductor: 0,
  idealAmplifier: 0,
  currentSense: 0,
};

/** Loops of an inductor. */
const LOOPS = 4;

interface ElementSymbolProps {
  readonly element: Element;
  /** Length from lead end to lead end. */
  readonly length: number;
  /** Whether a switch is closed. */
  readonly closed: boolean;
  /** Whether the element's `a` end is at the far end. */
  readonly reversed: boolean;
  readonly leadWidth: number;
}

/** The symbol of an element in the manner of IEC 60617, lying along the x axis from the origin, with its leads. */
export function ElementSymbol({ element, length, closed, reversed, leadWidth }: ElementSymbolProps) {
  const half = HALF[element.kind];
  const centre = length / 2;
  return (
    <>
      <line x1={0} x2={centre - half} strokeWidth={leadWidth} />
      <line x1={centre + half} x2={length} strokeWidth={leadWidth} />
      <g transform={`translate(${String(centre)} 0)${reversed ? ' scale(-1 1)' : ''}`}>
        <Body kind={element.kind} half={half} closed={closed} leadWidth={leadWidth} />
      </g>
    </>
  );
}

interface BodyProps {
  readonly kind: Element['kind'];
  readonly half: number;
  readonly closed: boolean;
  readonly leadWidth: number;
}

/** The symbol itself about the origin, its `a` end at the left. */
function Body({ kind, half, closed, leadWidth }: BodyProps) {
  switch (kind) {
    case 'resistor':
      return <rect x={-half} y={-6} width={2 * half} height={12} className="body" />;
    case 'inductor': {
      const r = half / LOOPS;
      const loop = `a ${String(r)} ${String(r)} 0 0 1 ${String(2 * r)} 0 `;
      return <path d={`M ${String(-half)} 0 ${loop.repeat(LOOPS)}`} className="outline" strokeWidth={leadWidth} />;
    }
    case 'capacitor':
      return <path d={`M ${String(-half)} -12 V 12 M ${String(half)} -12 V 12`} className="outline plate" />;
    case 'voltageSource':
      return (
        <>
          <circle r={half} className="body" />
          <line x1={-half} x2={half} />
        </>
      );
    case 'currentSource':
      return (
        <>
          <circle r={half} className="body" />
          <line y1={-half} y2={half} />
        </>
      );
    case 'switch':
      return closed ? (
        <>
          <line x1={-half} x2={half} strokeWidth={leadWidth} />
          <Contacts half={half} />
        </>
      ) : (
        <>
          <path d={`M ${String(half)} 0 L ${String(-half + 2)} -10`} className="outline" />
          <Contacts half={half} />
        </>
      );
    case 'diode':
      return (
        <path
          d={`M ${String(-half)} -7 L ${String(half)} 0 L ${String(-half)} 7 Z M ${String(half)} -7 V 7`}
          className="body"
        />
      );
  }
}

/** The two contacts of a switch, so that a closed one is still seen to be one. */
function Contacts({ half }: { readonly half: number }) {
  return (
    <>
      <circle cx={-half} r={2.6} className="body" />
      <circle cx={half} r={2.6} className="body" />
    </>
  );
}

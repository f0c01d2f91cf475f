import { formDrawing, type PlacedElement, type TopologyName } from '@yundro/core';

/** A drawing as one path. */
export interface Strokes {
  readonly viewBox: string;
  readonly path: string;
}

type Point = readonly [x: number, y: number];

/** A symbol between two points, `half` of its length to each side of the middle: a few strokes that are told apart when small. */
function symbol({ element, from, to }: PlacedElement): string {
  const [x0, y0] = from;
  const [x1, y1] = to;
  const length = Math.hypot(x1 - x0, y1 - y0);
  const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length];
  const at = (along: number, aside: number): string => {
    const [x, y]: Point = [(x0 + x1) / 2 + along * ux - aside * uy, (y0 + y1) / 2 + along * uy + aside * ux];
    return `${x.toFixed(0)} ${y.toFixed(0)}`;
  };
  const leads = (half: number): string =>
    `M${x0.toFixed(0)} ${y0.toFixed(0)}L${at(-half, 0)}M${at(half, 0)}L${x1.toFixed(0)} ${y1.toFixed(0)}`;
  switch (element.kind) {
    case 'inductor':
      return `${leads(22)}M${at(-22, 0)}Q${at(-16, -22)} ${at(-8, 0)}Q${at(0, -22)} ${at(8, 0)}Q${at(16, -22)} ${at(22, 0)}`;
    case 'capacitor':
      return `${leads(5)}M${at(-5, -16)}L${at(-5, 16)}M${at(5, -16)}L${at(5, 16)}`;
    case 'switch':
      return `${leads(14)}M${at(-14, 0)}L${at(12, -16)}`;
    case 'diode':
      return `${leads(11)}M${at(-11, -12)}L${at(-11, 12)}L${at(11, 0)}ZM${at(11, -12)}L${at(11, 12)}`;
    case 'voltageSource':
    case 'currentSource':
      return `${leads(16)}M${at(-16, -10)}L${at(16, -10)}L${at(16, 10)}L${at(-16, 10)}Z`;
    default:
      return `M${x0.toFixed(0)} ${y0.toFixed(0)}L${x1.toFixed(0)} ${y1.toFixed(0)}`;
  }
}

/** The strokes of a topology; body diodes, which stand beside their switches, are left out. */
export function strokesOf(topology: TopologyName, rectifier: 'synchronous' | 'diode'): Strokes {
  const { elements, wires, width, height } = formDrawing(topology, rectifier);
  const path = [
    ...wires.map(({ from, to }) => `M${from.join(' ')}L${to.join(' ')}`),
    ...elements.filter(({ place }) => place !== 'bypass').map(symbol),
  ].join('');
  return { viewBox: `0 60 ${String(width)} ${String(height - 60)}`, path };
}

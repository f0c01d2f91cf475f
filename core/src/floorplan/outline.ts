/** A pad of a part: where it lies on it, m from its middle while the part is not turned, y downwards. @public */
export interface Pad {
  /** The node of the circuit, or a line of the controller: `gate highSide1`, `feedback`. */
  readonly net: string;
  readonly x: number;
  readonly y: number;
  /** Along x and along y. */
  readonly length: number;
  readonly width: number;
}

export type OutlineKind =
  'switch' | 'diode' | 'choke' | 'capacitor' | 'resistor' | 'protection' | 'controller' | 'divider' | 'terminal';

/** A part of the board as a rectangle with pads. @public */
export interface Outline {
  readonly key: string;
  readonly kind: OutlineKind;
  /** The element of the circuit that it is, or is one of; undefined for what the circuit does not draw. */
  readonly element: string | undefined;
  readonly words: string;
  readonly mark: string;
  /** m, along x and along y while the part is not turned. */
  readonly length: number;
  readonly width: number;
  /** Whether the record states its size; otherwise it is a large one of its class. */
  readonly stated: boolean;
  readonly pads: readonly Pad[];
  /** It grows old by heat. */
  readonly wearsOut: boolean;
}

/** Sizes where no record states them, m: large ones of their class, so that no plan looks better for it. Common practice. */
const ASSUMED = {
  switch: [6.2e-3, 5.2e-3],
  diode: [7e-3, 4e-3],
  choke: [13e-3, 13e-3],
  capacitor: [3.2e-3, 2.5e-3],
  polymer: [7.3e-3, 4.3e-3],
  electrolytic: [10.5e-3, 10.5e-3],
  tantalum: [7.3e-3, 4.3e-3],
  film: [18e-3, 9e-3],
  resistor: [6.4e-3, 3.2e-3],
  fuse: [11e-3, 5e-3],
  suppressor: [8e-3, 6e-3],
  precharge: [14e-3, 7e-3],
  controller: [5e-3, 5e-3],
  divider: [3.2e-3, 1.6e-3],
  terminal: [5e-3, 10e-3],
} as const;
export type AssumedSize = keyof typeof ASSUMED;

/** The size of a part, m, the long side first but for terminals, which stand across. */
export function sizeOf(
  part: { readonly length?: number | undefined; readonly width?: number | undefined },
  assumed: AssumedSize,
): Pick<Outline, 'length' | 'width' | 'stated'> {
  const [length, width] = ASSUMED[assumed];
  if (part.length === undefined || part.width === undefined) return { length, width, stated: false };
  return { length: Math.max(part.length, part.width), width: Math.min(part.length, part.width), stated: true };
}

/** Shares of the length that pads take, from the left: what common packages have. Common practice. */
const END = 0.25;
const TAB = 0.55;
const SOURCE_WIDTH = 0.7;

type Size = Pick<Outline, 'length' | 'width'>;

/** A pad at an end of a part over a share of its length, as wide as it. */
const endPad = (net: string, { length, width }: Size, side: -1 | 1, share: number): Pad => ({
  net,
  x: (side * length * (1 - share)) / 2,
  y: 0,
  length: share * length,
  width,
});

/** Two pads, one at each end. */
export const twoEnds = (size: Size, left: string, right: string): readonly Pad[] => [
  endPad(left, size, -1, END),
  endPad(right, size, 1, END),
];

/** A tab over most of the part, and a pad at the other end: a diode by its cathode. */
export const tabAndEnd = (size: Size, end: string, tab: string): readonly Pad[] => [
  endPad(end, size, -1, END),
  endPad(tab, size, 1, TAB),
];

/** A switch: its drain a tab, source and gate side by side at the other end. */
export function switchPads(size: Size, drain: string, source: string, gate: string): readonly Pad[] {
  const { width } = size;
  const edge = endPad(source, size, -1, END);
  const rest = (1 - SOURCE_WIDTH) * width;
  return [
    { ...edge, y: -rest / 2, width: SOURCE_WIDTH * width },
    { ...edge, net: gate, y: (width - 0.8 * rest) / 2, width: 0.8 * rest },
    endPad(drain, size, 1, TAB),
  ];
}

/** Pads along the two sides of a part, evenly. */
export function alongSides(size: Size, left: readonly string[], right: readonly string[]): readonly Pad[] {
  const side = (nets: readonly string[], at: -1 | 1): readonly Pad[] =>
    nets.map((net, k) => ({
      ...endPad(net, size, at, 0.15),
      y: size.width * ((k + 0.5) / nets.length - 0.5),
      width: (0.6 * size.width) / nets.length,
    }));
  return [...side(left, -1), ...side(right, 1)];
}

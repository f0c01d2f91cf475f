import type { ClosedForm } from '../firstcut/closedForm.js';
import { MU_0 } from '../magnetics/copper.js';

const IPC2221 =
  'IPC-2221 (generic design standard; its conductor chart fitted as I = k ΔT^0.44 A^0.725, constants from memory)';
/** A square mil, m². */
const SQUARE_MIL = 25.4e-6 ** 2;
const B = 0.44;
const C = 0.725;

/** k of the chart on the outside of a board and within it. @public */
export const CONDUCTOR_K = { external: 0.048, internal: 0.024 } as const;

/** Width of a conductor that a current warms by so much. @public */
export const conductorWidth: ClosedForm<'current' | 'rise' | 'thickness' | 'k'> = {
  name: 'Width of a conductor',
  symbol: 'w',
  unit: 'm',
  formula: '\\frac{1}{t}\\left(\\frac{I}{k\\,\\Delta T^{0.44}}\\right)^{1/0.725}\\;\\mathrm{mil}^2',
  source: IPC2221,
  assumption:
    'A conductor alone on a board without planes. Newer data (IPC-2152) let inner layers and boards with planes carry more: this is on the safe side.',
  inputs: {
    current: { symbol: 'I', name: 'rms current', unit: 'A' },
    rise: { symbol: '\\Delta T', name: 'rise over the board', unit: 'K' },
    thickness: { symbol: 't', name: 'thickness of the copper', unit: 'm' },
    k: { symbol: 'k', name: 'constant of the chart: 0.048 outside, 0.024 inside', unit: 'ratio' },
  },
  compute: (v) => ((v.current / (v.k * v.rise ** B)) ** (1 / C) * SQUARE_MIL) / v.thickness,
};

/** Current that warms a conductor of a cross section by so much: the same chart the other way. @public */
export const conductorCurrent: ClosedForm<'area' | 'rise' | 'k'> = {
  name: 'Current of a conductor',
  symbol: 'I',
  unit: 'A',
  formula: 'k\\,\\Delta T^{0.44}\\left(A/\\mathrm{mil}^2\\right)^{0.725}',
  source: IPC2221,
  assumption: 'The barrel of a via counts as a conductor within the board. Common practice.',
  inputs: {
    area: { symbol: 'A', name: 'cross section', unit: 'm²' },
    rise: { symbol: '\\Delta T', name: 'rise over the board', unit: 'K' },
    k: { symbol: 'k', name: 'constant of the chart', unit: 'ratio' },
  },
  compute: (v) => v.k * v.rise ** B * (v.area / SQUARE_MIL) ** C,
};

/** Resistance of a piece of foil between two of its edges. @public */
export const foilResistance: ClosedForm<'resistivity' | 'length' | 'width' | 'thickness'> = {
  name: 'Resistance of a piece of foil',
  symbol: 'R',
  unit: 'ohm',
  formula: '\\frac{\\rho}{t}\\,\\frac{l}{w}',
  source: 'Definition (squares of foil); copper by IEC 60028',
  assumption:
    'The current fills the width. Between two points of a wide plane it spreads: about a square more at each.',
  inputs: {
    resistivity: { symbol: '\\rho', name: 'resistivity of copper, in ohm metres', unit: 'ratio' },
    length: { symbol: 'l', name: 'length', unit: 'm' },
    width: { symbol: 'w', name: 'width', unit: 'm' },
    thickness: { symbol: 't', name: 'thickness', unit: 'm' },
  },
  compute: (v) => ((v.resistivity / v.thickness) * v.length) / v.width,
};

/** Inductance of a rectangular loop of strip with nothing under it. @public */
export const openLoopInductance: ClosedForm<'length' | 'breadth' | 'width'> = {
  name: 'Inductance of a loop, no plane under it',
  symbol: 'L_p',
  unit: 'H',
  formula:
    '\\frac{\\mu_0}{\\pi}\\left[a\\ln\\tfrac{2a}{r}+b\\ln\\tfrac{2b}{r}+2d-a\\,\\mathrm{arsinh}\\tfrac{a}{b}-b\\,\\mathrm{arsinh}\\tfrac{b}{a}-2(a+b)\\right],\\quad r=0.2235\\,w',
  source:
    'F. W. Grover, Inductance Calculations, ch. 8 (rectangle of round wire), the strip as a wire of its geometric mean distance, 0.2235 w; from memory',
  assumption: 'Edges are too fast for current within the copper; parts count as strip of the same width.',
  inputs: {
    length: { symbol: 'a', name: 'length of the loop', unit: 'm' },
    breadth: { symbol: 'b', name: 'breadth of the loop', unit: 'm' },
    width: { symbol: 'w', name: 'width of the copper', unit: 'm' },
  },
  compute: ({ length: a, breadth: b, width }) => {
    const r = 0.2235 * width;
    const d = Math.hypot(a, b);
    return (
      (MU_0 / Math.PI) *
      (a * Math.log((2 * a) / r) +
        b * Math.log((2 * b) / r) +
        2 * d -
        a * Math.asinh(a / b) -
        b * Math.asinh(b / a) -
        2 * (a + b))
    );
  },
};

/** Inductance of a loop that goes out over a plane and comes back within it. @public */
export const planeLoopInductance: ClosedForm<'length' | 'width' | 'height'> = {
  name: 'Inductance of a loop over a plane',
  symbol: 'L_p',
  unit: 'H',
  formula:
    '\\mu_0\\,l\\cdot\\begin{cases}\\dfrac{1}{w/h+1.393+0.667\\ln(w/h+1.444)}&w\\ge h\\\\[2ex]\\dfrac{1}{2\\pi}\\ln\\left(\\tfrac{8h}{w}+\\tfrac{w}{4h}\\right)&w<h\\end{cases}',
  source: 'E. Hammerstad, Equations for Microstrip Circuit Design, 1975 (line in air: L = Z₀/c per metre); from memory',
  assumption:
    'The plane is whole under all of the loop: a slot in it makes the loop as large as the way round the slot.',
  inputs: {
    length: { symbol: 'l', name: 'way out, from end to end', unit: 'm' },
    width: { symbol: 'w', name: 'width of the copper', unit: 'm' },
    height: { symbol: 'h', name: 'height over the plane', unit: 'm' },
  },
  compute: ({ length, width, height }) => {
    const u = width / height;
    return u >= 1
      ? (MU_0 * length) / (u + 1.393 + 0.667 * Math.log(u + 1.444))
      : ((MU_0 * length) / (2 * Math.PI)) * Math.log(8 / u + u / 4);
  },
};

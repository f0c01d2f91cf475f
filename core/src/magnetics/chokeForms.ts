import type { ClosedForm } from '../firstcut/closedForm.js';
import { MU_0 } from './copper.js';

const ERICKSON13 = 'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 13';

/** Inductance of turns on a core with a gap, without current. */
export const gappedInductance: ClosedForm<'turns' | 'area' | 'length' | 'permeability' | 'gap' | 'fringing'> = {
  name: 'Inductance without current',
  symbol: 'L_0',
  unit: 'H',
  formula: '\\frac{\\mu_0 N^2 A}{l/\\mu_i+g/F}',
  source: `${ERICKSON13} (gapped inductor)`,
  assumption: 'Of one flux path; those beside each other add up.',
  inputs: {
    turns: { symbol: 'N', name: 'turns', unit: 'count' },
    area: { symbol: 'A', name: 'area of the path', unit: 'm²' },
    length: { symbol: 'l', name: 'length of the core', unit: 'm' },
    permeability: { symbol: '\\mu_i', name: 'relative permeability without field', unit: 'count' },
    gap: { symbol: 'g', name: 'gap in all', unit: 'm' },
    fringing: { symbol: 'F', name: 'how much more the gap lets through', unit: 'ratio' },
  },
  compute: (v) => (MU_0 * v.turns ** 2 * v.area) / (v.length / v.permeability + v.gap / v.fringing),
};

/** Loss of a flux path over the real waveform with its steady flux. */
export const pathLoss: ClosedForm<
  'density' | 'frequency' | 'frequencyExponent' | 'swing' | 'fluxExponent' | 'shape' | 'rise' | 'steady' | 'volume'
> = {
  name: 'Core loss',
  symbol: 'P_c',
  unit: 'W',
  formula:
    'p\\left(\\tfrac{f}{100\\,\\mathrm{kHz}}\\right)^{\\alpha}\\left(\\tfrac{\\Delta B/2}{0.1\\,\\mathrm{T}}\\right)^{\\beta} s\\left(1+k\\,b^2\\right)V',
  source:
    'K. Venkatachalam, C. R. Sullivan, T. Abdallah, H. Tacca, IEEE COMPEL 2002 (improved generalised Steinmetz); the rise with the steady flux from memory',
  assumption:
    'Half the swing of the flux density goes into the power law of C. P. Steinmetz; minor loops are left out.',
  inputs: {
    density: { symbol: 'p', name: 'loss of a cubic metre at 100 kHz and 0.1 T', unit: 'W' },
    frequency: { symbol: 'f', name: 'frequency', unit: 'Hz' },
    frequencyExponent: { symbol: '\\alpha', name: 'exponent of the frequency', unit: 'ratio' },
    swing: { symbol: '\\Delta B', name: 'flux density peak to peak', unit: 'T' },
    fluxExponent: { symbol: '\\beta', name: 'exponent of the flux density', unit: 'ratio' },
    shape: { symbol: 's', name: 'waveform over a sine of equal swing', unit: 'ratio' },
    rise: { symbol: 'k', name: 'rise of the loss at the limit of the material', unit: 'ratio' },
    steady: { symbol: 'b', name: 'steady flux over that limit', unit: 'ratio' },
    volume: { symbol: 'V', name: 'volume, in cubic metres', unit: 'ratio' },
  },
  compute: (v) =>
    v.density *
    (v.frequency / 100e3) ** v.frequencyExponent *
    (v.swing / 2 / 0.1) ** v.fluxExponent *
    v.shape *
    (1 + v.rise * v.steady ** 2) *
    v.volume,
};

/** Resistance of a winding to a steady current. */
export const windingOhms: ClosedForm<'resistivity' | 'length' | 'area'> = {
  name: 'Resistance of the winding',
  symbol: 'R',
  unit: 'ohm',
  formula: '\\rho\\,l_w/A_w',
  source: 'Definition; copper by IEC 60028',
  assumption: 'Without its ends.',
  inputs: {
    resistivity: { symbol: '\\rho', name: 'resistivity of copper, in ohm metres', unit: 'ratio' },
    length: { symbol: 'l_w', name: 'length of the wire', unit: 'm' },
    area: { symbol: 'A_w', name: 'copper of a turn', unit: 'm²' },
  },
  compute: (v) => (v.resistivity * v.length) / v.area,
};

/** Exponent of the rise over the loss of a square centimetre. */
const RISE = 0.833;

/** Rise of a surface over still air. */
export const surfaceRise: ClosedForm<'loss' | 'surface'> = {
  name: 'Rise over the air',
  symbol: '\\Delta T',
  unit: 'K',
  formula: '\\left(\\frac{P/\\mathrm{mW}}{S/\\mathrm{cm}^2}\\right)^{0.833}',
  source: 'Common practice',
  assumption: 'In still air, all faces cooled; a fan or a board’s copper makes it less, a box more.',
  inputs: {
    loss: { symbol: 'P', name: 'loss', unit: 'W' },
    surface: { symbol: 'S', name: 'surface', unit: 'm²' },
  },
  compute: (v) => ((1e3 * v.loss) / (1e4 * v.surface)) ** RISE,
};

/** W that warm a surface, m², by so many kelvin: the same law the other way. */
export const wattsFor = (rise: number, surface: number): number => (rise ** (1 / RISE) * 1e4 * surface) / 1e3;

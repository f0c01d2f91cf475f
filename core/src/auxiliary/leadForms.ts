import type { ClosedForm, FormulaInput } from '../firstcut/closedForm.js';

const OHM = 'Ohm’s law (definition)';
const current: FormulaInput = { symbol: 'I', name: 'current', unit: 'A' };
const resistivity: FormulaInput = { symbol: '\\rho', name: 'resistivity of copper, in ohm metres', unit: 'ratio' };

const wire = {
  current,
  length: { symbol: 'l', name: 'length, one way', unit: 'm' },
  diameter: { symbol: 'd', name: 'diameter of the copper', unit: 'm' },
  count: { symbol: 'N', name: 'wires in parallel', unit: 'count' },
  resistivity,
} as const satisfies Record<string, FormulaInput>;

/** Drop of wires there and back. */
export const wireDrop: ClosedForm<keyof typeof wire> = {
  name: 'Drop, there and back',
  symbol: '\\Delta V',
  unit: 'V',
  formula: '\\frac{2\\,\\rho\\,l\\,I}{N\\,\\pi d^2/4}',
  source: `${OHM}; copper by IEC 60028`,
  assumption: 'Direct current. It comes off the lowest input; at the output sense at the load, or let it be.',
  inputs: wire,
  compute: (v) => (2 * v.resistivity * v.length * v.current) / ((v.count * Math.PI * v.diameter ** 2) / 4),
};
/** What they lose. */
export const wireLoss: ClosedForm<keyof typeof wire> = {
  name: 'Loss of the wires',
  symbol: 'P',
  unit: 'W',
  formula: 'I\\,\\Delta V',
  source: OHM,
  assumption: 'Beside the losses of the stage, not among them.',
  inputs: wire,
  compute: (v) => v.current * wireDrop.compute(v),
};
/** How dense the current is. */
export const wireDensity: ClosedForm<'current' | 'diameter' | 'count'> = {
  name: 'Current density, in A/mm²',
  symbol: 'J',
  unit: 'ratio',
  formula: '\\frac{I}{N\\,\\pi d^2/4}',
  source: 'Definition',
  assumption:
    'Some four in a bundle, six to ten in free air: common practice. What protects the wire, and the local code, decide.',
  inputs: { current, diameter: wire.diameter, count: wire.count },
  compute: (v) => v.current / ((v.count * Math.PI * v.diameter ** 2) / 4) / 1e6,
};
/** The gauge of a wire. */
export const wireGauge: ClosedForm<'diameter'> = {
  name: 'American wire gauge of one',
  symbol: 'n',
  unit: 'ratio',
  formula: '36-39\\,\\frac{\\ln(d/0.127\\,\\mathrm{mm})}{\\ln 92}',
  source: 'ASTM B258 (standard nominal diameters of round wires), from memory',
  assumption: 'Of the copper, solid or as much in strands. The next lower whole number is thicker.',
  inputs: { diameter: wire.diameter },
  compute: (v) => 36 - (39 * Math.log(v.diameter / 0.127e-3)) / Math.log(92),
};
/** How stiff wires in parallel are beside one with as much copper. */
export const wireStiffness: ClosedForm<'count'> = {
  name: 'Stiffness beside one wire of as much copper',
  symbol: 's',
  unit: 'ratio',
  formula: '\\frac{1}{N}',
  source: 'Bending of round bars, N (π/64)(d/√N)⁴ beside (π/64) d⁴ (S. Timoshenko, Strength of Materials, part I)',
  assumption:
    'The wires slide past each other. Two thinner ones bend twice as easily, cool better, and each must be fused for itself.',
  inputs: { count: wire.count },
  compute: (v) => 1 / v.count,
};

const contact = {
  current,
  contacts: { symbol: 'N', name: 'contacts of each pole', unit: 'count' },
  resistance: { symbol: 'R_c', name: 'resistance of a contact', unit: 'ohm' },
} as const satisfies Record<string, FormulaInput>;
/** Contacts of each pole. */
export const contactsNeeded: ClosedForm<'current' | 'rated' | 'share'> = {
  name: 'Contacts of each pole, at the least',
  symbol: 'N_\\mathrm{min}',
  unit: 'ratio',
  formula: '\\frac{I}{s\\,I_c}',
  source: 'common practice: a contact beside loaded neighbours carries less than alone',
  assumption: 'They share evenly only if their leads are alike.',
  inputs: {
    current,
    rated: { symbol: 'I_c', name: 'rated current of a contact', unit: 'A' },
    share: { symbol: 's', name: 'share it carries beside loaded neighbours', unit: 'ratio' },
  },
  compute: (v) => v.current / (v.rated * v.share),
};
/** Drop of a connector, both poles. */
export const connectorDrop: ClosedForm<keyof typeof contact> = {
  name: 'Drop, both poles',
  symbol: '\\Delta V',
  unit: 'V',
  formula: '\\frac{2\\,I\\,R_c}{N}',
  source: OHM,
  assumption: 'New contacts: twice the resistance after their rated number of matings is common practice.',
  inputs: contact,
  compute: (v) => (2 * v.current * v.resistance) / v.contacts,
};
/** What it loses. */
export const connectorLoss: ClosedForm<keyof typeof contact> = {
  name: 'Loss of the connector',
  symbol: 'P',
  unit: 'W',
  formula: 'I\\,\\Delta V',
  source: OHM,
  assumption: 'Beside the losses of the stage, not among them.',
  inputs: contact,
  compute: (v) => v.current * connectorDrop.compute(v),
};

const plane = {
  apart: { symbol: 'D', name: 'between their middles', unit: 'm' },
  radius: { symbol: 'r', name: 'radius of each', unit: 'm' },
  thickness: { symbol: 't', name: 'thickness of the foil', unit: 'm' },
  resistivity,
} as const satisfies Record<string, FormulaInput>;
/** Resistance of a wide plane between two round places where the current enters and leaves. */
export const planeResistance: ClosedForm<keyof typeof plane> = {
  name: 'Resistance between them',
  symbol: 'R',
  unit: 'ohm',
  formula: '\\frac{\\rho}{\\pi t}\\,\\mathrm{arcosh}\\frac{D}{2r}',
  source:
    'W. R. Smythe, Static and Dynamic Electricity, ch. 6 (as the capacitance of two parallel cylinders); from memory',
  assumption:
    'The plane is several times wider than they are apart; at its edge it is up to twice as much. Nearly all of it is lost around the two places.',
  inputs: plane,
  compute: (v) => (v.resistivity / (Math.PI * v.thickness)) * Math.acosh(Math.max(1, v.apart / (2 * v.radius))),
};
/** Drop there. */
export const planeDrop: ClosedForm<keyof typeof plane | 'current'> = {
  name: 'Drop between them',
  symbol: '\\Delta V',
  unit: 'V',
  formula: 'I\\,R',
  source: OHM,
  assumption: 'What is sensed beside it reads that much wrong: sense by lines of their own.',
  inputs: { ...plane, current },
  compute: (v) => v.current * planeResistance.compute(v),
};

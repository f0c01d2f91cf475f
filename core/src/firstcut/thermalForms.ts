import type { ClosedForm, FormulaInput } from './closedForm.js';

const ambient: FormulaInput = { symbol: 'T_a', name: 'ambient temperature', unit: 'degC' };
const thermal: FormulaInput = { symbol: 'R_\\theta', name: 'thermal resistance, junction to ambient', unit: 'K/W' };

/** Junction temperature where the on-resistance rises in a straight line with it. */
export const linearJunction: ClosedForm<'ambient' | 'thermal' | 'channel' | 'coefficient' | 'other'> = {
  name: 'Junction temperature with a resistance that rises in a straight line',
  symbol: 'T_j',
  unit: 'degC',
  formula: '\\frac{T_a+R_\\theta\\left(P_0+P_{25}(1-25\\,\\alpha)\\right)}{1-R_\\theta P_{25}\\,\\alpha}',
  source: 'Fixed point of loss and temperature, derived here',
  assumption: 'No solution, which is thermal runaway, where the product below the line reaches one.',
  inputs: {
    ambient,
    thermal,
    channel: { symbol: 'P_{25}', name: 'channel loss with the resistance at 25 °C', unit: 'W' },
    coefficient: { symbol: '\\alpha', name: 'rise of the resistance per kelvin', unit: 'ratio' },
    other: { symbol: 'P_0', name: 'losses that do not follow the temperature', unit: 'W' },
  },
  compute: (v) =>
    (v.ambient + v.thermal * (v.other + v.channel * (1 - 25 * v.coefficient))) /
    (1 - v.thermal * v.channel * v.coefficient),
};

/** Junction temperature at the loss the device settles at. */
export const junctionRise: ClosedForm<'ambient' | 'thermal' | 'loss'> = {
  name: 'Junction temperature',
  symbol: 'T_j',
  unit: 'degC',
  formula: 'T_a+R_\\theta\\,P(T_j)',
  source: 'Thermal resistance (definition); loss and temperature found together, the lowest solution',
  assumption:
    'One path for each device; neighbours do not heat it. A board and its air move the figure by tens of per cent.',
  inputs: {
    ambient,
    thermal,
    loss: { symbol: 'P', name: 'loss of the device at that temperature', unit: 'W' },
  },
  compute: (v) => v.ambient + v.thermal * v.loss,
};

/** Thermal conductivity of copper, W/(m K), and what natural convection with radiation carries off, W/(m² K). Usual range 8 to 12. */
export const COPPER_CONDUCTIVITY = 390;
export const CONVECTION = 10;

/** Share of its area that a copper fin makes use of. */
export const finEfficiency: ClosedForm<'convection' | 'conductivity' | 'thickness' | 'length' | 'sides'> = {
  name: 'Efficiency of a copper fin',
  symbol: '\\eta',
  unit: 'ratio',
  formula: '\\frac{\\tanh mL}{mL},\\;m=\\sqrt{\\frac{s\\,h}{k\\,t}}',
  source: 'Straight fin with an adiabatic tip (standard heat-transfer result)',
  assumption: 'Copper only: the board beside it is left out, so it is on the safe side.',
  inputs: {
    convection: { symbol: 'h', name: 'heat transfer to the air', unit: 'ratio' },
    conductivity: { symbol: 'k', name: 'thermal conductivity of the copper', unit: 'ratio' },
    thickness: { symbol: 't', name: 'thickness', unit: 'm' },
    length: { symbol: 'L', name: 'length from the device outwards', unit: 'm' },
    sides: { symbol: 's', name: 'cooled sides', unit: 'count' },
  },
  compute: (v) => {
    const m = Math.sqrt((v.sides * v.convection) / (v.conductivity * v.thickness));
    return Math.tanh(m * v.length) / (m * v.length);
  },
};

/** Thermal resistance from case to air over a copper area. */
export const copperToAir: ClosedForm<'convection' | 'area' | 'sides' | 'efficiency'> = {
  name: 'Copper area to air',
  symbol: 'R_{\\theta CA}',
  unit: 'K/W',
  formula: '\\frac{1}{\\eta\\,s\\,h\\,A}',
  source: 'Convection (definition)',
  assumption: 'The device sits in the middle of its own copper, which no neighbour heats.',
  inputs: {
    convection: { symbol: 'h', name: 'heat transfer to the air, W/(m² K)', unit: 'ratio' },
    area: { symbol: 'A', name: 'copper area of a side', unit: 'm²' },
    sides: { symbol: 's', name: 'cooled sides', unit: 'count' },
    efficiency: { symbol: '\\eta', name: 'fin efficiency', unit: 'ratio' },
  },
  compute: (v) => 1 / (v.efficiency * v.convection * v.area * v.sides),
};

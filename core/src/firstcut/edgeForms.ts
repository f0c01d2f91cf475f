import type { ClosedForm, FormulaInput } from './closedForm.js';
import { SOURCES } from './sources.js';

const gateDrain: FormulaInput = { symbol: 'Q_{gd}', name: 'gate-drain charge', unit: 'C' };
const resistance: FormulaInput = { symbol: 'R_g', name: 'gate resistance, driver and device together', unit: 'ohm' };
const plateau: FormulaInput = { symbol: 'V_{pl}', name: 'gate plateau voltage', unit: 'V' };
const threshold: FormulaInput = { symbol: 'V_{th}', name: 'gate threshold voltage', unit: 'V' };
const drive: FormulaInput = { symbol: 'V_{dr}', name: 'gate drive voltage', unit: 'V' };
const gateSource: FormulaInput = { symbol: 'Q_{gs}', name: 'gate-source charge, up to the plateau', unit: 'C' };
const GATE = 'Charge of the gate over what the drive pushes through its resistance (standard drive model)';

/** Time in which the current moves into the switch at turn-on, and the voltage falls after it. */
export const turnOnTime: ClosedForm<'gateSource' | 'gateDrain' | 'threshold' | 'plateau' | 'drive' | 'resistance'> = {
  name: 'Time of the turn-on edge',
  symbol: 't_\\mathrm{on}',
  unit: 's',
  formula:
    'R_g\\left(\\frac{Q_{gs}\\,(1-V_{th}/V_{pl})}{V_{dr}-\\tfrac12(V_{th}+V_{pl})}+\\frac{Q_{gd}}{V_{dr}-V_{pl}}\\right)',
  source: GATE,
  assumption: 'The current rises from threshold to plateau, then the voltage falls along the plateau.',
  inputs: { gateSource, gateDrain, threshold, plateau, drive, resistance },
  compute: (v) =>
    v.resistance *
    ((v.gateSource * (1 - v.threshold / v.plateau)) / (v.drive - (v.threshold + v.plateau) / 2) +
      v.gateDrain / (v.drive - v.plateau)),
};

/** Time in which the voltage rises across the switch at turn-off, and the current leaves it. */
export const turnOffTime: ClosedForm<'gateSource' | 'gateDrain' | 'threshold' | 'plateau' | 'resistance'> = {
  name: 'Time of the turn-off edge',
  symbol: 't_\\mathrm{off}',
  unit: 's',
  formula: 'R_g\\left(\\frac{Q_{gd}}{V_{pl}}+\\frac{Q_{gs}\\,(1-V_{th}/V_{pl})}{\\tfrac12(V_{th}+V_{pl})}\\right)',
  source: GATE,
  assumption: 'The gate is pulled to its source; the voltage rises along the plateau, then the current falls.',
  inputs: { gateSource, gateDrain, threshold, plateau, resistance },
  compute: (v) =>
    v.resistance *
    (v.gateDrain / v.plateau + (v.gateSource * (1 - v.threshold / v.plateau)) / ((v.threshold + v.plateau) / 2)),
};

/** Loss of one edge at which current and voltage of a switch overlap. */
export const edgeOverlap: ClosedForm<'voltage' | 'current' | 'time' | 'fSw' | 'devices'> = {
  name: 'Overlap of voltage and current at an edge',
  symbol: 'P',
  unit: 'W',
  formula: 'n\\,\\tfrac12\\,V\\,I\\,t\\,f_\\mathrm{sw}',
  source: SOURCES.erickson4,
  assumption:
    'Clamped inductive load: the voltage stands while the current moves, and the other way round. Voltage and current are those of the waveform at the edge.',
  inputs: {
    voltage: { symbol: 'V', name: 'voltage across the switch on the blocking side of the edge', unit: 'V' },
    current: { symbol: 'I', name: 'current on its conducting side', unit: 'A' },
    time: { symbol: 't', name: 'time of the edge', unit: 's' },
    fSw: { symbol: 'f_\\mathrm{sw}', name: 'edges a second', unit: 'Hz' },
    devices: { symbol: 'n', name: 'phases', unit: 'count' },
  },
  compute: (v) => v.devices * 0.5 * v.voltage * v.current * v.time * v.fSw,
};

/** Loss of a charge drawn through a voltage once a period. */
export const periodicCharge: ClosedForm<'charge' | 'voltage' | 'fSw' | 'devices'> = {
  name: 'Charge drawn once a period',
  symbol: 'P',
  unit: 'W',
  formula: 'n\\,Q\\,V\\,f_\\mathrm{sw}',
  source: SOURCES.erickson4,
  assumption: 'The whole charge is drawn every period and none comes back.',
  inputs: {
    charge: { symbol: 'Q', name: 'charge', unit: 'C' },
    voltage: { symbol: 'V', name: 'voltage it is drawn from', unit: 'V' },
    fSw: { symbol: 'f_\\mathrm{sw}', name: 'times a second', unit: 'Hz' },
    devices: { symbol: 'n', name: 'phases', unit: 'count' },
  },
  compute: (v) => v.devices * v.charge * v.voltage * v.fSw,
};

/** Loss of the output charges at a turn-on: the switch's own energy, and what charging the other one costs; less what a reversed current moved before. */
export const outputChargeLoss: ClosedForm<
  'share' | 'ownEnergy' | 'otherCharge' | 'otherEnergy' | 'voltage' | 'fSw' | 'devices'
> = {
  name: 'Output charge at a turn-on',
  symbol: 'P',
  unit: 'W',
  formula: 'n\\left(1-s\\right)^2\\left(E_1+Q_2V-E_2\\right)f_\\mathrm{sw}',
  source: `${SOURCES.erickson4.replace('section 4.3', 'section 4.3.3')}, with the charge drawn into the other device`,
  assumption:
    'The switch discharges itself and charges the other device from the supply; for two equal devices that is QV, not both energies twice. A reversed current moves s = I t / Q of it within the dead time; of a linear capacitance the square of the voltage that is left is lost.',
  inputs: {
    share: { symbol: 's', name: 'share of the charge moved before the switch closes', unit: 'ratio' },
    ownEnergy: { symbol: 'E_1', name: 'energy in its own output charge', unit: 'J' },
    otherCharge: { symbol: 'Q_2', name: 'output charge of the other device', unit: 'C' },
    otherEnergy: { symbol: 'E_2', name: 'energy in it', unit: 'J' },
    voltage: { symbol: 'V', name: 'voltage switched', unit: 'V' },
    fSw: { symbol: 'f_\\mathrm{sw}', name: 'edges a second', unit: 'Hz' },
    devices: { symbol: 'n', name: 'phases', unit: 'count' },
  },
  compute: (v) => v.devices * (1 - v.share) ** 2 * (v.ownEnergy + v.otherCharge * v.voltage - v.otherEnergy) * v.fSw,
};

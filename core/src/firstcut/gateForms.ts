import type { ClosedForm } from './closedForm.js';

/** Gate voltage that a fast edge at the drain lifts a closed gate to. */
export const inducedGateVoltage: ClosedForm<'resistance' | 'gateDrain' | 'gateSource' | 'slope' | 'voltage'> = {
  name: 'Gate voltage induced by the other switch',
  symbol: '\\hat V_{gs}',
  unit: 'V',
  formula:
    'R_g\\,C_{gd}\\,\\frac{\\mathrm dv}{\\mathrm dt}\\left(1-e^{-\\frac{V}{\\mathrm dv/\\mathrm dt}\\,\\big/\\,R_g(C_{gd}+C_{gs})}\\right)',
  source: 'Linear capacitances under a voltage ramp, derived here',
  assumption:
    'Compare with the threshold of a hot device, which is lower than stated. Common-source inductance and the nonlinear capacitance are left out.',
  inputs: {
    resistance: { symbol: 'R_g', name: 'resistance that holds the gate down', unit: 'ohm' },
    gateDrain: { symbol: 'C_{gd}', name: 'gate-drain capacitance', unit: 'F' },
    gateSource: { symbol: 'C_{gs}', name: 'gate-source capacitance', unit: 'F' },
    slope: { symbol: '\\mathrm dv/\\mathrm dt', name: 'slope of the drain voltage', unit: 'V/s' },
    voltage: { symbol: 'V', name: 'voltage it rises by', unit: 'V' },
  },
  compute: (v) =>
    v.resistance *
    v.gateDrain *
    v.slope *
    -Math.expm1(-v.voltage / v.slope / (v.resistance * (v.gateDrain + v.gateSource))),
};

/** Bootstrap capacitor that holds a gate up with a given droop. @public */
export const bootstrapCapacitance: ClosedForm<'gateCharge' | 'leakage' | 'onTime' | 'recovery' | 'droop'> = {
  name: 'Bootstrap capacitor',
  symbol: 'C',
  unit: 'F',
  formula: '\\frac{Q_g+I_\\ell\\,t_\\mathrm{on}+Q_{rr}}{\\Delta V}',
  source: 'Charge balance (standard)',
  assumption: 'What the capacitor keeps at its bias counts, not what is printed on it.',
  inputs: {
    gateCharge: { symbol: 'Q_g', name: 'total gate charge', unit: 'C' },
    leakage: { symbol: 'I_\\ell', name: 'current the driver draws from it', unit: 'A' },
    onTime: { symbol: 't_\\mathrm{on}', name: 'longest on-time', unit: 's' },
    recovery: { symbol: 'Q_{rr}', name: 'recovery charge of the bootstrap diode', unit: 'C' },
    droop: { symbol: '\\Delta V', name: 'droop allowed', unit: 'V' },
  },
  compute: (v) => (v.gateCharge + v.leakage * v.onTime + v.recovery) / v.droop,
};

/** Gate resistance, of driver, resistor and device, for a time of the turn-on edge. @public */
export const gateResistanceForEdge: ClosedForm<
  'time' | 'gateSource' | 'gateDrain' | 'threshold' | 'plateau' | 'drive'
> = {
  name: 'Gate resistance for a turn-on edge',
  symbol: 'R_g',
  unit: 'ohm',
  formula:
    't\\,\\Big/\\left(\\frac{Q_{gs}(1-V_{th}/V_{pl})}{V_{dr}-\\tfrac12(V_{th}+V_{pl})}+\\frac{Q_{gd}}{V_{dr}-V_{pl}}\\right)',
  source: 'The time of the turn-on edge, solved for the resistance (standard drive model)',
  assumption: 'A slower edge rings and radiates less and loses more.',
  inputs: {
    time: { symbol: 't', name: 'time of the edge wanted', unit: 's' },
    gateSource: { symbol: 'Q_{gs}', name: 'gate-source charge, up to the plateau', unit: 'C' },
    gateDrain: { symbol: 'Q_{gd}', name: 'gate-drain charge', unit: 'C' },
    threshold: { symbol: 'V_{th}', name: 'gate threshold voltage', unit: 'V' },
    plateau: { symbol: 'V_{pl}', name: 'gate plateau voltage', unit: 'V' },
    drive: { symbol: 'V_{dr}', name: 'gate drive voltage', unit: 'V' },
  },
  compute: (v) =>
    v.time /
    ((v.gateSource * (1 - v.threshold / v.plateau)) / (v.drive - (v.threshold + v.plateau) / 2) +
      v.gateDrain / (v.drive - v.plateau)),
};

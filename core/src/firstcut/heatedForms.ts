import type { ClosedForm } from './closedForm.js';

/** Loss in a resistance that rises with its temperature. */
export const heatedLoss: ClosedForm<'stated' | 'coefficient' | 'temperature'> = {
  name: 'Loss in a warm resistance',
  symbol: 'P',
  unit: 'W',
  formula: 'P_{25}\\left(1+\\alpha\\,(T-25)\\right)',
  source: 'Linear temperature coefficient (definition); for copper 0.00393 per kelvin, IEC 60028',
  assumption:
    'The currents are those of the steady state with the resistance at 25 °C, which warmth changes by far less than the loss.',
  inputs: {
    stated: { symbol: 'P_{25}', name: 'loss with the resistance at 25 °C, from the waveforms', unit: 'W' },
    coefficient: { symbol: '\\alpha', name: 'rise of the resistance per kelvin', unit: 'ratio' },
    temperature: { symbol: 'T', name: 'temperature it settles at', unit: 'degC' },
  },
  compute: (v) => v.stated * (1 + v.coefficient * (v.temperature - 25)),
};

/** Loss of the leakage of a blocking diode. */
export const leakageLoss: ClosedForm<'voltage' | 'leakage' | 'temperature' | 'doubling' | 'devices'> = {
  name: 'Leakage of the blocking diode',
  symbol: 'P',
  unit: 'W',
  formula: 'n\\,V_r\\,I_{25}\\,2^{(T-25)/\\vartheta}',
  source: 'Leakage doubling with a fixed rise of temperature (common practice, from the Arrhenius law)',
  assumption: 'The leakage is taken as stated for the voltage blocked.',
  inputs: {
    voltage: { symbol: 'V_r', name: 'voltage blocked, averaged over the period', unit: 'V' },
    leakage: { symbol: 'I_{25}', name: 'leakage at 25 °C', unit: 'A' },
    temperature: { symbol: 'T', name: 'junction temperature', unit: 'degC' },
    doubling: { symbol: '\\vartheta', name: 'rise that doubles it', unit: 'K' },
    devices: { symbol: 'n', name: 'phases', unit: 'count' },
  },
  compute: (v) => v.devices * v.voltage * v.leakage * 2 ** ((v.temperature - 25) / v.doubling),
};

/** Core loss of a winding current that runs in straight lines, from the loss of a sine of the same swing. */
export const coreLossForm: ClosedForm<
  'coefficient' | 'fSw' | 'frequencyExponent' | 'swing' | 'fluxExponent' | 'shape' | 'devices'
> = {
  name: 'Core loss from volt-seconds and frequency',
  symbol: 'P',
  unit: 'W',
  formula:
    'n\\,s\\,k\\left(\\frac{f_\\mathrm{sw}}{100\\,\\mathrm{kHz}}\\right)^{a}\\left(\\frac{\\Delta\\lambda}{1\\,\\mathrm{\\mu Wb}}\\right)^{b}',
  source:
    'C. P. Steinmetz, On the Law of Hysteresis, 1892, in winding quantities; shape by K. Venkatachalam, C. R. Sullivan, T. Abdallah, H. Tacca, Accurate Prediction of Ferrite Core Loss with Nonsinusoidal Waveforms Using Only Steinmetz Parameters, IEEE COMPEL 2002',
  assumption: 'The coefficient is stated for a sine; the bias of the core is left out.',
  inputs: {
    coefficient: { symbol: 'k', name: 'core loss at 100 kHz and a swing of 1 µWb', unit: 'W' },
    fSw: { symbol: 'f_\\mathrm{sw}', name: 'switching frequency', unit: 'Hz' },
    frequencyExponent: { symbol: 'a', name: 'frequency exponent', unit: 'ratio' },
    swing: { symbol: '\\Delta\\lambda', name: 'swing of the flux linkage', unit: 'Wb' },
    fluxExponent: { symbol: 'b', name: 'flux exponent', unit: 'ratio' },
    shape: { symbol: 's', name: 'loss of this waveform over that of a sine of equal swing', unit: 'ratio' },
    devices: { symbol: 'n', name: 'phases', unit: 'count' },
  },
  compute: (v) =>
    v.devices * v.shape * v.coefficient * (v.fSw / 100e3) ** v.frequencyExponent * (v.swing / 1e-6) ** v.fluxExponent,
};

/** Further loss of the alternating part of a winding current. */
export const alternatingCopper: ClosedForm<'alternating' | 'direct' | 'rms' | 'devices'> = {
  name: 'Alternating-current loss of the winding',
  symbol: 'P',
  unit: 'W',
  formula: 'n\\,(R_\\sim-R)\\,I_\\sim^2',
  source: 'Definition; the resistance at the switching frequency stands for all harmonics',
  assumption: 'The harmonics above the first carry a small part of a triangle.',
  inputs: {
    alternating: { symbol: 'R_\\sim', name: 'resistance at the switching frequency', unit: 'ohm' },
    direct: { symbol: 'R', name: 'resistance', unit: 'ohm' },
    rms: { symbol: 'I_\\sim', name: 'RMS of the alternating part', unit: 'A' },
    devices: { symbol: 'n', name: 'phases', unit: 'count' },
  },
  compute: (v) => v.devices * (v.alternating - v.direct) * v.rms * v.rms,
};

/** What the controller draws from the input. */
export const supplyLoss: ClosedForm<'voltage' | 'current'> = {
  name: 'Supply of the controller',
  symbol: 'P',
  unit: 'W',
  formula: 'V_\\mathrm{in}\\,I_q',
  source: 'Definition',
  assumption: 'Fed from the input without loss or gain between.',
  inputs: {
    voltage: { symbol: 'V_\\mathrm{in}', name: 'input voltage', unit: 'V' },
    current: { symbol: 'I_q', name: 'supply current, averaged over running and sleeping', unit: 'A' },
  },
  compute: (v) => v.voltage * v.current,
};

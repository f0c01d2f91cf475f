/** The published sources the closed forms cite, once each. */
export const SOURCES = {
  erickson2:
    'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 2 (volt-second and charge balance, small ripple)',
  erickson3:
    'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 3 (losses in the averaged model)',
  erickson4:
    'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 4, section 4.3 (switching loss)',
  erickson5:
    'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 5 (discontinuous conduction)',
  erickson10: 'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 10 (input filter design)',
  middlebrook:
    'R. D. Middlebrook, Input Filter Considerations in Design and Application of Switching Regulators, IEEE IAS 1976',
  waveformRms: 'RMS of a trapezoidal waveform, by integration (standard result)',
  interleaving: 'Ripple cancellation of N interleaved triangles, by summation (standard result)',
  volts:
    'Volt-second balance with every resistance and diode drop, derived here by the method of R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 3',
  practice: 'Common practice',
} as const;

/** The units Yundro reads and prints. `ratio` is a plain number that may also be typed as a percentage. @public */
export const UNITS = {
  V: { symbol: 'V', spellings: ['V', 'volt', 'volts'] },
  A: { symbol: 'A', spellings: ['A', 'amp', 'amps', 'ampere'] },
  Hz: { symbol: 'Hz', spellings: ['Hz', 'hertz'] },
  H: { symbol: 'H', spellings: ['H', 'henry'] },
  F: { symbol: 'F', spellings: ['F', 'farad'] },
  ohm: { symbol: 'Ω', spellings: ['Ω', 'Ω', 'ohm', 'ohms', 'R'] },
  s: { symbol: 's', spellings: ['s', 'sec'] },
  W: { symbol: 'W', spellings: ['W', 'watt', 'watts'] },
  J: { symbol: 'J', spellings: ['J', 'joule'] },
  T: { symbol: 'T', spellings: ['T', 'tesla'] },
  Wb: { symbol: 'Wb', spellings: ['Wb', 'Vs', 'weber'] },
  C: { symbol: 'C', spellings: ['C', 'coulomb'] },
  S: { symbol: 'S', spellings: ['S', 'siemens'] },
  degC: { symbol: '°C', spellings: ['°C', 'degC', 'C', '℃'] },
  'K/W': { symbol: 'K/W', spellings: ['K/W', '°C/W'] },
  'A/s': { symbol: 'A/s', spellings: ['A/s'] },
  'V/s': { symbol: 'V/s', spellings: ['V/s'] },
  'V/A': { symbol: 'V/A', spellings: ['V/A', 'Ω', 'Ω', 'ohm', 'R'] },
  '1/V': { symbol: '1/V', spellings: ['1/V', '/V'] },
  deg: { symbol: '°', spellings: ['°', 'deg', 'degrees'] },
  dB: { symbol: 'dB', spellings: ['dB'] },
  K: { symbol: 'K', spellings: ['K', 'kelvin'] },
  m: { symbol: 'm', spellings: ['m'] },
  'm²': { symbol: 'cm²', spellings: ['cm²', 'cm2'] },
  h: { symbol: 'h', spellings: ['h', 'hours'] },
  ratio: { symbol: '', spellings: [] },
  count: { symbol: '', spellings: [] },
} as const satisfies Record<string, { symbol: string; spellings: readonly string[] }>;

/** @public */
export type Unit = keyof typeof UNITS;

/** Units whose numbers are printed as they are: no engineering prefix ("45 °C", "50 °", "0.35"). */
const PLAIN: ReadonlySet<Unit> = new Set(['degC', 'K', 'm²', 'h', 'deg', 'dB', 'ratio', 'count', 'K/W', 'V/A', '1/V']);

/**
 * Powers of ten at which a unit is typed and shown where that is not the SI unit itself, and other units that are read. Square
 * prefixes go by the square: a copper area is a matter of square centimetres.
 */
const SHOWN_POWER: Readonly<Partial<Record<Unit, number>>> = { 'm²': -4 };
export const OTHER_SPELLINGS: Readonly<Partial<Record<Unit, Readonly<Record<string, number>>>>> = {
  'm²': { 'm²': 0, m2: 0, 'mm²': -6, mm2: -6 },
};

/** The power of ten of the unit's symbol against SI. @public */
export const shownPower = (unit: Unit): number => SHOWN_POWER[unit] ?? 0;

/** Whether values of this unit take engineering prefixes. */
export function takesPrefix(unit: Unit): boolean {
  return !PLAIN.has(unit);
}

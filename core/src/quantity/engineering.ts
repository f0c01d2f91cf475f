import { good, refused, type Result } from '../result.js';
import { readComma, withoutComma, type CommaMeaning } from './comma.js';
import { OTHER_SPELLINGS, shownPower, takesPrefix, UNITS, type Unit } from './unit.js';

/** Powers of ten of the engineering prefixes; both micro signs (U+00B5, U+03BC) and plain `u` mean 1e-6. */
const PREFIX_POWER: Readonly<Record<string, number>> = {
  f: -15,
  p: -12,
  n: -9,
  u: -6,
  '\u00b5': -6,
  '\u03bc': -6,
  m: -3,
  k: 3,
  K: 3,
  M: 6,
  G: 9,
};
const PREFIX_OF_POWER: Readonly<Record<number, string>> = {
  [-15]: 'f',
  [-12]: 'p',
  [-9]: 'n',
  [-6]: '\u00b5',
  [-3]: 'm',
  0: '',
  3: 'k',
  6: 'M',
  9: 'G',
};
const LOWEST_POWER = -15;
const HIGHEST_POWER = 9;

/** Examples of what a field of each unit accepts, used in the sentence that refuses a text. */
function examples(unit: Unit): string {
  if (unit === 'ratio') return 'a number such as 0.35, or a percentage such as 35%';
  if (unit === 'count') return 'a whole number such as 4';
  if (!takesPrefix(unit)) return `a number such as 45, with or without the unit ${UNITS[unit].symbol}`;
  const { symbol } = UNITS[unit];
  return `a number such as 4.7u, 4u7, 350k or 10m, with or without the unit ${symbol}`;
}

/** The power of ten and whether the rest is understood, for the letters that follow (or interrupt) the digits. */
function readSuffix(suffix: string, unit: Unit): number | undefined {
  const text = suffix.trim();
  if (text === '') return shownPower(unit);
  if (text === '%') return unit === 'ratio' ? -2 : undefined;
  const spellings: readonly string[] = UNITS[unit].spellings;
  const isUnit = (s: string): boolean =>
    spellings.some((one) => one === s || (one.length > 1 && one.toLowerCase() === s.toLowerCase()));
  if (isUnit(text)) return shownPower(unit);
  const other = OTHER_SPELLINGS[unit]?.[text];
  if (other !== undefined) return other;
  if (!takesPrefix(unit)) return undefined;
  const power = PREFIX_POWER[text.charAt(0)];
  if (power === undefined) return undefined;
  const rest = text.slice(1).trim();
  return rest === '' || isUnit(rest) ? power : undefined;
}

/**
 * Read a quantity the way engineers type it: `4.7u`, `4u7`, `2R2`, `350k`, `1M`, `10m`, `-15`, `3.3 V`, `4.7 µH`, `4,7 µH`,
 * `1e-6`, and for a ratio `0.35` or `35%`. The digits are joined to the power of ten as text and converted once, so
 * `4.7u` is the same double as the literal 4.7e-6. A comma is the decimal sign where it can be nothing else; `1,000` is refused
 * with both its readings.
 *
 * @param unit the SI unit the field holds; another unit in the text is refused.
 * @param comma what a comma means that may mean either, where that was said (once for a file, say).
 * @returns the value in SI units, or a problem that quotes the text and says what is accepted.
 * @public
 */
export function parseQuantity(text: string, unit: Unit, comma?: CommaMeaning): Result<number> {
  const unreadable = refused({
    code: 'unreadable-quantity',
    path: '',
    received: text,
    unit: UNITS[unit].symbol,
    expected: examples(unit),
  });
  const typed = text
    .trim()
    .replace(/[\u2212\u2013]/g, '-')
    .replace(/[\u00a0\u2009\u202f]/g, ' ');
  const cleaned = withoutComma(typed, comma);
  if (cleaned === undefined) {
    const found = readComma(typed);
    const readings = found?.kind === 'ambiguous' ? [found.asDecimal, found.asThousands] : [];
    if (!readings.every((reading) => parseQuantity(reading, unit).ok)) return unreadable;
    return refused({
      code: 'ambiguous-quantity',
      path: '',
      received: text,
      unit: UNITS[unit].symbol,
      expected: readings.map((reading) => `“${reading}”`).join(' or '),
    });
  }
  // A letter in place of the decimal point: 4u7, 2R2, 3V3 (the resistor and capacitor marking habit of IEC 60062).
  const infix = /^([+-]?\d+)([a-zA-Z\u00b5\u03bc\u03a9\u2126]{1,2})(\d+)\s*(.*)$/.exec(cleaned);
  if (infix && !/^[eE]$/.test(infix[2] ?? '')) {
    const [, whole = '', letters = '', fraction = '', tail = ''] = infix;
    const power = readSuffix(letters, unit);
    const trailing = tail === '' || (UNITS[unit].spellings as readonly string[]).includes(tail);
    if (power === undefined || !trailing) return unreadable;
    return finite(`${whole}.${fraction}`, power, unit) ?? unreadable;
  }
  const plain = /^([+-]?(?:\d+\.?\d*|\.\d+))(?:[eE]([+-]?\d{1,3}))?\s*(.*)$/.exec(cleaned);
  if (!plain) return unreadable;
  const [, digits = '', exponent = '0', suffix = ''] = plain;
  const power = readSuffix(suffix, unit);
  if (power === undefined) return unreadable;
  return finite(digits, power + Number(exponent), unit) ?? unreadable;
}

function finite(digits: string, power: number, unit: Unit): Result<number> | undefined {
  const value = Number(`${digits}e${String(power)}`);
  if (!Number.isFinite(value)) return undefined;
  if (unit === 'count' && !Number.isInteger(value)) return undefined;
  return good(value === 0 ? 0 : value);
}

/** Shift the decimal point of a shortest-decimal string, as text, so that no rounding enters. */
function shifted(mantissaDigits: string, pointAt: number): string {
  if (pointAt <= 0) return `0.${'0'.repeat(-pointAt)}${mantissaDigits}`;
  if (pointAt >= mantissaDigits.length) return mantissaDigits + '0'.repeat(pointAt - mantissaDigits.length);
  return `${mantissaDigits.slice(0, pointAt)}.${mantissaDigits.slice(pointAt)}`;
}

/** A number split for setting in type: digits, engineering prefix and unit symbol. @public */
export interface PrintedQuantity {
  readonly number: string;
  /** Prefix and unit, for instance `µH`; empty for a plain number. */
  readonly unit: string;
}

/** What stands in the place of a number that is none. @public */
export const NOT_WORKED = 'not worked';
/** Powers of ten beyond which a unit without prefixes is printed as `1e7`. */
const PLAIN_POWERS = { least: -5, most: 6 } as const;

/**
 * Print a value in engineering notation, split into number and prefixed unit. Beyond the prefixes the power of ten is written out
 * (`1e21 V`); what is not finite is printed as {@link NOT_WORKED}, for a screen must not fail over one number.
 *
 * @param significant digits to round to; left out, every digit is kept so that reading the text back gives the same
 *   double.
 * @public
 */
export function printQuantity(value: number, unit: Unit, significant?: number): PrintedQuantity {
  const { symbol } = UNITS[unit];
  if (!Number.isFinite(value)) return { number: NOT_WORKED, unit: '' };
  if (value === 0) return { number: '0', unit: symbol };
  const scientific = significant === undefined ? value.toExponential() : value.toExponential(significant - 1);
  const match = /^(-?)(\d)(?:\.(\d+))?e([+-]\d+)$/.exec(scientific);
  if (!match) throw new RangeError(`Cannot print ${scientific}.`);
  const [, sign = '', lead = '', tail = '', exponentText = '0'] = match;
  const exponent = Number(exponentText);
  const printed = takesPrefix(unit)
    ? exponent >= LOWEST_POWER && exponent < HIGHEST_POWER + 3
    : exponent - shownPower(unit) >= PLAIN_POWERS.least && exponent - shownPower(unit) <= PLAIN_POWERS.most;
  if (!printed && unit !== 'count') {
    const mantissa = tail.replace(/0+$/, '');
    return {
      number: `${sign}${lead}${mantissa === '' ? '' : `.${mantissa}`}e${String(exponent - shownPower(unit))}`,
      unit: symbol,
    };
  }
  const power = takesPrefix(unit)
    ? Math.min(HIGHEST_POWER, Math.max(LOWEST_POWER, Math.floor(exponent / 3) * 3))
    : shownPower(unit);
  let digits = shifted(lead + tail, exponent - power + 1);
  // Trailing zeros after the point carry no value when printing exactly; when rounding they are kept up to the digits asked for.
  if (significant === undefined && digits.includes('.')) digits = digits.replace(/\.?0+$/, '');
  return { number: sign + digits, unit: `${PREFIX_OF_POWER[power] ?? ''}${symbol}` };
}

/** Figures of a number within a sentence. */
const SENTENCE_FIGURES = 4;

/** A quantity within a sentence: at most four figures, no trailing zeros (`4.2 V`, not `4.200 V`). @public */
export function sentenceQuantity(value: number, unit: Unit): string {
  return formatQuantity(Number(value.toPrecision(SENTENCE_FIGURES)), unit);
}

/**
 * Print a value as one text, for instance `4.7 µH` (with a thin space). See {@link printQuantity} for the digits.
 *
 * @public
 */
export function formatQuantity(value: number, unit: Unit, significant?: number): string {
  const printed = printQuantity(value, unit, significant);
  return printed.unit === '' ? printed.number : `${printed.number}\u2009${printed.unit}`;
}

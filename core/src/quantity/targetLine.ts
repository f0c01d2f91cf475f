import { parseQuantity } from './engineering.js';

/** What a line such as `20-29.2 V to 12 V 8 A` asks for; what it does not say is left out. SI units. @public */
export interface TargetLine {
  readonly inputVoltage: { readonly min: number; readonly max: number };
  readonly outputVoltage: number;
  readonly outputCurrent?: number;
}

const NUMBER = String.raw`[+\-\u2212]?\d+(?:[.,]\d+)?`;
const PREFIX = String.raw`[mkuµ]?`;
/** Between the ends of a range: a dash, dots, or a word. */
const RANGE = new RegExp(
  String.raw`^\s*(${NUMBER}\s*${PREFIX})\s*V?\s*(?:-|\u2013|\u2014|\.\.+|to)\s*(${NUMBER}\s*${PREFIX})\s*V?\s*$`,
  'i',
);
const SINGLE = new RegExp(String.raw`^\s*(${NUMBER}\s*${PREFIX})\s*V?\s*$`, 'i');
/** Between input and output. A dash alone is a range, and `to` may be either: the last one stands before the output. */
const ARROW = /\s*(?:->|→|=>|\binto\b|\bto\b)\s*/gi;
const CURRENT = new RegExp(String.raw`(?:,|@|at)?\s*(${NUMBER}\s*${PREFIX})\s*A\b`, 'i');

const volts = (text: string): number | undefined => {
  const read = parseQuantity(text.replace(/\s+/g, '').replace(',', '.'), 'V');
  return read.ok ? read.value : undefined;
};

/**
 * Understand a line in which a designer says what a stage is for: input range, output, load.
 *
 * @returns what it says; undefined where it is no such line.
 * @public
 */
export function targetLine(text: string): TargetLine | undefined {
  const amps = CURRENT.exec(text);
  const without = amps ? text.slice(0, amps.index) + text.slice(amps.index + amps[0].length) : text;
  const arrows = [...without.matchAll(ARROW)];
  const last = arrows.at(-1);
  if (!last) return undefined;
  const before = without.slice(0, last.index);
  const after = without.slice(last.index + last[0].length).replace(/[,@\s]+$/, '');
  const range = RANGE.exec(before);
  const single = SINGLE.exec(before);
  const [low, high] = range
    ? [volts(range[1] ?? ''), volts(range[2] ?? '')]
    : single
      ? [volts(single[1] ?? ''), volts(single[1] ?? '')]
      : [];
  const out = SINGLE.exec(after);
  const outputVoltage = out ? volts(out[1] ?? '') : undefined;
  if (low === undefined || high === undefined || outputVoltage === undefined) return undefined;
  const current = amps ? parseQuantity((amps[1] ?? '').replace(/\s+/g, '').replace(',', '.'), 'A') : undefined;
  return {
    inputVoltage: { min: Math.min(low, high), max: Math.max(low, high) },
    outputVoltage,
    ...(current?.ok && { outputCurrent: current.value }),
  };
}

import { formatQuantity, parseQuantity, problemsSentence, type Unit } from '@yundro/core';

/** What a text of a tool's field says: a value, or the sentence for why it is not taken. */
export type InlineReading = { readonly value: number } | { readonly fault: string };

/** How a value stands in such a field: numbers of things as they are. */
export const inlineText = (value: number, unit: Unit): string =>
  unit === 'count' ? String(value) : formatQuantity(value, unit, 4);

/**
 * Read the text of a tool's field.
 *
 * @param range what it may be; without it anything legible.
 */
export function inlineReading(text: string, unit: Unit, range?: readonly [least: number, most: number]): InlineReading {
  const read = parseQuantity(text, unit);
  if (!read.ok) return { fault: problemsSentence(read.problems) };
  const { value } = read;
  if (range && !(value >= range[0] && value <= range[1]))
    return {
      fault: `${inlineText(value, unit)} is outside ${inlineText(range[0], unit)} to ${inlineText(range[1], unit)}.`,
    };
  return { value };
}

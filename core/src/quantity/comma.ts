/** What a comma between digits means where it may mean either: said once for a file, or settled by the file itself. @public */
export type CommaMeaning = 'decimal' | 'thousands';

/** What a comma among the digits of a text means. */
export type CommaReading =
  | { readonly kind: CommaMeaning; readonly text: string }
  /** Decimal sign or mark of thousands: both are meant by somebody. The text by either reading. */
  | { readonly kind: 'ambiguous'; readonly asDecimal: string; readonly asThousands: string };

/**
 * Read the comma of a number: `4,7` is a decimal comma, `1,234.5`, `1.234,5` and `1,234,567` carry marks of thousands, `1,000` may
 * be one or a thousand. Before a zero, or with any other count of digits behind it than three, a single comma can only be the
 * decimal sign.
 *
 * @returns the text with a decimal point and without marks of thousands; undefined where no comma stands between digits.
 * @public
 */
export function readComma(text: string): CommaReading | undefined {
  const found = /^([+-]?)([\d.,]*\d,\d[\d.,]*)(.*)$/.exec(text);
  if (!found) return undefined;
  const [, sign = '', number = '', rest = ''] = found;
  const whole = (digits: string): string => sign + digits + rest;
  if (/^\d+,\d+$/.test(number)) {
    const asDecimal = whole(number.replace(',', '.'));
    if (!/^[1-9]\d{0,2},\d{3}$/.test(number)) return { kind: 'decimal', text: asDecimal };
    // Without the zeros behind the point, so that the two readings look as different as they are.
    const shortest = whole(number.replace(',', '.').replace(/\.?0+$/, ''));
    return { kind: 'ambiguous', asDecimal: shortest, asThousands: whole(number.replace(',', '')) };
  }
  if (/^\d{1,3}(,\d{3})+(\.\d+)?$/.test(number)) return { kind: 'thousands', text: whole(number.replaceAll(',', '')) };
  // The same habit with the two signs exchanged.
  if (/^\d{1,3}(\.\d{3})+,\d+$/.test(number))
    return { kind: 'decimal', text: whole(number.replaceAll('.', '').replace(',', '.')) };
  return undefined;
}

/** A text with its comma read; undefined where it may mean either and nobody has said which. */
export function withoutComma(text: string, meaning: CommaMeaning | undefined): string | undefined {
  const found = readComma(text);
  if (!found) return text;
  if (found.kind !== 'ambiguous') return found.text;
  if (meaning === undefined) return undefined;
  return meaning === 'decimal' ? found.asDecimal : found.asThousands;
}

/** What the texts of one file say of its commas. @public */
export interface FileCommas {
  /** What those that can mean but one thing say; undefined where there is none, or they contradict each other. */
  readonly settled: CommaMeaning | undefined;
  /** The first that may mean either. */
  readonly ambiguous: string | undefined;
}

/** Look through the cells of a file: one clear comma settles those that may mean either. */
export function commasOf(cells: Iterable<string>): FileCommas {
  const clear = new Set<CommaMeaning>();
  let ambiguous: string | undefined;
  for (const cell of cells) {
    const found = readComma(cell.trim());
    if (found?.kind === 'ambiguous') ambiguous ??= cell.trim();
    else if (found) clear.add(found.kind);
  }
  return { settled: clear.size === 1 ? [...clear][0] : undefined, ambiguous };
}

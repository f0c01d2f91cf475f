/** What a cell holds: a number in SI, words, or nothing. */
export type Cell = number | string | undefined;

/** Digits of a number given away: more than any datum has, fewer than rounding spoils. */
const DIGITS = 9;

/** Rows as text between tabs, one line each under their headings, as spreadsheets take them; tabs and line ends within become spaces. */
export function tableAsText(headings: readonly string[], rows: readonly (readonly Cell[])[]): string {
  const cell = (value: Cell): string =>
    value === undefined
      ? ''
      : typeof value === 'string'
        ? value.replace(/[\t\r\n]+/g, ' ')
        : Number.isFinite(value)
          ? String(Number(value.toPrecision(DIGITS)))
          : '';
  return [headings, ...rows].map((row) => row.map(cell).join('\t')).join('\n');
}

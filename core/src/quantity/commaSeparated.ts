/** A cell that a spreadsheet takes for text and nothing else. */
const quoted = (text: string): string => {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\n\r;]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
};

const cellOf = (cell: string | number | undefined): string =>
  cell === undefined ? '' : typeof cell === 'number' ? String(cell) : quoted(cell);

/**
 * Rows as comma-separated values: numbers in SI as they are, words as words.
 *
 * Source: RFC 4180, Common Format and MIME Type for CSV Files.
 */
export const commaSeparated = (rows: readonly (readonly (string | number | undefined)[])[]): string =>
  `${rows.map((cells) => cells.map(cellOf).join(',')).join('\r\n')}\r\n`;

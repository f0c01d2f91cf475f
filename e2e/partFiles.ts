import type { Page } from '@playwright/test';

/** Hand a file of parts to the library. */
export const give = (page: Page, name: string, text: string) =>
  page.getByTestId('part-file').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
/** What the library says of the parts it shows. */
export const status = (page: Page) => page.locator('.library').getByRole('status');

/** A CSV of inductors; rows with these numbers (the heading is row 1) are broken, each in its own way. */
export function csv(rows: number, broken: readonly number[] = []): string {
  const lines = ['name,inductance [uH],inductor resistance,saturation current'];
  for (let row = 2; row < rows + 2; row += 1) {
    const fault = broken.indexOf(row);
    lines.push(
      [
        fault === 0 ? '' : `IM-${String(row)}`,
        fault === 1 ? 'many' : fault === 2 ? '-3' : fault === 3 ? '' : String(row),
        fault === 4 ? '8 V' : fault === 5 ? 'low' : '8 mΩ',
        fault === 6 ? '0' : fault === 7 ? '1e9' : fault === 8 ? '--' : fault === 9 ? 'x A' : '12 A',
      ].join(','),
    );
  }
  return lines.join('\n');
}

import { expect, openStage, take, test } from '../desk';

test('a table of records sorts by its headings, keeps rows by words, leaves columns out and is copied for a spreadsheet', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openStage(page, 'Hull bus', 'Inductor');
  const table = page.getByRole('table', { name: 'Inductors that fit' });
  const losses = async (): Promise<number[]> =>
    (await table.locator('tbody tr td:nth-child(6)').allInnerTexts()).map(
      (text) => parseFloat(text) * (text.includes('mW') ? 1e-3 : 1),
    );
  const heading = table.getByRole('button', { name: /^copper loss/ });
  await heading.click();
  const up = await losses();
  expect(up.length).toBeGreaterThan(5);
  expect(up).toEqual([...up].sort((a, b) => a - b));
  await heading.click();
  await expect(table.getByRole('columnheader', { name: /^copper loss/ })).toHaveAttribute('aria-sort', 'descending');
  const down = await losses();
  expect(down).toEqual([...down].sort((a, b) => b - a));
  // Over all pages, not the one in view.
  expect(down[0]).toBeGreaterThan(Math.max(...up));

  await page.getByLabel('Inductors that fit: rows with').fill('LX');
  for (const name of await table.locator('tbody tr td:first-child').allInnerTexts()) expect(name).toMatch(/^LX/);
  await page.locator('.table-acts summary').click();
  await page.getByRole('checkbox', { name: 'volume' }).uncheck();
  await expect(table.getByRole('columnheader', { name: 'volume' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Inductors that fit: copy as text' }).click();
  await expect(page.getByText(/^\d+ rows are copied\.$/)).toBeVisible();
  const lines = (await page.evaluate(() => navigator.clipboard.readText())).split('\n').map((line) => line.split('\t'));
  expect(lines[0]).toEqual([
    'part',
    'inductance, H',
    'ripple ratio',
    'peak / saturation',
    'RMS / heating',
    'copper loss, W',
    'core loss, W',
  ]);
  const [, most] = lines;
  expect(most?.[0]).toBe(await table.locator('tbody tr td').first().innerText());
  expect(Number(most?.[5])).toBeCloseTo((await losses())[0] ?? NaN, 2);
});

test('the curves of a picture are kept in it while the design changes, read beside the present ones, and let go', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Inductor');
  const picture = page.getByRole('group', { name: /^Inductance against current/ });
  await page.getByRole('button', { name: /^Inductance against current.*: keep its curves$/ }).click();
  await take(page.getByLabel('Inductance', { exact: true }), '10u');
  const readOut = page.locator('.read-out', { has: page.getByRole('button', { name: /keep its curves/ }) });
  await picture.focus();
  // As many steps of the keys as it takes: the first reads the middle.
  await page.keyboard.press('ArrowLeft');
  await expect(readOut).toContainText(/now 9\.\d+.µH, {2}kept 1 6\.\d+.µH/);
  await page.getByRole('button', { name: /: without kept curves$/ }).click();
  await page.keyboard.press('Escape');
  await picture.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(readOut).toContainText(/value 9\.\d+.µH/);
  await expect(readOut).not.toContainText('kept');
});

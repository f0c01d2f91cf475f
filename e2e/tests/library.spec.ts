import { genericParts } from '@yundro/core';
import { expect, test } from '../desk';
import { csv, give, status } from '../partFiles';

test('the library shows every kind, sorts by a heading, filters by words and by a range, and draws the curve', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Parts library' }).click();
  await expect(status(page)).toContainText(/^\d+ of \d+ parts/);
  const rows = page.getByRole('region', { name: 'Parts' }).locator('tbody tr');
  await page.getByRole('button', { name: 'saturation current', exact: true }).click();
  const first = async (): Promise<string> => rows.first().innerText();
  const lowest = await first();
  await page.getByRole('button', { name: /^saturation current/ }).click();
  expect(await first()).not.toBe(lowest);
  await page.getByLabel('Column').selectOption({ label: 'inductance' });
  await page.getByLabel('at least').fill('4u');
  await page.getByLabel('at most').fill('4u9');
  for (const text of await rows.allInnerTexts()) expect(text).toMatch(/4\.70?.µH/);
  await rows.first().getByRole('button').click();
  await expect(page.getByRole('img', { name: 'Inductance against current' })).toBeVisible();
  await page.getByRole('button', { name: 'Capacitors' }).click();
  await page.getByLabel('Find').fill('polymer');
  await expect(rows.first()).toContainText('polymer');
  await expect(page.getByRole('heading', { name: /^LX/ })).toHaveCount(0);
});

test('ten broken rows are named with row and column, and nothing is imported until the designer says so', async ({
  page,
}) => {
  await page.goto('/library?kind=inductor');
  await expect(status(page)).toContainText(/\d+ of \d+ parts/);
  const before = await status(page).innerText();
  const broken = [3, 5, 7, 9, 11, 13, 15, 17, 19, 21];
  await give(page, 'broken.csv', csv(30, broken));
  const refused = page.getByRole('table', { name: 'Refused rows' });
  await expect(refused.locator('tbody tr')).toHaveCount(10);
  expect(await refused.locator('tbody tr td:first-child').allInnerTexts()).toEqual(broken.map(String));
  expect(await refused.locator('tbody tr td:nth-child(2)').allInnerTexts()).toEqual([
    'name',
    'inductance [uH]',
    'inductance [uH]',
    'inductance [uH]',
    'inductor resistance',
    'inductor resistance',
    'saturation current',
    'saturation current',
    'saturation current',
    'saturation current',
  ]);
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page.reload();
  await expect(status(page)).toHaveText(before);
  await give(page, 'broken.csv', csv(30, broken));
  await page.getByRole('button', { name: 'Import 20 good parts' }).click();
  await expect(status(page)).toContainText('20 parts were imported');
});

test('an import given up half-way leaves nothing behind', async ({ page }) => {
  await page.goto('/library?kind=diode');
  await expect(status(page)).toContainText(/\d+ of \d+ parts/);
  const before = await status(page).innerText();
  let batches = 0;
  await page.route('**/rows', async (route) => {
    batches += 1;
    if (batches === 2) await page.getByRole('button', { name: 'Give the import up' }).click();
    await route.continue();
  });
  const rows = Array.from({ length: 4000 }, (_, i) => `D-${String(i)},0.4`);
  await give(page, 'diodes.csv', ['name,forward voltage of the diode', ...rows].join('\n'));
  // A heading that is not known by itself is mapped by hand.
  await page
    .getByLabel('Field for forward voltage of the diode')
    .selectOption({ label: 'diode forward voltage (needed)' });
  await page.getByRole('button', { name: 'Import 4000 parts' }).click();
  await expect(page.getByRole('button', { name: 'Import 4000 parts' })).toBeVisible();
  await page.reload();
  await expect(status(page)).toHaveText(before);
});

test('what is exported as CSV or JSON comes in again', async ({ page }) => {
  for (const format of ['CSV', 'JSON']) {
    await page.goto('/library?kind=mosfet');
    await expect(status(page)).toContainText(/^(\d+) of \1 parts/);
    const many = /^\d+/.exec(await status(page).innerText())?.[0] ?? '';
    // The generic records, and those of the demo's own stages.
    expect(Number(many)).toBeGreaterThan(genericParts().mosfet.length);
    const downloading = page.waitForEvent('download');
    await page.getByRole('button', { name: `Export ${format}` }).click();
    await page.getByTestId('part-file').setInputFiles(await (await downloading).path());
    await expect(page.getByRole('dialog')).toContainText(`${many} of ${many} rows can be taken`);
    await page.getByRole('button', { name: `Import ${many} parts` }).click();
    await expect(status(page)).toContainText(`${many} of ${many} parts. ${many} parts were imported.`);
  }
});

test('a file that is no table is refused with a sentence', async ({ page }) => {
  await page.goto('/library');
  await give(page, 'half.json', '[{"name": "x"');
  await expect(page.getByRole('alert')).toContainText('half.json starts like JSON and is not complete.');
});

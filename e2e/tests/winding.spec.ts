import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { accessFaults, STATION } from '../accessFaults';
import { expect, goTo, openStage, test } from '../desk';

const view = (page: Page, words: string) =>
  page.getByRole('group', { name: 'View' }).getByRole('button', { name: words, exact: true });
async function put(page: Page, label: string, text: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByLabel(label, { exact: true }).press('Enter');
}

test('the cores are gone through, a choke is wound and becomes the part of the stage; undo takes it back', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Winding');
  await expect(page.getByText(/windings looked at, \d+ hold/)).toBeVisible({ timeout: 60_000 });
  await page.getByText('Cores passed over').click();
  await expect(page.getByText(/a ferrite ring without a gap saturates: KRFE/)).toBeVisible();
  await page.getByRole('button', { name: 'Wind', exact: true }).first().click();
  await expect(page.getByText(/^Holds: .+ without current/)).toBeVisible();
  await page.getByRole('button', { name: 'Put it into the stage' }).click();
  await expect(page.getByText('It is the inductor of the stage now')).toBeVisible();
  await goTo(page, 'Inductor');
  const inductance = page.getByLabel('Inductance', { exact: true });
  await expect(inductance).not.toHaveValue(/^6\.8/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(inductance).toHaveValue(/^6\.8/);
});

test('from this ring and this wire to a sheet: what does not hold is named with the way out, and the sheet is a PDF', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Winding');
  await view(page, 'One choke').click();
  await page.getByLabel('Core', { exact: true }).selectOption('KRAL23');
  await put(page, 'Turns', '4');
  await put(page, 'Diameter', '0.5 mm');
  await expect(page.getByText(/^Does not hold/)).toBeVisible();
  await expect(page.getByText(/are wanted there: more turns, or another gap/)).toBeVisible();
  // A metre of diameter is refused with what may be typed, and stays to be mended.
  await put(page, 'Diameter', '1 m');
  await expect(page.getByRole('alert')).toContainText(
    /is outside 10\.00\Dµm to 20\.00\Dmm\. Until then it is 500\.0\Dµm/,
  );
  await put(page, 'Turns', '14');
  await put(page, 'Diameter', '1 mm');
  await put(page, 'Side by side', '2');
  await expect(page.getByText(/^Holds: .+ without current/)).toBeVisible();
  await expect(page.getByRole('table', { name: 'The choke at every corner' }).locator('tbody tr')).toHaveCount(15);
  // A ring that is not in the library, by its measures, and a wire of the tables.
  await page.getByText('A ring of your own').click();
  await put(page, 'Outer diameter', '23.6 mm');
  await put(page, 'Inner diameter', '14.4 mm');
  await put(page, 'Height', '9 mm');
  await page.getByRole('button', { name: 'Into the library, and wind on it' }).click();
  await expect(page.getByLabel('Core', { exact: true })).toHaveValue('My ring');
  await page.getByLabel('of the tables').selectOption('gauge 18');
  await expect(page.getByText(/^Holds: .+ without current/)).toBeVisible();
  // What was chosen is kept over a reload.
  await page.reload();
  await view(page, 'Sheet').click();
  const sheet = page.getByRole('article', { name: 'Winding sheet' });
  await expect(sheet).toContainText('2 wires of gauge 18 (1.02 mm) side by side');
  await expect(sheet).toContainText('My ring');
  await expect(sheet).toContainText('mass of copper');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PDF' }).click();
  const path = await (await download).path();
  expect(readFileSync(path).subarray(0, 5).toString()).toBe('%PDF-');
});

test('a ferrite ring without a gap is shown to saturate, beside a powder and a gapped ferrite that hold', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Winding');
  await view(page, 'Powder or ferrite').click();
  const table = page.getByRole('table', { name: 'Powder beside ferrite' });
  await expect(table).toBeVisible({ timeout: 60_000 });
  await expect(table.getByRole('row', { name: /ferrite ring without a gap/ })).toContainText('it is saturated');
  await table
    .getByRole('row', { name: /^ferrite with a gap/ })
    .getByRole('button', { name: 'Wind' })
    .click();
  await expect(page.getByText(/^Holds/)).toBeVisible();
  // Paper under all legs makes the gap twice.
  await page.getByLabel('a spacer under all legs: half the gap thick').check();
  await view(page, 'Sheet').click();
  await expect(page.getByRole('article', { name: 'Winding sheet' })).toContainText('as the flux crosses it twice');
});

test('a choke that swings is simulated beside the fixed one, a preload and a switch', async ({ page }) => {
  test.setTimeout(150_000);
  await openStage(page, 'Hull bus', 'Winding');
  await view(page, 'One choke').click();
  await page.getByLabel('Core', { exact: true }).selectOption('KEFE22');
  await put(page, 'Turns', '8');
  await page.getByRole('button', { name: /^Set the gap to/ }).click();
  await expect(page.getByLabel('Gap in all', { exact: true })).not.toHaveValue('0');
  await view(page, 'Swinging').click();
  const ways = page.getByRole('table', { name: 'Ways through light load' });
  await expect(ways.getByRole('row', { name: /^the swinging choke/ })).toContainText(/\d+\D?m?V/, { timeout: 90_000 });
  await expect(page.getByRole('table', { name: 'The loop at each load' }).locator('tbody tr')).toHaveCount(8);
});

test('a measured ramp is fitted with its interval and goes into the library', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Winding');
  await view(page, 'Measured').click();
  // 10 µH that give way by L₀/(1 + (3/7)(i/12 A)²), driven by 10 V: i = tan-like, by small steps.
  const rows = ['time (µs);winding (V);current (A)'];
  let current = 0;
  for (let k = 0; k <= 1300; k += 1) {
    if (k % 2 === 0) rows.push(`${(k / 100).toFixed(2)};10;${current.toFixed(2)}`.replaceAll('.', ','));
    for (let s = 0; s < 10; s += 1)
      current += (1e-9 * (10 - 0.01 * current)) / (10e-6 / (1 + (3 / 7) * (current / 12) ** 2));
  }
  await page.getByLabel('Read a CSV of the oscilloscope').setInputFiles({
    name: 'ramp.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(rows.join('\n')),
  });
  const fitted = page.getByLabel('Fitted to the ramp');
  await expect(fitted).toContainText(/Inductance(9\.9|10\.0)\d*\DµH/);
  await expect(fitted).toContainText(/30 % gone at1[12]\.\d+\DA/);
  await page.getByLabel('Name of the part').fill('Wound by hand');
  await page.getByRole('button', { name: 'Into the library' }).click();
  await expect(page.getByText('Wound by hand is in the library.')).toBeVisible();
  await page.goto('/library');
  await page.getByRole('searchbox').first().fill('Wound by hand');
  await expect(page.getByRole('row', { name: /Wound by hand/ })).toBeVisible();
});

test('no accessibility fault on the views of winding', async ({ page }) => {
  test.setTimeout(180_000);
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await openStage(page, 'Hull bus', 'Winding');
  await expect(page.getByText(/windings looked at/)).toBeVisible({ timeout: 60_000 });
  for (const words of ['Search', 'One choke', 'Two on one core', 'Measured', 'Sheet']) {
    await view(page, words).click();
    expect([words, ...(await accessFaults(page, { within: STATION }))]).toEqual([words]);
  }
});

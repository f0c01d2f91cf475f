import { expect, goTo, ledgerLine, newStage, openStage, take, test } from '../desk';

test('an inductor is chosen from the library: the ledger follows, it is pinned, and what does not fit says why', async ({
  page,
}) => {
  await newStage(page, 'Chosen parts');
  await goTo(page, 'Inductor');
  const fits = page.getByRole('table', { name: 'Inductors that fit' });
  await expect(fits).toBeVisible();
  const name = await fits.locator('tbody tr').first().locator('td').first().innerText();
  await page.getByRole('button', { name: `Choose ${name}` }).click();
  await expect(page.locator('legend').first()).toContainText(name);
  await expect(page.getByRole('button', { name: 'Inductor: pinned' })).toHaveAttribute('aria-pressed', 'true');
  await expect(fits.locator('tr.picked')).toContainText('chosen');
  for (const target of ['inductorRippleRatio', 'inductorSaturation', 'inductorHeating'])
    await expect(ledgerLine(page, target)).not.toContainText('fails');
  await expect(page.getByRole('img', { name: /^Inductance against current/ })).toBeVisible();
  await page.getByText(/rejected, with the reasons/).click();
  await expect(page.getByRole('table', { name: 'Rejected inductors' })).toContainText('Its ripple ratio of');
  // A part driven into saturation fails for its peak.
  await take(page.getByLabel('Saturation current', { exact: true }), '3');
  await expect(ledgerLine(page, 'inductorSaturation')).toContainText('fails');
});

test('capacitors: the needs with their workings, the current of each bank, and a bank chosen from the library', async ({
  page,
}) => {
  await newStage(page, 'Chosen banks');
  await goTo(page, 'Capacitors');
  const needs = page.getByRole('table', { name: 'What is needed' });
  await page.getByRole('button', { name: 'Working of output ripple' }).click();
  await expect(needs).toContainText('Capacitance for a triangular ripple current');
  await page.getByLabel('Kind of capacitor').selectOption('polymer');
  const fits = page.getByRole('table', { name: 'Capacitors that fit' });
  const name = await fits.locator('tbody tr').first().locator('td').first().innerText();
  await page.getByRole('button', { name: `Choose ${name}` }).click();
  await expect(page.getByText('Output capacitors: polymer')).toBeVisible();
  await expect(page.getByRole('table', { name: 'Current of the banks' })).toContainText('polymer');
  await expect(ledgerLine(page, 'outputRipple')).not.toContainText('fails');
  await page.getByRole('button', { name: 'Input', exact: true }).click();
  await expect(page.getByTestId('input-rms-peak')).toContainText('Over the whole input range');
});

test('a held design stays beside the next one, number by number, until it is let go', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  const peak = page.getByRole('button', { name: /^Inductor peak/ });
  const before = await peak.locator('.value').innerText();
  const margin = await ledgerLine(page, 'inductorRippleRatio').locator('.share').innerText();
  await page.getByRole('button', { name: 'Hold this design' }).click();
  await take(page.getByLabel('Inductance', { exact: true }), '10u');
  await expect(peak.locator('.was')).toHaveText(before);
  await expect(peak.locator('.value')).not.toHaveText(before);
  await expect(ledgerLine(page, 'inductorRippleRatio')).toContainText(`held design: ${margin}`);
  // Another is held too, under a name; a page shows every difference.
  await page.getByRole('button', { name: 'Hold this design' }).click();
  await take(page.getByLabel('Inductance', { exact: true }), '15u');
  await page.getByRole('link', { name: 'Compare, 2 held' }).click();
  const table = page.getByRole('table', { name: 'Differences' });
  await expect(table.locator('tr', { hasText: 'inductance, inductor' })).toContainText(/15.*6\.8.*10/);
  await expect(table).toContainText('inductor ripple ratio');
  await table.getByLabel('Name of design 1').fill('as ordered');
  await table.getByRole('button', { name: 'Show beside' }).click();
  await goTo(page, 'Stage');
  await expect(peak.locator('.was')).toHaveText(before);
  await page.getByRole('link', { name: 'Compare, 2 held' }).click();
  await table.getByRole('button', { name: 'Let as ordered go' }).click();
  await page.getByRole('button', { name: 'Let design 2 go' }).click();
  await expect(page.locator('.station')).toContainText('Nothing is held');
  await goTo(page, 'Stage');
  await expect(peak.locator('.was')).toHaveCount(0);
});

test('the feedback divider: preferred pairs, their accuracy both ways, and the working', async ({ page }) => {
  await openStage(page, 'Logger logic', 'Stage');
  const section = page.getByRole('region', { name: 'Feedback divider' });
  await section.getByLabel('Reference voltage').fill('0.6');
  await section.getByLabel('Resistor series').selectOption('E96');
  const table = page.getByRole('table', { name: 'Dividers' });
  await expect(table.locator('tbody tr')).toHaveCount(5);
  const output = await table.locator('tbody tr').first().locator('td').nth(2).innerText();
  expect(Math.abs(Number.parseFloat(output) / 3.3 - 1)).toBeLessThan(0.0034);
  await table.getByRole('button', { name: 'Working' }).first().click();
  await expect(table).toContainText('Output error, root of the sum of squares');
  await section.getByLabel('Tolerance of the resistors').fill('many');
  await expect(section.getByRole('alert')).toContainText('cannot be read');
});

test('from an empty stage to a passing one: targets the first topology cannot do, another taken, parts from the library', async ({
  page,
}) => {
  await newStage(page, 'Pump supply');
  await take(page.getByLabel('Lowest input voltage'), '9');
  await take(page.getByLabel('Highest', { exact: true }), '18');
  await take(page.getByLabel('Full load current'), '2');
  await page.getByRole('button', { name: 'Ask for load step' }).click();
  await expect(page.getByLabel('To', { exact: true })).toHaveValue('1.5 A');
  await page.getByRole('button', { name: 'Ask for ambient' }).click();
  await take(page.getByLabel('Output voltage'), '24');
  await page
    .getByRole('button', { name: /take it.*boost/ })
    .first()
    .click();
  await expect(page.getByLabel('Output voltage')).toHaveValue('24 V');
  for (const station of ['Inductor', 'Capacitors']) {
    await goTo(page, station);
    await page
      .getByRole('button', { name: /^Choose / })
      .first()
      .click();
  }
  const ledger = page.getByRole('complementary', { name: 'Ledger' });
  await expect(ledger).toContainText('output capacitor voltage');
  await expect(ledger.locator('.line.fails')).toHaveCount(0);
});

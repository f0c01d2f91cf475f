import { expect, goTo, ledgerLine, openStage, take, test } from '../desk';

test('a load step is simulated, judged in the ledger, and judged anew after an edit', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Transient');
  await expect(page.getByRole('img', { name: 'Output over time' })).toBeVisible();
  const figures = page.getByRole('table', { name: 'Figures of the run' });
  await expect(figures).toContainText('undershoot');
  const line = ledgerLine(page, 'loadStepDeviation');
  await expect(line).toContainText('at most 360');
  await expect(line).toContainText('worst from 2.00');
  // Less is allowed than it takes: it fails, and the rail says so.
  await take(page.getByLabel('Allowed deviation', { exact: true }), '200m');
  await expect(line).toContainText('at most 200');
  await expect(line).toContainText('fails');
  const rail = page.getByRole('navigation', { name: 'Stations' });
  await expect(rail.getByRole('link', { name: /^Transient ?, fails$/ })).toBeVisible();
});

test('start-up, a short and the switch node are looked at; the waveforms are given away', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Transient');
  await page.getByRole('button', { name: 'Short circuit', exact: true }).click();
  await expect(page.getByText('takes the place of the load')).toBeVisible();
  await page.getByRole('button', { name: 'Currents', exact: true }).click();
  await expect(page.getByRole('img', { name: 'Currents over time' })).toBeVisible();
  await page.getByRole('button', { name: 'Start-up', exact: true }).click();
  await expect(page.getByText('Every state begins at zero')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Waveforms as CSV' }).click();
  expect((await download).suggestedFilename()).toBe('Hull bus transient.csv');
});

test('without a load step among the targets the station says what is missing', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Targets');
  await page.getByRole('button', { name: 'Do not ask for load step' }).click();
  await goTo(page, 'Transient');
  await expect(page.getByText('the targets state no load step')).toBeVisible();
});

import { expect, ledgerLine, openStage, saveState, test } from '../desk';

const margins = 'Margins of every corner';

test('a compensator is proposed, judged at every corner, shaped by its handles, and kept', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await page.getByRole('link', { name: 'Loop', exact: true }).click();
  await expect(page.locator('.station')).toContainText('There is no loop yet: what is missing is a compensator');
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  const table = page.getByRole('table', { name: margins });
  await expect(table.locator('tbody tr')).toHaveCount(5);
  await expect(table.locator('tbody tr').first()).toContainText('yes');
  await expect(page.getByRole('img', { name: 'Gain against frequency' })).toBeVisible();
  await expect(page.getByTestId('loop-reading')).toContainText('Crossover');
  await expect(ledgerLine(page, 'loopStability')).toContainText('holds');
  await expect(ledgerLine(page, 'phaseMargin')).toContainText(/holds|tight/);
  await expect(page.getByText('Plant by closed forms')).toContainText('resonance of the plant');

  // A handle moved shows its margins at once; let go, the components are preferred values and the exact loop is worked.
  const resistor = page.getByLabel('Zero resistor', { exact: true });
  const before = await resistor.inputValue();
  const zero = page.getByLabel('Frequency of zero 1');
  await zero.focus();
  for (let k = 0; k < 12; k += 1) await page.keyboard.down('PageUp');
  await expect(table).toContainText('as shaped');
  await page.keyboard.up('PageUp');
  await expect(table).not.toContainText('as shaped');
  await expect(resistor).not.toHaveValue(before);
  await expect(ledgerLine(page, 'phaseMargin')).toContainText('fails');

  // The line of the ledger leads to the loop at its corner; undo brings the design back.
  await page.getByRole('link', { name: 'Targets', exact: true }).click();
  await ledgerLine(page, 'phaseMargin').click();
  await expect(page.getByRole('heading', { name: 'Loop', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(resistor).toHaveValue(before);
  await expect(ledgerLine(page, 'phaseMargin')).toContainText(/holds|tight/);
  await expect(saveState(page)).toHaveText('saved');
  await page.reload();
  await expect(resistor).toHaveValue(before);
});

test('an unstable loop fails with its reason, and every picture of it is drawn', async ({ page }) => {
  await openStage(page, 'Logger logic');
  await page.getByRole('link', { name: 'Loop', exact: true }).click();
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  await expect(ledgerLine(page, 'loopStability')).toContainText('holds');
  for (const [button, picture] of [
    ['All corners', 'Loop gain of every corner'],
    ['Complex plane', 'Loop gain in the complex plane'],
    ['Output impedance', 'Output impedance against frequency'],
  ] as const) {
    await page.getByRole('button', { name: button }).click();
    await expect(page.getByRole('img', { name: picture })).toBeVisible();
  }
  await page.getByLabel('Zero resistor', { exact: true }).fill('2M');
  await expect(ledgerLine(page, 'loopStability')).toContainText('fails');
  await expect(ledgerLine(page, 'loopStability')).toContainText('the loop is unstable');
  await expect(page.getByRole('table', { name: margins })).toContainText('no');
});

import { readFile } from 'node:fs/promises';
import { expect, goTo, ledgerLine, newStage, openStage, saveState, take, test } from '../desk';

const margins = 'Margins of every corner';

test('a compensator is proposed, judged at every corner, shaped by its handles, and kept', async ({ page }) => {
  await newStage(page, 'Looped');
  await take(page.getByLabel('Phase margin', { exact: true }), '50');
  await goTo(page, 'Loop');
  await expect(page.locator('.station')).toContainText('There is no loop yet');
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
  await goTo(page, 'Targets');
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
  await goTo(page, 'Loop');
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
  await take(page.getByLabel('Zero resistor', { exact: true }), '2M');
  await expect(ledgerLine(page, 'loopStability')).toContainText('fails');
  await expect(ledgerLine(page, 'loopStability')).toContainText('the loop is unstable');
  await expect(page.getByRole('table', { name: margins })).toContainText('no');
});

test('a measured loop is laid over, traces are held and removed, and the responses are given away', async ({
  page,
}) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Loop');
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  await expect(page.getByTestId('loop-reading')).toContainText('Crossover');
  const list = page.getByRole('list', { name: /Traces laid over/ });
  const file = page.getByLabel('File of a measured loop');
  const sweep = (text: string) => ({ name: 'sweep.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await file.setInputFiles(sweep('f;dB;deg\n1000;30,5;-95\n20000;8,1;-110\n60000;loud;-130\n'));
  await expect(page.getByRole('alert')).toContainText(
    'sweep.csv: Line 4 has the gain “loud”; it must be a number in dB.',
  );
  await file.setInputFiles(sweep('f;dB;deg\n1000;30,5;-95\n20000;8,1;-110\n60000;-2,0;-130\n'));
  await expect(list).toContainText('3 points, semicolons between, decimal comma, columns by their headings');
  await page.getByRole('button', { name: 'Hold this loop' }).click();
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await page.reload();
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await list.getByRole('button', { name: 'remove' }).first().click();
  await expect(list.getByRole('listitem')).toHaveCount(1);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Responses as CSV' }).click(),
  ]);
  const lines = (await readFile(await download.path(), 'utf8')).trim().split('\n');
  expect(lines[0]).toMatch(/^frequency \(Hz\),plant \(dB\),plant phase \(degrees\),.*inductor current/);
  expect(lines.length).toBe(161);
});

test('step, input side, line and spread over tolerance are worked from the closed loop', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Loop');
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  await expect(page.getByTestId('loop-reading')).toContainText('Crossover');
  await expect(page.getByRole('table', { name: 'Limits of the crossover' })).toContainText('switching frequency');
  await page.getByRole('button', { name: 'Load step' }).click();
  await expect(page.getByRole('table', { name: 'Steps of load' })).toContainText(/\d+\smV under/);
  await page.getByRole('button', { name: 'Input side' }).click();
  await expect(page.locator('.station')).toContainText('neither an input filter nor a source impedance');
  await page.getByRole('button', { name: 'Line and current' }).click();
  await expect(page.getByRole('img', { name: 'Input to output against frequency' })).toBeVisible();
  await page.getByRole('button', { name: 'Tolerance', exact: true }).click();
  const reading = page.getByTestId('spread-reading');
  await page.getByRole('button', { name: /Scatter/ }).click();
  await expect(reading).toContainText(/% worked: \d+ of \d+ keep/);
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByRole('button', { name: /Scatter/ })).toBeVisible();
});

test('every scheme has its fields and its proposal', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Loop');
  const reading = page.getByTestId('loop-reading');
  for (const [scheme, button, field] of [
    ['average-current-mode', 'Propose a compensator', 'Current zero resistor'],
    ['digital', 'Propose gains', 'Proportional gain'],
    ['constant-on-time', 'Propose a ripple injection', 'Ripple resistor'],
  ] as const) {
    await page.getByLabel('Scheme').selectOption(scheme);
    await page.getByRole('button', { name: button }).click();
    await expect(page.getByText(/Its margins hold at every corner|it misses a margin/)).toBeVisible();
    await expect(page.getByLabel(field, { exact: true })).not.toHaveValue('');
    await expect(reading).toContainText('Stable');
  }
  await page.getByLabel('Scheme').selectOption('peak-current-mode');
  await take(page.getByLabel('Current sense'), '50m');
  await page.getByRole('button', { name: /half the down-slope/ }).click();
  await expect(page.getByLabel('Slope compensation')).not.toHaveValue('0 V/s');

  // An edit made while a proposal is worked stands.
  await page.getByRole('button', { name: 'Search the highest crossover' }).click();
  await take(page.getByLabel('Reference', { exact: true }), '700m');
  await expect(page.getByText('the control was edited while it was worked')).toBeVisible();
  await expect(page.getByLabel('Reference', { exact: true })).toHaveValue('700 mV');
});

import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { accessFaults, STATION } from '../accessFaults';
import { expect, goTo, openStage, test } from '../desk';

const view = (page: Page, words: string) =>
  page.getByRole('group', { name: 'View' }).getByRole('button', { name: words, exact: true });
async function bench(page: Page, words: string): Promise<void> {
  await openStage(page, 'Hull bus', 'Bench');
  await view(page, words).click();
}
async function put(page: Page, label: string, text: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByLabel(label, { exact: true }).press('Enter');
}

test('a supply that ends at 30 V and 3 A: the plan names the points it cannot reach, and what comes nearest', async ({
  page,
}) => {
  await bench(page, 'Plan');
  await put(page, 'and gives', '3');
  const step = page.locator('[data-step="efficiency"]');
  await expect(step).toContainText('of 18 points within reach');
  await step.locator('summary').click();
  const row = step.getByRole('row', { name: /20\.0.V 8\.00.A/ });
  await expect(row).toContainText(/the stage draws 4\.\d+.A and the supply gives 2\.85.A/);
  await expect(row).toContainText(/4\.\d+.A at 20\.0.V/);
  await expect(step).toContainText('From those the resistances and the losses');
  await expect(page.locator('[data-step="first-power"]')).toContainText('eye protection');
});

test('simulated instruments measure over their sockets; the run is held against the prediction, fitted and adopted', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await bench(page, 'Measure');
  await page.getByRole('button', { name: 'Set up simulated instruments' }).click();
  await expect(page.getByRole('region', { name: 'Simulated instruments' })).toContainText('stand about board 1');
  const start = page.getByRole('button', { name: 'Switch on and measure' });
  // Not before someone has said that nobody touches the board.
  await expect(start).toBeDisabled();
  await page.getByRole('checkbox', { name: /guarded/ }).check();
  await page.getByLabel('Measure', { exact: true }).selectOption('Loop');
  await expect(page.getByText(/^A loop is read from a response analyser/)).toBeVisible();
  await expect(start).toBeDisabled();
  await page.getByLabel('Measure', { exact: true }).selectOption('Efficiency');
  await put(page, 'Wait at each point', '300m');
  await start.click();
  const status = page.getByRole('region', { name: 'Run under way' }).getByRole('status');
  await expect(status).toContainText(/[1-9]\d* of 18 points/);
  await page.getByRole('button', { name: 'Pause' }).click();
  await expect(status).toContainText('paused');
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(status).toContainText('18 of 18 points, done', { timeout: 90_000 });
  await view(page, 'Log').click();
  await expect(page.getByRole('table', { name: 'Readings' }).locator('tbody tr')).not.toHaveCount(0);
  await view(page, 'Against the prediction').click();
  const inductance = page.locator('[data-parameter="inductance"]');
  await expect(inductance).toContainText('times', { timeout: 60_000 });
  await goTo(page, 'Inductor');
  const before = await page.getByLabel('Inductance', { exact: true }).inputValue();
  await goTo(page, 'Bench');
  await view(page, 'Against the prediction').click();
  await page.getByRole('button', { name: 'Adopt the fitted values' }).click();
  await expect(page.getByText(/^Adopted: inductance/)).toBeVisible();
  await goTo(page, 'Inductor');
  await expect(page.getByLabel('Inductance', { exact: true })).not.toHaveValue(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Inductance', { exact: true })).toHaveValue(before);
});

test('two hundred lines pasted with decimal commas; the log computes, flags, writes and survives a reload', async ({
  page,
}) => {
  await bench(page, 'Log');
  await expect(page.getByLabel('Title')).toHaveValue('Efficiency');
  // The run of the demo was cut short by its supply, and says so.
  await expect(page.getByRole('table', { name: 'Readings' })).toContainText('The supply is in its limit of 4.50');
  await page.getByRole('button', { name: 'New table' }).click();
  await expect(page.getByLabel('Title')).toHaveValue('Readings');
  const comma = (value: number): string => value.toFixed(4).replace('.', ',');
  const lines = Array.from({ length: 200 }, (_, k) => {
    const load = 0.5 + k / 40;
    return [25.6, (12 * load) / 25.6 / 0.96, 12, load].map(comma).join('\t');
  });
  const text = ['Vin\tIin\tVout\tIout', ...lines].join('\r\n');
  await page.getByLabel('input voltage, line 1', { exact: true }).focus();
  await page.evaluate((pasted) => {
    const data = new DataTransfer();
    data.setData('text', pasted);
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  }, text);
  await expect(page.getByText(/^200 lines, decimal comma/)).toBeVisible();
  await expect(page.getByLabel('output current, line 200', { exact: true })).toHaveValue(/^5\.475/);
  const table = page.getByRole('table', { name: 'Readings' });
  await expect(table.locator('tbody tr').first()).toContainText(/96\.0\d ±/);
  // By hand: a line that cannot be.
  await page.getByLabel('input current, line 3', { exact: true }).fill('0,1');
  await page.getByLabel('input current, line 3', { exact: true }).press('Enter');
  await expect(page.getByLabel('input current, line 4', { exact: true })).toBeFocused();
  await expect(table).toContainText('more than there can be');
  const written = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Write CSV' }).click();
  const csv = readFileSync(await (await written).path(), 'utf8');
  expect(csv.split('\r\n')[0]).toBe('Vin (V),Iin (A),Vout (V),Iout (A)');
  expect(csv.trim().split('\r\n')).toHaveLength(201);
  await page.reload();
  await view(page, 'Log').click();
  await expect(page.getByLabel('output current, line 200', { exact: true })).toHaveValue(/^5\.475/);
});

test('what to expect at each place, with its band and how to probe it', async ({ page }) => {
  await bench(page, 'What to expect');
  const levels = page.getByRole('table', { name: 'Levels to expect' });
  await expect(levels.getByRole('row', { name: /^output voltage/ })).toContainText(/12\.0/, { timeout: 30_000 });
  await expect(levels.getByRole('row', { name: /^gate, high side/ })).toBeVisible();
  await expect(page.getByText(/^A lead of 15 cm rings at 119/)).toBeVisible();
  await page.getByRole('button', { name: 'feedback' }).click();
  await expect(page.getByText(/it stands still at the reference/)).toBeVisible();
});

test('a fault is shown beside what should be; symptoms lead back to it; the trainer asks and explains', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await bench(page, 'Faults');
  await page.getByLabel('Kind').selectOption('open-feedback');
  await expect(page.getByText(/the output goes where the input and the load let it/)).toBeVisible();
  await expect(page.getByRole('img', { name: /^Board with the fault, switch node/ })).toBeVisible();
  await page.getByLabel('Kind').selectOption('swapped-diode');
  await expect(page.getByText(/This stage cannot have it: the stage has no diode of its own/)).toBeVisible();
  await put(page, 'output voltage, average', '0,1');
  await put(page, 'input voltage, average', '0,3 V');
  await page.getByRole('button', { name: 'Which fault makes this?' }).click();
  const ranked = page.getByRole('table', { name: 'Faults by how well they explain it' });
  await expect(ranked.locator('tbody tr').first()).toContainText('low-side device is shorted', { timeout: 90_000 });
  await view(page, 'Trainer').click();
  await page
    .getByRole('group', { name: 'Probe at' })
    .getByRole('button', { name: /^switch node/ })
    .click();
  await expect(page.getByText('2 min spent at one place.')).toBeVisible();
  await page.getByLabel('What is wrong').selectOption('subharmonic');
  await page.getByRole('button', { name: 'Say so' }).click();
  await expect(page.getByRole('region', { name: 'What it was' })).toContainText(/^(Right, after 2 min|No)/);
  await expect(ranked).toBeVisible({ timeout: 90_000 });
});

test('no accessibility fault on the views of the bench', async ({ page }) => {
  test.setTimeout(180_000);
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await openStage(page, 'Hull bus', 'Bench');
  for (const words of ['Plan', 'What to expect', 'Measure', 'Log', 'Against the prediction', 'Faults', 'Trainer']) {
    await view(page, words).click();
    expect([words, ...(await accessFaults(page, { within: STATION }))]).toEqual([words]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(1280);
  }
});

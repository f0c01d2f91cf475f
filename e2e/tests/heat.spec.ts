import { expect, goTo, ledgerLine, newStage, openStage, take, test } from '../desk';

test('switches: where the watts go, each with its working; a part chosen by its loss over the hours', async ({
  page,
}) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Switches');
  const losses = page.getByRole('table', { name: 'Losses of the device' });
  for (const words of ['conduction, at its temperature', 'turn-on', 'output charge', 'recovery', 'junction'])
    await expect(losses).toContainText(words);
  await losses.getByRole('button', { name: 'turn-off' }).click();
  await expect(page.getByRole('dialog')).toContainText('time of the edge');
  await page.keyboard.press('Escape');
  const fits = page.getByRole('table', { name: 'Switches that fit' });
  const first = () => fits.locator('tbody tr').first().locator('td').first().innerText();
  await expect(fits).toBeVisible();
  // All hours at the lightest load, then all at full load: another die comes first.
  const sliders = await page.getByLabel(/^Hours at/).all();
  for (const slider of sliders.slice(1)) await slider.fill('0');
  const [lightest] = sliders;
  await lightest?.fill('24');
  await page.waitForTimeout(1000);
  const light = await first();
  await lightest?.fill('0');
  await page.getByLabel('Hours at 8.00').fill('24');
  await expect.poll(first).not.toBe(light);
  // The table follows every slider: the choice is taken from it once it stands still.
  let name = '';
  await expect
    .poll(
      async () => {
        const before = name;
        name = await first();
        return name === before;
      },
      { intervals: [1000] },
    )
    .toBe(true);
  await page.getByRole('button', { name: `Choose ${name}` }).click();
  await expect(page.locator('legend', { hasText: name })).toBeVisible();
  await expect(page.getByRole('button', { name: 'High-side: pinned' })).toHaveAttribute('aria-pressed', 'true');
  await expect(ledgerLine(page, 'highSideJunction')).toContainText('holds');
  await page.getByText(/rejected, with the reasons/).click();
  await expect(page.getByRole('table', { name: 'Rejected switches' })).toContainText('Its rated voltage of');
});

test('a switch past its thermal limit is reported as runaway, not as a number', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Switches');
  await take(page.getByLabel('On-resistance', { exact: true }), '60m');
  await take(page.getByLabel('Junction to ambient', { exact: true }), '150');
  await expect(ledgerLine(page, 'highSideJunction')).toContainText('thermal runaway');
  await expect(ledgerLine(page, 'highSideJunction')).toContainText('fails');
  await expect(page.getByRole('table', { name: 'Losses of the device' })).toContainText('thermal runaway');
  await goTo(page, 'Efficiency');
  await page.getByRole('button', { name: 'Heat', exact: true }).click();
  await expect(page.getByRole('table', { name: 'Junctions' })).toContainText('thermal runaway');
  // A heatsink carries it off.
  await take(page.getByLabel('Heatsink', { exact: true }), '10');
  await expect(page.getByRole('table', { name: 'Junctions' })).not.toContainText('thermal runaway');
});

test('gate, bootstrap and snubber are reckoned with their workings; a diode is held against the switch', async ({
  page,
}) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Switches');
  const values = page.getByRole('table', { name: 'Gate and snubber values' });
  const value = (words: string) =>
    values
      .locator('tr', { has: page.locator('summary', { hasText: words }) })
      .locator('td.number')
      .last();
  await page.getByLabel('Ringing measured').fill('120M');
  await page.getByLabel('halved by adding').fill('600p');
  // The worked example of the validation page: 8.8 nH, 6.6 Ω.
  await expect(value('Inductance of the loop')).toContainText('8.80');
  await expect(value('Snubber resistor')).toContainText('6.63');
  await page.getByLabel('Ringing measured').fill('fast');
  await expect(page.getByRole('alert')).toContainText('“fast” is no ringing measured');
  await page.getByRole('button', { name: 'Switch or diode' }).click();
  const rectifiers = page.getByRole('table', { name: 'Rectifiers' });
  await expect(rectifiers.locator('tbody tr')).toHaveCount(2);
  await expect(rectifiers).toContainText('the current stops at light load');
});

test('efficiency: modes side by side, the map coarse and then fine, and the mode the ledger judges', async ({
  page,
}) => {
  await openStage(page, 'Logger logic');
  await goTo(page, 'Efficiency');
  const modes = page.getByRole('table', { name: 'Operating modes' });
  const share = async (mode: string): Promise<number> =>
    Number.parseFloat(await modes.locator('tr', { hasText: mode }).locator('td').nth(2).innerText());
  await expect(modes).toBeVisible();
  expect(await share('pulse skipping')).toBeGreaterThan((await share('forced PWM')) + 10);
  await page.getByRole('button', { name: 'Where it goes' }).click();
  await expect(page.locator('canvas')).toBeVisible();
  await page.getByRole('button', { name: 'Map', exact: true }).click();
  await expect(page.locator('.map')).toHaveCount(3);
  await expect(page.locator('.map svg').first().locator('rect')).toHaveCount(400, { timeout: 20_000 });
  await page.getByRole('button', { name: 'By mode' }).click();
  await page.getByLabel('Operating mode', { exact: true }).selectOption('forced-pwm');
  await goTo(page, 'Targets');
  const lightest = page.getByRole('table').first().locator('tbody tr').first();
  await expect(lightest).toContainText('CCM');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(lightest).toContainText('DCM');
});

test('an efficiency target is asked for and judged', async ({ page }) => {
  await newStage(page, 'Asked efficiency');
  await expect(ledgerLine(page, 'efficiency')).toHaveCount(0);
  await page.getByRole('button', { name: 'Ask for efficiency' }).click();
  await expect(ledgerLine(page, 'efficiency')).toContainText('holds');
  await take(page.getByLabel('At least', { exact: true }), '99.9 %');
  await expect(ledgerLine(page, 'efficiency')).toContainText('fails');
});

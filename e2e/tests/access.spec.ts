import { accessFaults, STATION } from '../accessFaults';
import { expect, goTo, openStage, test } from '../desk';

test('no accessibility fault at WCAG AA on any view, in either theme', async ({ page }) => {
  // A dozen views, each gone over in full.
  test.setTimeout(480_000);
  // What fades in for a moment is not what is read.
  const dressed = (colorScheme: 'light' | 'dark') => page.emulateMedia({ colorScheme, reducedMotion: 'reduce' });
  await dressed('light');
  const faults = async (within?: string): Promise<string[]> => {
    const light = await accessFaults(page, { ...(within !== undefined && { within }) });
    await dressed('dark');
    const dark = await accessFaults(page, { ...(within !== undefined && { within }), coloursAlone: true });
    await dressed('light');
    return [...light, ...dark.map((fault) => `dark: ${fault}`)];
  };
  await page.goto('/');
  await expect(page.getByRole('link', { name: 'Hull bus', exact: true })).toBeVisible();
  expect(await faults()).toEqual([]);
  // The frame about the stations, rail and ledger, is gone over here.
  await openStage(page, 'Hull bus', 'Overview');
  await expect(page.getByRole('button', { name: 'Try it' })).toBeVisible();
  expect(await faults()).toEqual([]);
  await goTo(page, 'Targets');
  expect(await faults(STATION)).toEqual([]);
  await goTo(page, 'Stage');
  await expect(page.locator('canvas')).toBeVisible();
  expect(await faults(STATION)).toEqual([]);
  await page.getByRole('button', { name: 'Schematic' }).click();
  await expect(page.locator('svg.schematic')).toBeVisible();
  expect(await faults(STATION)).toEqual([]);
  for (const station of ['Inductor', 'Capacitors', 'Switches', 'Efficiency'] as const) {
    await goTo(page, station);
    await expect(page.locator('#station table').first()).toBeVisible();
    expect([station, ...(await faults(STATION))]).toEqual([station]);
  }
  await page.getByRole('button', { name: 'Map', exact: true }).click();
  await expect(page.locator('.map svg').first()).toBeVisible();
  expect(await faults(STATION)).toEqual([]);
  await goTo(page, 'Loop');
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  await expect(page.getByRole('table', { name: 'Margins of every corner' })).toBeVisible();
  expect(await faults(STATION)).toEqual([]);
  await page.locator('.line[data-target="outputRipple"]').click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.waitForTimeout(400);
  expect(await faults('[role="dialog"]')).toEqual([]);
  await openStage(page, 'Echo core', 'Phases');
  await page.getByRole('button', { name: 'Shedding' }).click();
  await expect(page.getByRole('table', { name: 'Thresholds of shedding' })).toBeVisible();
  expect(await faults()).toEqual([]);
  await page.getByRole('link', { name: 'Skerry-9' }).click();
  await expect(page.getByRole('img', { name: /^Power through the stages/ })).toBeVisible();
  expect(await faults()).toEqual([]);
});

test('nothing scrolls sideways at 1280 by 800', async ({ page }) => {
  for (const station of ['Targets', 'Stage'] as const) {
    await openStage(page, 'Echo core', station);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(1280);
  }
});

test('an address that leads nowhere says so', async ({ page }) => {
  await page.goto('/nowhere');
  await expect(page.getByRole('heading')).toHaveText('There is nothing at this address');
  await page.goto('/stages/00000000-0000-4000-8000-000000000000');
  await expect(page.getByRole('alert')).toContainText('There is no such stage');
});

test('the bundled font has figures of one width', async ({ page }) => {
  await openStage(page, 'Hull bus');
  const widths = await page.evaluate(async () => {
    await document.fonts.ready;
    const probe = document.createElement('span');
    document.body.append(probe);
    return Array.from({ length: 10 }, (_, digit) => String(digit)).map((digit) => {
      probe.textContent = digit.repeat(20);
      return probe.getBoundingClientRect().width;
    });
  });
  expect(new Set(widths.map((width) => width.toFixed(2))).size).toBe(1);
  expect(await page.evaluate(() => document.fonts.check('13px "Source Sans 3 Variable"'))).toBe(true);
});

import AxeBuilder from '@axe-core/playwright';
import { expect, goTo, openStage, quiet, test } from '../desk';

const STATIONS = ['Inductor', 'Capacitors', 'Switches', 'Efficiency'];

for (const scheme of ['light', 'dark'] as const) {
  test(`no accessibility fault at WCAG AA on any view, ${scheme}`, async ({ page }) => {
    // A dozen views, each gone over in full.
    test.setTimeout(480_000);
    // What fades in for a moment is not what is read.
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' });
    const faults = async (): Promise<string[]> => {
      await quiet(page);
      // What is worked anew is dimmed, as what is shown until then is not to be read for new: a look that fell into it is taken again.
      const dimmed = await page.evaluateHandle(() => {
        const seen = { any: false };
        const look = (): void => {
          seen.any ||= document.querySelector('.stale, [aria-busy="true"]') !== null;
        };
        look();
        new MutationObserver(look).observe(document.body, { subtree: true, childList: true, attributes: true });
        return seen;
      });
      // The dark theme differs from the light one in nothing but its colours.
      const axe = new AxeBuilder({ page });
      const { violations } = await (
        scheme === 'dark' ? axe.withRules('color-contrast') : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa'])
      ).analyze();
      if (violations.length > 0 && (await dimmed.evaluate(({ any }) => any))) return faults();
      return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`);
    };
    await page.goto('/');
    await expect(page.getByRole('link', { name: 'Hull bus', exact: true })).toBeVisible();
    expect(await faults()).toEqual([]);
    await openStage(page, 'Hull bus', 'Overview');
    await expect(page.getByRole('button', { name: 'Try it' })).toBeVisible();
    expect(await faults()).toEqual([]);
    await openStage(page, 'Hull bus');
    expect(await faults()).toEqual([]);
    await openStage(page, 'Hull bus', 'Stage');
    await expect(page.locator('canvas')).toBeVisible();
    expect(await faults()).toEqual([]);
    await page.getByRole('button', { name: 'Schematic' }).click();
    await expect(page.locator('svg.schematic')).toBeVisible();
    expect(await faults()).toEqual([]);
    // Stations of one kind wear the same colours: in the dark theme two of them stand for all.
    const stations = scheme === 'dark' ? ['Switches', 'Efficiency'] : STATIONS;
    for (const station of stations) {
      await goTo(page, station);
      await expect(page.locator('#station table').first()).toBeVisible();
      expect([station, ...(await faults())]).toEqual([station]);
    }
    await page.getByRole('button', { name: 'Map', exact: true }).click();
    await expect(page.locator('.map svg').first()).toBeVisible();
    expect(await faults()).toEqual([]);
    await goTo(page, 'Loop');
    await page.getByRole('button', { name: 'Propose a compensator' }).click();
    await expect(page.getByRole('table', { name: 'Margins of every corner' })).toBeVisible();
    expect(await faults()).toEqual([]);
    await page.locator('.line[data-target="outputRipple"]').click();
    await expect(page.getByRole('dialog')).toBeVisible();
    await page.waitForTimeout(400);
    expect(await faults()).toEqual([]);
    await openStage(page, 'Echo core', 'Phases');
    await page.getByRole('button', { name: 'Shedding' }).click();
    await expect(page.getByRole('table', { name: 'Thresholds of shedding' })).toBeVisible();
    expect(await faults()).toEqual([]);
    await page.getByRole('link', { name: 'Skerry-9' }).click();
    await expect(page.getByRole('img', { name: /^Power through the stages/ })).toBeVisible();
    expect(await faults()).toEqual([]);
  });
}

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

import { readFile } from 'node:fs/promises';
import type { Locator, Page } from '@playwright/test';
import { expect, goTo, ledgerLine, openStage, take, test } from '../desk';

test('a stage opens on whether it holds, what is worst and what would mend it; one press mends it, undo goes back', async ({
  page,
}) => {
  await openStage(page, 'Hull bus');
  await take(page.getByLabel('Ripple, peak to peak').nth(1), '15m');
  await page.goto('/');
  await page.getByRole('link', { name: 'Hull bus', exact: true }).click();
  // No press beyond opening it.
  const says = page.locator('.verdict-sentence');
  await expect(says).toContainText('One fails: output ripple');
  const next = page.getByRole('region', { name: 'Next step' });
  await expect(next).toContainText('5 output capacitors instead of 4: output ripple -16 % to');
  await expect(page.getByRole('region', { name: 'fails' })).toContainText('output ripple');
  await expect(page.getByRole('radio', { checked: true })).toHaveAccessibleName(
    /29\.2.V, 8\.00.A: fails, output ripple/,
  );
  await next.getByRole('button', { name: 'Try it' }).click();
  await expect(says).toContainText('Nothing fails');
  await expect(ledgerLine(page, 'outputRipple')).toContainText('held design: -16 %');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(says).toContainText('One fails');
  // Another way does it as well.
  await next.getByRole('button', { name: /^Other ways/ }).click();
  await next.getByRole('button', { name: /^Try.*inductance/i }).click();
  await expect(says).toContainText('Nothing fails');
});

test('the four doors lead to their stations', async ({ page }) => {
  for (const [door, heading, view] of [
    ['Inductor current', 'Inductor', undefined],
    ['Load step', 'Transient', 'Load step'],
    ['Loop gain', 'Loop', 'Gain and phase'],
    ['Efficiency', 'Efficiency', undefined],
  ] as const) {
    await openStage(page, 'Hull bus', 'Overview');
    const link = page.locator(`[data-door="${door}"]`);
    await expect(link.getByRole('img')).toBeVisible();
    await link.click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(heading);
    if (view !== undefined)
      await expect(page.getByRole('button', { name: view, exact: true })).toHaveAttribute('aria-pressed', 'true');
  }
});

test('marks on the rail say the word of the worst line each station decides', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Overview');
  const rail = page.getByRole('navigation', { name: 'Stations' });
  await expect(rail.getByRole('link', { name: /^Inductor ?, tight$/ })).toBeVisible();
  await expect(rail.getByRole('link', { name: /^Transient ?, tight$/ })).toBeVisible();
  await goTo(page, 'Capacitors');
  await page.getByRole('button', { name: 'This station only' }).click();
  await expect(ledgerLine(page, 'outputRipple')).toBeVisible();
  await expect(ledgerLine(page, 'dutyMax')).toHaveCount(0);
  await page.getByRole('button', { name: 'All lines' }).click();
  await expect(ledgerLine(page, 'dutyMax')).toBeVisible();
});

test('every station: main picture and the fields that act on it are in the window at 1280 by 800', async ({ page }) => {
  await openStage(page, 'Hull bus');
  const stations = ['Targets', 'Stage', 'Inductor', 'Capacitors', 'Switches', 'Efficiency', 'Loop', 'Transient'];
  for (const station of [...stations, 'Phases']) {
    if (station === 'Phases') {
      await goTo(page, 'Stage');
      await page.getByRole('link', { name: 'How many phases?' }).click();
    } else await goTo(page, station);
    const picture = page.locator('[data-station="picture"]').locator('canvas, table').first();
    await expect(picture).toBeVisible();
    const bottom = async (): Promise<number> => {
      const box = await picture.boundingBox();
      return box ? box.y + box.height : Infinity;
    };
    await expect.poll(bottom).toBeLessThanOrEqual(800);
    // All at one instant: fields come and go while the stage is worked.
    const below = await page
      .locator('[data-station="fields"]')
      .locator('input, select')
      .evaluateAll((fields) => {
        const boxes = fields.map((field) => field.getBoundingClientRect());
        // Folded away are only those that are rarely used.
        return boxes.filter(({ top, bottom: end, height }) => height > 0 && (top < 0 || end > 800)).length;
      });
    expect([station, below]).toEqual([station, 0]);
  }
});

test('anything is found by its name, and every shortcut is listed', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Overview');
  const find = async (typed: string): Promise<void> => {
    await page.keyboard.press('Control+k');
    await expect(page.getByRole('combobox', { name: 'Find or do' })).toBeFocused();
    await page.keyboard.type(typed);
    await page.keyboard.press('Enter');
  };
  await find('saturation current');
  await expect(page.getByLabel('Saturation current', { exact: true })).toBeFocused();
  await find('complex');
  await expect(page.getByRole('img', { name: /^Loop gain in the complex plane/ })).toBeVisible();
  await find('look 20.0 100');
  await expect(page.locator('.corner-grid .here')).toContainText('20.0');
  await find('targets efficiency');
  await expect(page.getByRole('dialog')).toContainText('Working: efficiency');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await find('stages echo core');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Echo core');
  await page.locator('#station').focus();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('find or do anything by name');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Alt+4');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Inductor');
});

test('a corner is chosen in the grid with the arrow keys; brackets go through all', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  const here = page.locator('.corner-grid .here');
  await expect(here).toContainText('29.2');
  await page.getByRole('radio', { checked: true }).focus();
  await page.keyboard.press('ArrowUp');
  await expect(here).toContainText('25.6');
  await page.keyboard.press('ArrowLeft');
  await expect(here).toContainText('6.00');
  await expect(page.locator('.station-head')).toContainText('25.6');
  await page.keyboard.press('[');
  await expect(here).toContainText('4.00');
  await page.keyboard.press(']');
  await expect(here).toContainText('6.00');
});

test('a picture is read off by keys and pointer, zoomed, and given away as PNG and CSV', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Inductor');
  const picture = page.getByRole('group', { name: /^Inductance against current/ });
  await picture.focus();
  await page.keyboard.press('ArrowRight');
  const read = page.locator('.read-out').first();
  await expect(read).toContainText(/A.*value \d\.\d+.µH/);
  const first = await read.innerText();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(read).not.toHaveText(first);
  await page.keyboard.press('Escape');
  await expect(read).not.toContainText('value');
  const box = await picture.boundingBox();
  if (!box) throw new Error('no picture');
  await page.mouse.move(box.x + box.width / 2, box.y + 60);
  await expect(read).toContainText('value');
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.8, box.y + 90, { steps: 4 });
  await page.mouse.up();
  await page.getByRole('button', { name: 'Whole picture' }).click();
  await expect(page.getByRole('button', { name: 'Whole picture' })).toHaveCount(0);
  for (const [format, begins] of [
    ['PNG', '\u{fffd}PNG'],
    ['CSV', 'curve,"inductor current (A)","inductance (H)"'],
  ] as const) {
    const downloading = page.waitForEvent('download');
    await page.getByRole('button', { name: new RegExp(`^Inductance against current.* as ${format}$`) }).click();
    expect((await readFile(await (await downloading).path(), 'utf8')).startsWith(begins)).toBe(true);
  }
});

test('the shelf is searched, put in order and folded; a line of numbers begins a stage', async ({ page }) => {
  await page.goto('/');
  const names = page.locator('.stage-name');
  await expect(names).toHaveCount(6);
  await page.getByLabel('Find').fill('boost');
  await expect(names).toHaveCount(3);
  await page.getByLabel('Find').fill('');
  await page.getByLabel('Order').selectOption('name');
  await expect(names.first()).toHaveText('Dynamo intake');
  await page.getByRole('button', { name: 'Fold Skerry-9' }).click();
  await expect(names).toHaveCount(0);
  await page.getByRole('button', { name: 'Unfold Skerry-9' }).click();
  await page.getByRole('button', { name: 'New stage' }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByRole('button', { name: 'Start the stage' })).toBeDisabled();
  await sheet.getByLabel('Name', { exact: true }).fill('Winch');
  await sheet.getByLabel('What it is for, in a line').fill('8-18 V to 12 V 2 A');
  await expect(sheet.getByLabel('Highest input voltage')).toHaveValue(/18/);
  // What cannot do it says why, and cannot be taken.
  await expect(sheet.getByRole('radio', { name: /^buck/ })).toBeDisabled();
  await expect(sheet.getByRole('radio', { name: /^four-switch/ })).toBeChecked();
  await sheet.getByRole('button', { name: 'Start the stage' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Winch');
  await expect(page.locator('.station-head')).toContainText('four-switch');
  await expect(page.locator('.verdict-sentence')).toContainText('Nothing fails');
});

/** Press Tab until something has the focus, as one does who has no pointer. */
async function tabTo(page: Page, target: Locator): Promise<void> {
  await expect(target).toBeVisible();
  for (let stop = 0; stop < 150; stop += 1) {
    if (await target.evaluate((element) => element === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error('The keyboard does not get there.');
}

test('the whole job by keyboard alone: from an empty shelf to an exported stage', async ({ page }) => {
  await page.goto('/');
  const press = async (name: string | RegExp): Promise<void> => {
    await tabTo(page, page.getByRole('button', { name }).first());
    await page.keyboard.press('Enter');
  };
  await press('Delete project');
  await expect(page.getByText('The shelf is empty.')).toBeVisible();
  await press('Close');
  await press('New project');
  await page.keyboard.type('Lantern');
  await page.keyboard.press('Enter');
  await press('New stage');
  await page.keyboard.type('Lamp');
  await page.keyboard.press('Tab');
  await page.keyboard.type('9-18 V to 5 V 3 A');
  await expect(page.getByRole('radio', { name: /^buck/ })).toBeChecked();
  await tabTo(page, page.getByLabel(/Phase margin 50/));
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Start the stage' })).toBeEnabled();
  await press('Start the stage');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Lamp');
  await page.keyboard.press('Alt+8');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Loop');
  await press('Propose a compensator');
  await expect(ledgerLine(page, 'loopStability')).toContainText('holds');
  await page.keyboard.press('Alt+4');
  await expect(page.getByRole('table', { name: 'Inductors that fit' })).toBeVisible();
  await press(/^Choose /);
  await expect(page.getByRole('button', { name: 'Inductor: pinned' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Alt+1');
  await expect(page.locator('.verdict-sentence')).toContainText(/Nothing fails|fail/);
  const downloading = page.waitForEvent('download');
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('combobox', { name: 'Find or do' })).toBeFocused();
  await page.keyboard.type('export');
  await page.keyboard.press('Enter');
  const text = await readFile(await (await downloading).path(), 'utf8');
  const { name, control } = JSON.parse(text) as { name: string; control: { compensator?: unknown } };
  expect(name).toBe('Lamp');
  expect(control.compensator).toBeDefined();
});

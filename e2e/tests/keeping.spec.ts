import { expect, goTo, newStage, openStage, saveState, take, test } from '../desk';

test('two tabs on one stage: the second save is told, and neither version is lost', async ({ page, context }) => {
  await newStage(page, 'Shared');
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByLabel('Output voltage')).toHaveValue('5 V');

  await take(page.getByLabel('Output voltage'), '3.3');
  await expect(saveState(page)).toHaveText('saved');
  await take(other.getByLabel('Output voltage'), '1.8');
  await expect(other.getByRole('alert')).toContainText('saved elsewhere meanwhile');
  await expect(saveState(other)).toHaveText('not saved: changed elsewhere');
  await expect(other.getByLabel('Output voltage')).toHaveValue('1.8 V');

  await other.getByRole('button', { name: 'Keep mine' }).click();
  await expect(saveState(other)).toHaveText('saved');
  await page.reload();
  await expect(page.getByLabel('Output voltage')).toHaveValue('1.8 V');
  await page.goto('/');
  await page.getByRole('link', { name: 'Shared (other version)' }).click();
  await goTo(page, 'Targets');
  await expect(page.getByLabel('Output voltage')).toHaveValue('3.3 V');
});

test('taking the other version keeps mine as a copy', async ({ page, context }) => {
  await newStage(page, 'Taken');
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByLabel('Output voltage')).toHaveValue('5 V');
  await take(page.getByLabel('Output voltage'), '3.3');
  await expect(saveState(page)).toHaveText('saved');
  await take(other.getByLabel('Output voltage'), '1.2');
  await other.getByRole('button', { name: 'Take the other' }).click();
  await expect(other.getByLabel('Output voltage')).toHaveValue('3.3 V');
  await page.goto('/');
  await page.getByRole('link', { name: 'Taken (my version)' }).click();
  await goTo(page, 'Targets');
  await expect(page.getByLabel('Output voltage')).toHaveValue('1.2 V');
});

test('the database dies and comes back: the page says so, keeps the edit through a reload, and recovers', async ({
  page,
  desk,
}) => {
  await newStage(page, 'Storm');
  await expect(saveState(page)).toHaveText('saved');
  await desk.database.kill();
  await take(page.getByLabel('Output voltage'), '6');
  await expect(page.getByRole('alert')).toContainText('The database is not answering');
  await expect(saveState(page)).toHaveText('not saved: kept in this browser');
  await page.reload();
  await expect(page.getByRole('alert')).toContainText('opened as soon as it can be');
  await desk.database.restart();
  await expect(page.getByLabel('Output voltage')).toHaveValue('6 V', { timeout: 15_000 });
  await expect(saveState(page)).toHaveText('saved');
  await expect(page.getByRole('alert')).toHaveCount(0);
});

test.describe('without a network', () => {
  // A part of the engine that was not fetched before cannot be: the view says so, and asks again when the network is back.
  test.use({ tolerated: /dynamically imported module/ });
  test('offline: edits wait in the browser and are saved when the network is back', async ({ page, context }) => {
    await openStage(page, 'Echo core');
    await context.setOffline(true);
    await take(page.getByLabel('Full load current'), '50');
    await expect(page.getByRole('alert').filter({ hasText: 'The server cannot be reached' })).toBeVisible();
    await expect(saveState(page)).toHaveText('not saved: kept in this browser');
    await context.setOffline(false);
    await page.getByRole('button', { name: 'Try now' }).click();
    await expect(saveState(page)).toHaveText('saved');
    // What could not be worked meanwhile is worked now, unasked.
    await expect(page.getByRole('alert')).toHaveCount(0);
  });
});

test('the shelf says when the database is away and shows itself when it is back', async ({ page, desk }) => {
  await desk.database.kill();
  await page.goto('/');
  await expect(page.getByRole('alert')).toContainText('The database is not answering');
  await desk.database.restart();
  await expect(page.getByRole('link', { name: 'Hull bus', exact: true })).toBeVisible({ timeout: 15_000 });
});

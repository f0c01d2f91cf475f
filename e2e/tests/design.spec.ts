import { expect, newStage, take, test } from '../desk';

test('a stage is designed from records: stopped, proposed, taken as one step, taken back', async ({ page }) => {
  await newStage(page, 'Own bus');
  const region = page.getByRole('region', { name: 'Design from records' });
  const design = page.getByRole('button', { name: 'Design from records' });
  await design.click();
  await page.getByRole('button', { name: 'Stop designing' }).click();
  await expect(design).toBeVisible();
  await expect(region).toHaveCount(0);
  await design.click();
  await expect(page.getByRole('progressbar', { name: 'Design under way' })).toBeVisible();
  await expect(region).toContainText('Every target holds; no load step is asked for. Chosen for loss, board and price');
  const parts = page.getByRole('table', { name: 'Parts of the proposed design' });
  // Records have names: a mark, and the value or the rating.
  await expect(page.getByRole('img', { name: /^Loss against board.*proposed, .*Hz at/ })).toBeVisible();
  await expect(parts.getByRole('row', { name: /^Inductor/ })).toContainText(/L[XY]\d/);
  await expect(parts.getByRole('row', { name: /^High side/ })).toContainText(/[A-Z]{2}\d+-\d/);
  await expect(parts.getByRole('row', { name: /^Output capacitors/ })).toContainText(/C[A-Z]\d/);
  // Another draft is finished and looked at in its place.
  const drafts = page.getByRole('table', { name: 'Other drafts' });
  const other = drafts.getByRole('button', { name: /^Finish the draft/ }).first();
  const choke = / with (\S+)$/.exec((await other.getAttribute('aria-label')) ?? '')?.[1] ?? 'none';
  await other.click();
  await expect(parts.getByRole('row', { name: /^Inductor/ })).toContainText(choke);
  const undo = page.getByRole('button', { name: 'Undo' });
  await expect(undo).toBeDisabled();
  await region.getByRole('button', { name: 'Take this design' }).click();
  await expect(region).toContainText('Taken: undo brings back');
  await expect(page.locator('.line[data-target="inductorSaturation"]')).toBeVisible();
  await undo.click();
  await expect(undo).toBeDisabled();
  await expect(region.getByRole('button', { name: 'Take this design' })).toBeVisible();
});

test('designed after every edit: what was chosen joins the edit, and one undo takes back both', async ({ page }) => {
  await newStage(page, 'Own bus');
  await page.getByLabel('after every edit').check();
  const load = page.getByLabel('Full load current', { exact: true });
  await take(load, '4');
  const region = page.getByRole('region', { name: 'Design from records' });
  await expect(region).toContainText('Taken: undo brings back');
  await page.getByText(/^Why each value/).click();
  await expect(region).toContainText('records that keep the ripple');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(load).toHaveValue('3 A');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  // What was proposed is of another stage now.
  await expect(region).toContainText('The stage has changed since: this is of its targets before.');
});

test('features are asked of the controller: which records qualify, why the others do not, and one is chosen', async ({
  page,
}) => {
  await newStage(page, 'Own bus');
  await page.getByText('none chosen: its values are typed or typical').click();
  await page.getByLabel('power good').check();
  const qualify = page.getByRole('table', { name: 'Controllers that qualify' });
  await expect(qualify).toContainText('power good');
  await page.getByText(/do not qualify, with the reasons/).click();
  await expect(page.getByText(/It does not drive this topology|Its control scheme is/).first()).toBeVisible();
  const first = qualify.getByRole('button').first();
  const name = (await first.getAttribute('aria-label'))?.replace('Choose ', '') ?? '';
  await first.click();
  await expect(page.locator('summary').filter({ hasText: name })).toContainText('to offer power good');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('none chosen: its values are typed or typical')).toBeVisible();
});

test('a new stage is designed from records by itself, and its overview leads to what was found', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New stage' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('What it is for, in a line').fill('10-14 V to 5 V 3 A');
  await sheet.getByLabel('Name', { exact: true }).fill('Own bus');
  await sheet.getByRole('button', { name: 'Start the stage' }).click();
  const notice = page.getByRole('status').filter({ hasText: 'A design from records is there' });
  await expect(notice).toContainText('Every target holds; no load step is asked for.');
  await notice.getByRole('link').click();
  await page.getByRole('button', { name: 'Take this design' }).click();
  await expect(page.getByRole('region', { name: 'Design from records' })).toContainText('Taken: undo brings back');
});

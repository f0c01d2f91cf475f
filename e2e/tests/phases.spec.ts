import { expect, goTo, openStage, test } from '../desk';

test('numbers of phases are drafted and weighed, one is recommended, and taking one designs it as a step that undo takes back', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await openStage(page, 'Echo core', 'Phases');
  const says = page.getByTestId('recommended-phases');
  const table = page.getByRole('table', { name: 'Numbers of phases' });
  // The first is there long before all of them.
  await expect(table.locator('tbody tr').first()).toBeVisible();
  await expect(says).toContainText(/Recommended for loss, board and price: \d phases?:/);
  await expect(table.locator('tbody tr')).toHaveCount(12);
  await expect(says).toContainText(/Runner-up, \d+ phases?:/);
  await expect(page.getByRole('img', { name: /^Loss against the number of phases.*recommended at/ })).toBeVisible();
  // Ripple of the sum falls with the number while that of a phase is kept by its ratio.
  const sums = (await table.locator('tbody tr td:nth-child(4)').allInnerTexts()).map(
    (text) => parseFloat(text) * (text.includes('mA') ? 1e-3 : 1),
  );
  expect(sums[0]).toBeGreaterThan(3 * (sums[5] ?? Infinity));
  // Load steps follow, simulated.
  await expect(table.locator('tbody tr').first().locator('td:nth-child(6)')).toContainText(/mV/, { timeout: 90_000 });

  // Stopped, what there is stays, and begins again when asked.
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(says).toContainText('Stopped.');
  await expect(table.locator('tbody tr')).toHaveCount(12);
  await page.getByRole('button', { name: 'Begin again' }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await expect(says).toContainText(/Its load step takes the output [\d.]+.mV of the [\d.]+.mV allowed/);

  await page.getByRole('button', { name: 'Take 3 phases' }).click();
  await expect(page.getByLabel('Phases', { exact: true })).toHaveValue('3');
  const undo = page.getByRole('button', { name: 'Undo' });
  await expect(undo).toBeEnabled();
  // The design joins the step: its loop is there, and one undo brings everything back.
  await goTo(page, 'Targets');
  await expect(page.getByText(/Taken: undo brings back/)).toBeVisible({ timeout: 90_000 });
  await undo.click();
  await goTo(page, 'Phases');
  await expect(table.locator('tbody tr').first()).toBeVisible();
  // A draft of another design than the one on the screen cannot be taken: it would undo the edit since.
  await page.getByLabel('Phases', { exact: true }).fill('5');
  await page.getByLabel('Phases', { exact: true }).press('Enter');
  await expect(page.getByText('Still showing the design before the last edit.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take 2 phases' })).toBeDisabled();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Phases', { exact: true })).toHaveValue('4');
});

test('what interleaving cancels, whether coupling is worth it, and when phases are shed', async ({ page }) => {
  test.setTimeout(300_000);
  await openStage(page, 'Echo core', 'Phases');
  await page.getByRole('button', { name: 'Cancellation' }).click();
  const left = page.getByRole('img', { name: /^What interleaving leaves of the ripple/ });
  await expect(left).toHaveAccessibleName(
    /4, this design from 0\.000 to 1\.000.*nulls at 0\.250.*hatched: this design/,
  );
  await expect(page.getByRole('img', { name: /^Input capacitor current of interleaved phases/ })).toBeVisible();

  await page.getByRole('button', { name: 'Coupling', exact: true }).click();
  const verdict = page.getByTestId('coupling-verdict');
  await expect(verdict).toContainText(/^Worth it here: the load step sets the inductance.*inverse coupling of 0\.4/);
  const rows = page.getByRole('table', { name: 'Coupled and uncoupled windings' }).locator('tbody tr');
  await expect(rows.filter({ hasText: 'same transient L' })).toHaveCount(3);
  await page.getByLabel('Coefficient looked at').fill('0.6');
  await expect(verdict).toContainText('inverse coupling of 0.6');
  await page.getByLabel('sharing a core').selectOption('all');
  await expect(page.getByText('4 windings on a core')).toBeVisible();
  await page.getByLabel('Wound').selectOption('direct');
  await expect(verdict).toContainText('direct coupling of 0.6');

  await page.getByRole('button', { name: 'Sharing' }).click();
  const sharing = page.getByRole('table', { name: 'Current sharing' });
  await expect(sharing).toContainText('200 boards');
  await expect(sharing.locator('tbody tr')).toHaveCount(2);
  await expect(page.getByText(/This stage senses the current of each phase/)).toBeVisible();

  await page.getByRole('button', { name: 'Shedding' }).click();
  const thresholds = page.getByRole('table', { name: 'Thresholds of shedding' });
  await expect(thresholds.locator('tbody tr')).toHaveCount(3);
  await expect(thresholds).toContainText(/3 to 4\s*45\.0.A/);
  await expect(page.getByRole('img', { name: /^Efficiency with phases shed/ })).toBeVisible();
  // Adding and dropping are simulated with the loop of the stage.
  // Six runs, each until the loop has come to rest: half a minute on a machine that does other work beside them.
  await expect(thresholds.locator('tbody tr').last()).toContainText(/−[\d.]+\s?.V, \+[\d.]+\s?mV.*−[\d.]+\s?mV, \+/, {
    timeout: 150_000,
  });
  await expect(page.getByRole('img', { name: /^Output as a phase is added.*3 to 4 phases/ })).toBeVisible();

  await page.getByRole('button', { name: 'Critical conduction' }).click();
  const soft = page.getByRole('table', { name: 'Soft switching over the input' });
  await expect(soft.locator('tbody tr')).toHaveCount(3);
  await expect(soft).toContainText(/12\.0.V\s*10\.2.V/);
  await page.getByRole('button', { name: 'At no voltage' }).click();
  await expect(page.getByRole('img', { name: /^Voltage across the main switches/ })).toBeVisible();
  await expect(page.getByText(/At nominal input and full load the peak is/)).toBeVisible();
});

test('all phases are put on one core in the form of the stage; a single phase is asked how many there should be', async ({
  page,
}) => {
  await openStage(page, 'Echo core', 'Stage');
  await page.getByLabel('Coupling', { exact: true }).selectOption('inverse');
  await expect(page.getByLabel('Coefficient', { exact: true })).toHaveValue('0.4');
  const ripple = page.getByRole('button', { name: /^Inductor ripple/ });
  const pairs = await ripple.innerText();
  await page.getByLabel('On one core').selectOption('all');
  await expect(ripple).not.toHaveText(pairs);
  await openStage(page, 'Hull bus', 'Stage');
  const rail = page.getByRole('navigation', { name: 'Stations' });
  await expect(rail.getByText('Phases', { exact: true })).toHaveCount(0);
  await page.getByRole('link', { name: 'How many phases?' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Phases');
  await expect(rail.getByText('Phases', { exact: true })).toBeVisible();
});

import { expect, openStage, take, test } from '../desk';

test('a project draws what feeds what with the power through it; another feeder, source and load are worked anew', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Skerry-9', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Skerry-9');
  const drawing = page.getByRole('img', { name: /^Power through the stages/ });
  await expect(drawing).toHaveAccessibleName(/Echo core, fed by Hull bus: 63\.\d.W in, 54\.0.W out/);
  const says = page.getByTestId('system-says');
  await expect(says).toContainText(/out of the sources, 250\.8.W into the loads: 93\.\d %/);
  await expect(says).toContainText('A tenth less loss in Echo core saves most');
  const rows = page.getByRole('table', { name: 'Power through the stages' }).locator('tbody tr');
  const bus = rows.filter({ hasText: 'Hull bus' }).first();
  // 12 V times what it carries is what the three draw.
  await expect(bus).toContainText(/7\.8\d.A/);
  await expect(rows.filter({ hasText: 'Logger logic' })).toContainText(/93\.\d % ?91\.\d % ?12\.9 %/);

  // How they bear on each other, and one stage in place of several.
  const meeting = page.getByRole('region', { name: 'Where stages feed each other' });
  await expect(meeting).toContainText(/Hull bus comes to 0\.0\d+ of the input impedance.*each behaves as by itself/);
  await expect(page.getByRole('img', { name: /^Impedances where Hull bus feeds/ })).toBeVisible();
  await expect(page.getByRole('table', { name: 'How the stages come up' }).locator('tbody tr')).toHaveCount(6);
  await expect(page.getByText('Echo core states no lock-out: it begins while Hull bus is still rising')).toBeVisible();
  await page.getByRole('button', { name: 'Draft one stage from the source to each load' }).click();
  const singles = page.getByRole('table', { name: 'One stage from the source to each load' });
  await expect(singles.locator('tbody tr')).toHaveCount(3);
  await expect(singles.locator('tbody tr').filter({ hasText: 'Echo core' })).toContainText(
    /buck.*0\.04\d.*8\d\.\d %.*83\.\d %/,
  );

  await page.getByLabel('loads at').selectOption('a tenth');
  await expect(says).toContainText(/25\.08.W into the loads/);
  await page.getByLabel('loads at').selectOption('full load');
  await page.getByLabel('Source voltage').selectOption('lowest');
  await expect(bus).toContainText(/20\.0.V/);
  await page.getByLabel('Source voltage').selectOption('nominal');

  // Kept in the stage file: a reload finds it.
  await page.getByLabel('Echo core is fed by').selectOption('a source of its own');
  await expect(bus).toContainText(/2\.5\d.A/);
  await page.reload();
  await expect(bus).toContainText(/2\.5\d.A/);
  await page.getByLabel('Echo core is fed by').selectOption('Mast radio');
  await expect(page.getByText(/Mast radio gives 48\.0.V; Echo core takes 11\.4.V to 12\.6.V/)).toBeVisible();

  await page.getByLabel('Echo core is fed by').selectOption('Hull bus');
  await expect(bus).toContainText(/7\.8\d.A/);

  await page.getByLabel('Battery of').fill('500 Wh');
  await expect(page.getByText(/are drawn on average: it lasts \d+\.\d h/)).toBeVisible();
  await page.getByLabel('Battery of').fill('much');
  await expect(page.getByText('Type watt-hours')).toBeVisible();
});

test('a change in a leaf reaches the source, and the stage leads to its project', async ({ page }) => {
  await openStage(page, 'Logger logic', 'Targets');
  await take(page.getByLabel('Full load current', { exact: true }), '3');
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await page.getByRole('link', { name: 'Skerry-9' }).click();
  const rows = page.getByRole('table', { name: 'Power through the stages' }).locator('tbody tr');
  await expect(rows.filter({ hasText: 'Hull bus' }).first()).toContainText(/6\.9\d.A/);
});

import type { Page } from '@playwright/test';
import { expect, goTo, ledgerLine, newStage, openStage, take, test } from '../desk';

const element = (page: Page, name: string) => page.locator(`[data-element="${name}"]`);
const currentOf = async (page: Page, name: string): Promise<number> =>
  Number(await element(page, name).getAttribute('data-current'));
const showSchematic = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: 'Schematic' }).click();
  await expect(page.getByRole('group', { name: 'Schematic of the stage' })).toBeVisible();
};

test('the schematic shows what conducts at an instant, and the currents into the switch node balance', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Stage');
  await showSchematic(page);
  const said = page.getByTestId('conducting');
  const instant = page.getByLabel('Instant of the period');
  await expect(said).toHaveText('high-side switch 1 conducts');
  await instant.fill('100');
  const after = page.getByRole('button', { name: 'After' });
  // The button goes from one switching instant to the next.
  for (const [conducting, carrier] of [
    ['high-side switch 1 conducts', 'highSide1'],
    ['low-side body diode 1 conducts', 'lowSide1Body'],
    ['low-side switch 1 conducts', 'lowSide1'],
  ] as const) {
    if (carrier !== 'highSide1') await after.click();
    await expect(said).toHaveText(conducting);
    await expect(element(page, carrier)).toHaveAttribute('data-conducting', 'true');
    const inductor = await currentOf(page, 'inductor1');
    expect(inductor).toBeGreaterThan(6);
    expect(Math.abs(await currentOf(page, carrier))).toBeCloseTo(inductor, 6);
    expect((await currentOf(page, 'outputCapacitor1')) + 8).toBeCloseTo(inductor, 6);
  }
});

test('a part of the schematic gives its figures and leads to its waveforms', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  await showSchematic(page);
  await element(page, 'outputCapacitor1').focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('.schematic-notes')).toContainText('output capacitor bank 1 (48.4 µF at its bias');
  await page.getByRole('button', { name: 'Show its waveforms' }).click();
  await expect(page.getByLabel('Waveform of the upper pane')).toHaveValue('current:outputCapacitor1');
  const row = page.getByRole('table', { name: 'Measures of the waveforms' }).locator('tbody tr').first();
  const [average, rms] = await row.locator('.value').allInnerTexts();
  expect(Number.parseFloat(average ?? '')).toBeCloseTo(0, 6);
  // The same figure as the one the stage reports for its output capacitors.
  const reported = await page.getByRole('button', { name: /^Output cap\. RMS/ }).innerText();
  expect(reported).toContain(rms ?? 'none');
});

test('phases are drawn one at a time, the others as what they bring', async ({ page }) => {
  await openStage(page, 'Echo core', 'Stage');
  await showSchematic(page);
  await page.getByLabel('Phase drawn').selectOption({ label: '3' });
  await expect(element(page, 'inductor3')).toBeVisible();
  await expect(element(page, 'inductor1')).toHaveCount(0);
  await expect(page.getByText('other phases')).toHaveCount(3);
});

test('any waveform can be looked at, with its measures and harmonics', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  await page.getByLabel('Waveform of the middle pane').selectOption({ label: 'voltage across, low-side switch 1' });
  const table = page.getByRole('table', { name: 'Measures of the waveforms' });
  // A volt-second balance: the average across the low side is the output voltage and the drop of the inductor.
  await expect(table.locator('tbody tr').nth(1).locator('.value').first()).toContainText(/^-?12\.0/);
  await page.getByText('Harmonics', { exact: true }).click();
  const harmonics = page.getByRole('table', { name: 'Harmonics' });
  await expect(harmonics).toContainText('400 kHz');
  await expect(harmonics.locator('tbody tr')).toHaveCount(3);
  await expect(page.getByTestId('cursors')).toContainText('low-side switch 1');
});

test('the frequency study shows what each frequency costs, and one press takes one', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  await page.getByRole('button', { name: 'Frequency study' }).click();
  await expect(page.getByRole('img', { name: 'Losses against the switching frequency' })).toBeVisible();
  const table = page.getByRole('table', { name: 'Frequencies' });
  // The allowed range of the targets, inductance falling and switching loss rising along it.
  await expect(table.locator('tbody tr').first()).toContainText('250 kHz');
  await expect(table.locator('tbody tr').last()).toContainText('600 kHz');
  await page.getByLabel('medium wave').check();
  await page.getByRole('button', { name: 'Use 300 kHz' }).click();
  await expect(page.getByLabel('Switching frequency', { exact: true })).toHaveValue('300 kHz');
  await expect(ledgerLine(page, 'switchingFrequencyMin')).toContainText('300.0 kHz');
});

test('filters, source, a second bank and coupling are added on the screen, and the schematic draws them', async ({
  page,
}) => {
  await newStage(page, 'Surrounded');
  await goTo(page, 'Stage');
  await showSchematic(page);
  await page.getByRole('button', { name: 'Add input filter' }).click();
  await expect(element(page, 'inputFilter')).toBeVisible();
  await expect(element(page, 'inputDamping')).toBeVisible();
  await page.getByRole('button', { name: 'Add source impedance' }).click();
  await expect(element(page, 'sourceImpedance')).toBeVisible();
  await page.getByRole('button', { name: 'Add second output filter' }).click();
  await expect(element(page, 'outputFilterCapacitor1')).toBeVisible();
  await page.getByRole('button', { name: 'Add a bank' }).first().click();
  await expect(element(page, 'outputCapacitor2')).toBeVisible();
  await page.getByLabel('Kind').nth(1).selectOption('polymer');
  await expect(page.getByText('Output capacitors 2: polymer')).toBeVisible();
  await take(page.getByLabel('Phases'), '2');
  await page.getByLabel('Coupling', { exact: true }).selectOption('inverse');
  await expect(page.getByLabel('Coefficient')).toHaveValue('0.4');
  await expect(page.getByText('other phase', { exact: true })).toHaveCount(3);
  // One step of undo each, and what is removed is gone from the drawing.
  await page.getByRole('button', { name: 'Remove the source impedance' }).click();
  await expect(element(page, 'sourceImpedance')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(element(page, 'sourceImpedance')).toBeVisible();
});

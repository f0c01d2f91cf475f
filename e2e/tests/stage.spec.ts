import { expect, goTo, ledgerLine, lookAtCorner, newStage, openStage, saveState, take, test } from '../desk';

test('targets that move choose the free parts anew, and undo brings both back in one step', async ({ page }) => {
  await newStage(page, 'Auto parts');
  const full = page.getByLabel('Full load current');
  await take(full, '12');
  const chosen = page.getByRole('row', { name: /^inductance/ });
  await expect(chosen).toContainText('rounded up to the next E12 value');
  await chosen.getByRole('button', { name: 'Working' }).click();
  await expect(page.getByText('Inductance from the ripple ratio')).toBeVisible();
  await goTo(page, 'Stage');
  const after = await page.getByLabel('Inductance', { exact: true }).inputValue();
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Inductance', { exact: true })).not.toHaveValue(after);
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByLabel('Inductance', { exact: true })).toHaveValue(after);
  await expect(saveState(page)).toHaveText('saved');
});

test('a value that does not fit keeps its text and says why; a later edit lets it in', async ({ page }) => {
  await newStage(page, 'Wider input');
  const min = page.getByLabel('Lowest input voltage');
  await take(min, '20');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('alert')).toHaveText(
    'Lowest input voltage, 20, is above Highest, 14\u2009V: write 14\u2009V or less, or raise Highest.',
  );
  await expect(min).toHaveValue('20');
  await take(page.getByLabel('Nominal'), '24');
  await take(page.getByLabel('Highest', { exact: true }), '28');
  await expect(page.getByRole('alert')).toHaveCount(0);
  await page.keyboard.press('Tab');
  await expect(min).toHaveValue('20 V');
  await expect(page.locator('.corners')).toContainText('28.0');
});

test('nonsense is refused with a sentence that quotes it, and Escape withdraws it', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  const inductance = page.getByLabel('Inductance', { exact: true });
  await inductance.fill('four');
  await expect(page.getByRole('alert')).toContainText('“four” cannot be read here; type a number such as 4.7u, 4u7');
  await inductance.press('Escape');
  await expect(inductance).toHaveValue('6.8 µH');
  await inductance.fill('2');
  await expect(page.getByRole('alert')).toContainText('must be at least 1 pH and at most 1 H');
  await inductance.press('Escape');
});

test('step keys walk the preferred series', async ({ page }) => {
  await newStage(page, 'Steps');
  await goTo(page, 'Stage');
  const inductance = page.getByLabel('Inductance', { exact: true });
  await take(inductance, '4u7');
  await inductance.press('ArrowUp');
  await expect(inductance).toHaveValue('5.6 µH');
  await inductance.press('ArrowDown');
  await inductance.press('ArrowDown');
  await expect(inductance).toHaveValue('3.9 µH');
});

test('a ledger line opens its working: formula, numbers put in, source, corner', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await ledgerLine(page, 'outputRipple').click();
  const panel = page.getByRole('dialog');
  await expect(panel).toContainText('Working: output ripple');
  await expect(panel).toContainText('29.20 V input and 8.000 A load');
  await expect(panel.locator('.katex').first()).toBeVisible();
  const drivers = panel.getByRole('region', { name: 'What drives the margin' });
  await expect(drivers).toContainText('switching frequency');
  await expect(drivers).toContainText('copper from -10');
  await expect(panel).toContainText('Aprille');
  await expect(panel).toContainText('By the textbook');
  await page.keyboard.press('Escape');
  await expect(panel).toHaveCount(0);
});

test('cursors read the waveforms: B − A over one period is no change', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  const cursors = page.getByTestId('cursors');
  await cursors.getByLabel('Cursor A').fill('40');
  await cursors.getByLabel('Cursor B').fill('240');
  await expect(cursors).toContainText('2.500 µs');
  const texts = await cursors.locator('.value').allInnerTexts();
  const [time, current, node, output] = texts.slice(-4);
  expect(time).toContain('2.500');
  for (const text of [current, node, output]) expect(Math.abs(Number.parseFloat(text ?? 'NaN'))).toBeLessThan(1e-6);
  // Dragging in the picture moves the nearer cursor.
  const box = await page.locator('canvas').boundingBox();
  if (!box) throw new Error('no chart');
  await page.mouse.click(box.x + box.width * 0.9, box.y + 60);
  await expect(cursors).not.toContainText('2.500 µs');
});

test('another corner shows other waveforms and figures', async ({ page }) => {
  await openStage(page, 'Logger logic', 'Stage');
  const peak = page.getByRole('button', { name: /^Inductor peak/ });
  const atFullLoad = await peak.innerText();
  await lookAtCorner(page, { load: 0 });
  await expect(peak).not.toHaveText(atFullLoad);
});

test('a boost from a buck: the topology waits for an output it can reach, then the stage is sized anew', async ({
  page,
}) => {
  await newStage(page, 'Step up');
  await goTo(page, 'Stage');
  await page.getByLabel('Topology').selectOption('boost');
  await expect(page.getByRole('alert')).toContainText(
    'as a boost stage only steps up: lower Highest, or raise Output voltage',
  );
  await goTo(page, 'Targets');
  await take(page.getByLabel('Output voltage'), '24');
  await expect(page.locator('.corners')).toContainText('CCM');
  await goTo(page, 'Stage');
  await expect(page.getByLabel('Topology')).toHaveValue('boost');
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(page.getByRole('complementary', { name: 'Ledger' })).not.toContainText('fails');
  await page.getByLabel('Rectifier', { exact: true }).selectOption('diode');
  await expect(page.getByLabel('Forward voltage')).toBeVisible();
  await lookAtCorner(page, { load: 0 });
  await expect(page.locator('.station-head')).toContainText('discontinuous conduction');
});

test('an inverting stage turns the sign of its output with the topology', async ({ page }) => {
  await newStage(page, 'Negative rail');
  await goTo(page, 'Stage');
  await page.getByLabel('Topology').selectOption('inverting-buck-boost');
  await expect(page.locator('canvas')).toBeVisible();
  await goTo(page, 'Targets');
  await expect(page.getByLabel('Output voltage')).toHaveValue('-5 V');
  await expect(saveState(page)).toHaveText('saved');
});

test('the four-switch stage says which region holds at each input voltage', async ({ page }) => {
  await openStage(page, 'Dynamo intake', 'Stage');
  const pick = page.locator('.station-head');
  for (const [index, words] of ['boost region', 'transition region', 'buck region'].entries()) {
    await lookAtCorner(page, { input: index });
    await expect(pick).toContainText(words);
  }
});

test('the conversion ratio of a boost turns over, with the corners on it', async ({ page }) => {
  await openStage(page, 'Mast radio', 'Stage');
  await lookAtCorner(page, { input: 0 });
  await page.getByRole('button', { name: 'Conversion ratio' }).click();
  await expect(page.getByRole('img', { name: 'Conversion ratio against the duty ratio' })).toBeVisible();
  await expect(page.locator('.station')).toContainText('turns over at a duty ratio of 0.964');
  await page.getByRole('button', { name: 'Waveforms' }).click();
  await expect(page.getByTestId('cursors')).toBeVisible();
});

test('the conduction map names the boundary load, and the corner below it is discontinuous', async ({ page }) => {
  await openStage(page, 'Hydrophone bias', 'Stage');
  await page.getByRole('button', { name: 'Conduction mode' }).click();
  await expect(page.getByRole('img', { name: 'Conduction mode over input voltage and load' })).toBeVisible();
  await expect(page.locator('.station')).toContainText('Boundary load: 70.1 mA at 11.4 V input');
  await page.getByRole('button', { name: '70.1 mA at 11.4 V input', exact: true }).click();
  const panel = page.getByRole('dialog');
  await expect(panel).toContainText('Working: boundary load');
  await expect(panel).toContainText('Critical load of the buck-boost');
  await page.keyboard.press('Escape');
  await lookAtCorner(page, { load: 0 });
  await expect(page.locator('.station-head')).toContainText('discontinuous conduction');
});

test('the duty ratio is written as D or as q = T/ton, as the designer prefers, and stays so', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  const duty = Number.parseFloat(
    (await page.getByRole('button', { name: /^Duty ratio/ }).innerText()).replace(/[^0-9.]/g, ''),
  );
  await page.getByLabel('Duty as').selectOption('q');
  const tile = page.getByRole('button', { name: /^Pulse ratio q/ });
  const q = Number.parseFloat((await tile.innerText()).replace(/[^0-9.]/g, ''));
  expect(q * duty).toBeCloseTo(1, 3);
  // An upper limit of D is a lower one of q, in the ledger too; and the axis of the conversion ratio says which it is.
  await expect(ledgerLine(page, 'dutyMax')).toContainText(/pulse ratio q.*at least 1\.05/);
  await page.getByRole('button', { name: 'Conversion ratio' }).click();
  await expect(page.locator('.station')).toContainText('The ratio rises with the duty ratio');
  await page.getByRole('button', { name: 'Waveforms' }).click();
  await page.reload();
  await expect(tile).toBeVisible();
});

test('every topology is weighed against the targets, with reasons and the linear regulator beside them', async ({
  page,
}) => {
  await openStage(page, 'Hull bus');
  const advice = page.getByRole('table', { name: 'Topologies for these targets' });
  await expect(advice).toContainText('buck, this stage');
  await expect(advice).toContainText(
    'It only steps up; the output of 12.0 V is not above the highest input of 29.2 V.',
  );
  await expect(advice).toContainText('Efficiency at the highest input: 41 % at best.');
});

test('targets that do not fit the topology are weighed as typed', async ({ page }) => {
  await openStage(page, 'Hull bus');
  const advice = page.getByRole('table', { name: 'Topologies for these targets' });
  await expect(advice).toBeVisible();
  await take(page.getByLabel('Output voltage', { exact: true }), '48');
  await expect(advice).toContainText(
    'It only steps down; the output of 48.0 V is not below the lowest input of 20.0 V.',
  );
  await expect(page.locator('.station')).toContainText('do not fit the present topology');
  await expect(advice.locator('tbody', { hasText: /^boost/ }).first()).toContainText('yes');
});

test('what the parts do not state is said beside the figures, filled with what is typical as one step, and given back by undo', async ({
  page,
}) => {
  await newStage(page, 'Typed parts');
  await goTo(page, 'Stage');
  await take(page.getByLabel('Inductance', { exact: true }), '4u7');
  const left = page.getByTestId('left-out').first();
  await expect(left).toContainText('core loss of the inductor');
  await left.getByRole('button', { name: 'Fill with what is typical' }).click();
  await expect(page.getByText('core loss of the inductor')).toHaveCount(0);
  await goTo(page, 'Inductor');
  await expect(page.getByLabel('Inductance', { exact: true })).toHaveValue('4.7 µH');
  await page.getByRole('button', { name: 'Undo' }).click();
  await goTo(page, 'Stage');
  await expect(left).toContainText('core loss of the inductor');
});

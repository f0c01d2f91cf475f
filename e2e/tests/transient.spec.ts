import { expect, goTo, ledgerLine, openStage, take, test } from '../desk';

test('a load step is simulated, judged in the ledger, and judged anew after an edit', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Transient');
  await expect(page.getByRole('img', { name: 'Output over time' })).toBeVisible();
  const figures = page.getByRole('table', { name: 'Figures of the run' });
  await expect(figures).toContainText('undershoot');
  const line = ledgerLine(page, 'loadStepDeviation');
  await expect(line).toContainText('at most 360');
  await expect(line).toContainText('worst from 2.00');
  // Less is allowed than it takes: it fails, and the rail says so.
  await take(page.getByLabel('Allowed deviation', { exact: true }), '200m');
  await expect(line).toContainText('at most 200');
  await expect(line).toContainText('fails');
  const rail = page.getByRole('navigation', { name: 'Stations' });
  await expect(rail.getByRole('link', { name: /^Transient ?, fails$/ })).toBeVisible();
});

test('start-up, a short and the switch node are looked at; the waveforms are given away', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Transient');
  await page.getByRole('button', { name: 'Short circuit', exact: true }).click();
  await expect(page.getByText('takes the place of the load')).toBeVisible();
  await page.getByRole('button', { name: 'Currents', exact: true }).click();
  await expect(page.getByRole('img', { name: 'Currents over time' })).toBeVisible();
  await page.getByRole('button', { name: 'Start-up', exact: true }).click();
  await expect(page.getByText('Every state begins at zero')).toBeVisible();
  await page.getByRole('button', { name: 'Start, source cannot sink' }).click();
  await expect(page.getByText('the source takes nothing back')).toBeVisible();
  await expect(page.getByRole('table', { name: 'Figures of the run' })).toContainText('peak input voltage');
  await page.getByRole('button', { name: 'Load off, no feedback' }).click();
  await expect(page.getByText('The duty ratio is held')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Waveforms as CSV' }).click();
  expect((await download).suggestedFilename()).toBe('Hull bus transient.csv');
});

test('without a load step among the targets the station says what is missing', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Targets');
  await page.getByRole('button', { name: 'Do not ask for load step' }).click();
  await goTo(page, 'Transient');
  await expect(page.getByText('the targets state no load step')).toBeVisible();
});

test('a release is shown with the amplifier limited otherwise; a run is held and a record laid over it; the picture is drawn out', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Transient');
  await page.getByRole('button', { name: 'Load release', exact: true }).click();
  await expect(
    page.getByText(/^After the release the output dips to .* with the amplifier held at 0 V or above/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Hold this run' }).click();
  await page.getByLabel('File of an oscilloscope record').setInputFiles({
    name: 'release.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time (us),CH1 (V)\n-5,0\n0,0\n5,0.25\n40,-0.03\n100,0\n'),
  });
  const laid = page.getByRole('list', { name: /^Laid over/ });
  await expect(laid.getByRole('listitem')).toHaveCount(2);
  // Another file is read too, and one that is none is refused with its line.
  await page.getByLabel('File of an oscilloscope record').setInputFiles({
    name: 'broken.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time (us),CH1 (V)\n0,0\n5,none\n'),
  });
  await expect(page.getByRole('alert')).toContainText('broken.csv: Line 3 has the value “none”');
  await expect(laid.getByRole('listitem')).toHaveCount(2);
  // Its peak comes over the run's, some microseconds after the release.
  await expect(laid.getByLabel(/release\.csv.*later by/)).toHaveValue(/^-?[\d.]+\s?[µn]s$/);
  await expect(laid.getByLabel(/release\.csv.*higher by/)).toHaveValue(/^12/);
  const picture = page.getByRole('group', { name: /^Output over time/ });
  const box = await picture.boundingBox();
  if (!box) throw new Error('no picture');
  await page.mouse.move(box.x + 100, box.y + 80);
  await page.mouse.down();
  await page.mouse.move(box.x + 180, box.y + 80, { steps: 4 });
  await page.mouse.up();
  await page.getByRole('button', { name: 'Whole run' }).click();
  await expect(page.getByRole('button', { name: 'Whole run' })).toHaveCount(0);
});

test('a sequence is composed, kept, and refused in a sentence where it cannot be', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Transient');
  await page.getByRole('button', { name: 'Sequence', exact: true }).click();
  await expect(page.getByText('the sequence has no steps: add one')).toBeVisible();
  await page.getByRole('button', { name: 'Add a step' }).click();
  await take(page.getByLabel('Value of step 1'), '3');
  await take(page.getByLabel('Duration of step 1'), '2u');
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByLabel('What step 2 is').selectOption('line');
  await take(page.getByLabel('Value of step 2'), '22');
  await expect(page.getByText('From the settled stage at 8.00 A, step by step.')).toBeVisible();
  await expect(page.getByRole('img', { name: /^Output over time/ })).toBeVisible();
  // What cannot be read stays, with the value that stands until then.
  await take(page.getByLabel('Value of step 2'), 'twelve');
  await expect(page.getByRole('alert')).toContainText(/Until then it is 22\.00\s?V/);
  await expect(page.getByLabel('Value of step 2')).toHaveValue('twelve');
  await take(page.getByLabel('Value of step 2'), '0');
  await expect(page.getByText(/takes the input to 0\s?V; a stage needs an input above 0\s?V/)).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Sequence', exact: true }).click();
  await expect(page.getByRole('table', { name: 'Steps of the sequence' }).getByRole('row')).toHaveCount(3);
});

test('the loop gain is measured in the simulator and laid over the calculated one', async ({ page }) => {
  test.setTimeout(200_000);
  await openStage(page, 'Hull bus', 'Loop');
  await page.getByRole('button', { name: 'Inject in the simulator' }).click();
  await expect(page.getByText(/Injecting, \d+ of 2\d frequencies/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Inject in the simulator' })).toBeVisible({ timeout: 110_000 });
  await expect(page.getByRole('list', { name: /^Traces laid over/ })).toContainText(
    'injected in the simulator, 29.2 V',
  );
});

test('a margin that presses names what drives it and what mends it, by simulation', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Transient');
  const drivers = page.getByRole('region', { name: 'What drives the margin: load step deviation' });
  await expect(drivers).toContainText('inductance');
  await expect(drivers.getByRole('row')).toHaveCount(4);
  await expect(ledgerLine(page, 'loadStepDeviation')).toContainText('driven by inductance: 6.80 µH now, no margin at');
});

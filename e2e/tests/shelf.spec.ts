import { readFile } from 'node:fs/promises';
import { expect, newStage, test } from '../desk';

const stageFile = (part: object = {}): { name: string; mimeType: string; buffer: Buffer } => ({
  name: 'rail.json',
  mimeType: 'application/json',
  buffer: Buffer.from(
    JSON.stringify({
      format: 'yundro-stage',
      version: 1,
      name: 'Imported rail',
      topology: 'buck',
      targets: { inputVoltage: { min: 9, max: 15 }, outputVoltage: 5, outputCurrent: { min: 0, max: 2 } },
      ...part,
    }),
  ),
});

test('the demo project stands on the shelf with its verdicts', async ({ page }) => {
  await page.goto('/');
  const demo = page.getByRole('region', { name: 'Skerry-9', exact: true });
  await expect(demo.getByRole('row', { name: /Hull bus/ }).first()).toContainText('holds');
  await expect(demo.getByRole('row', { name: /Echo core/ }).first()).toContainText('900 mV');
});

test('rename, duplicate, delete and undo a stage', async ({ page }) => {
  await newStage(page, 'Shelf life');
  await page.goto('/');
  await page.getByRole('button', { name: 'Rename Shelf life' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Shelf work');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: 'Duplicate Shelf work' }).click();
  const copy = page.getByRole('link', { name: 'Shelf work copy' });
  await expect(copy).toBeVisible();
  await page.getByRole('button', { name: 'Delete Shelf work copy' }).click();
  await expect(copy).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(copy).toBeVisible();
});

test('a project of one\u2019s own: made, renamed, deleted, undone', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Lantern');
  await page.getByRole('button', { name: 'Save' }).click();
  const project = page.getByRole('region', { name: 'Lantern' });
  await expect(project).toContainText('No stages yet');
  await project.getByRole('button', { name: 'Delete project' }).click();
  await expect(project).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(project).toBeVisible();
});

test('import and export: what comes out goes back in as the same stage', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('stage-file').setInputFiles(stageFile());
  await expect(page.getByRole('row', { name: /Imported rail/ })).toContainText('switching frequency is missing');
  await page.getByRole('link', { name: 'Imported rail' }).click();
  await expect(page.getByRole('complementary', { name: 'Ledger' })).toContainText('missing');
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  const download = await downloading;
  expect(download.suggestedFilename()).toBe('imported-rail.json');
  const text = await readFile(await download.path(), 'utf8');
  await page.goto('/');
  await page
    .getByTestId('stage-file')
    .setInputFiles({ name: 'again.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await expect(page.getByRole('link', { name: 'Imported rail' })).toHaveCount(2);
});

test('a file dropped on a project lands in it', async ({ page }) => {
  await page.goto('/');
  const transfer = await page.evaluateHandle(
    (text) => {
      const data = new DataTransfer();
      data.items.add(new File([text], 'dropped.json', { type: 'application/json' }));
      return data;
    },
    stageFile({ name: 'Dropped rail' }).buffer.toString(),
  );
  await page.getByRole('region', { name: 'Skerry-9', exact: true }).dispatchEvent('drop', { dataTransfer: transfer });
  await expect(page.getByRole('link', { name: 'Dropped rail' })).toBeVisible();
});

const broken: readonly [string, Buffer, RegExp][] = [
  ['unknown key', stageFile({ colour: 1 }).buffer, /At colour: the key “colour” is not known here/],
  [
    'negative inductance',
    stageFile({ parts: { inductor: { inductance: -1e-6 } } }).buffer,
    /At parts\.inductor\.inductance: the inductance is -1.µH, but must be at least 1.pH/,
  ],
  [
    'min above max',
    stageFile({ targets: { inputVoltage: { min: 9, max: 5 }, outputVoltage: 5, outputCurrent: { max: 2 } } }).buffer,
    /At targets\.inputVoltage\.min: 9.V does not fit/,
  ],
  [
    'text for a number',
    stageFile({ deadTime: 'short' }).buffer,
    /At deadTime: the dead time is the text “short”, but must be a number in s/,
  ],
  [
    'two megabytes of zeros',
    Buffer.alloc(2e6, '0'),
    /At the top level: the file is 2\.0 MB; a stage file holds at most 1 MB/,
  ],
  [
    'truncated JSON',
    stageFile().buffer.subarray(0, 90),
    /At the top level: the file is not readable as JSON: it ends in the middle, after 90 characters/,
  ],
];
test('why a file was refused stays on the page when the shelf is read only afterwards', async ({ page }) => {
  let read = (): void => undefined;
  const held = new Promise<void>((resolve) => (read = resolve));
  await page.route('**/api/projects', async (route) => {
    await held;
    await route.continue();
  });
  await page.goto('/');
  await page
    .getByTestId('stage-file')
    .setInputFiles({ name: 'broken.json', mimeType: 'application/json', buffer: Buffer.from('{') });
  await expect(page.getByRole('alert')).toContainText('broken.json was not taken');
  read();
  await expect(page.getByRole('region', { name: 'Skerry-9', exact: true })).toBeVisible();
  await expect(page.getByRole('alert')).toContainText('broken.json was not taken');
});

for (const [name, buffer, sentence] of broken) {
  test(`a broken file is refused with the sentence of the command line: ${name}`, async ({ page }) => {
    await page.goto('/');
    await page.getByTestId('stage-file').setInputFiles({ name: 'broken.json', mimeType: 'application/json', buffer });
    await expect(page.getByRole('alert')).toContainText(sentence);
  });
}

import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { accessFaults, STATION } from '../accessFaults';
import { expect, goTo, openStage, quiet, test } from '../desk';

const view = (page: Page, words: string) =>
  page.getByRole('group', { name: 'View' }).getByRole('button', { name: words, exact: true });
async function put(page: Page, label: string, text: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByLabel(label, { exact: true }).press('Enter');
}

test('the hot loop is drawn on the schematic, and its copper costs volts: without a plane it is beyond the rating', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Board');
  await expect(page.getByRole('table', { name: 'Hot loops' }).locator('tbody tr')).toHaveCount(1);
  await expect(page.getByText(/^Marked: what carries the/)).toBeVisible();
  const hot = page.locator('.schematic .element.hot');
  await expect(hot.filter({ hasText: 'Cin1' })).toHaveCount(1);
  await expect(hot.filter({ hasText: 'HS1' }).first()).toBeVisible();
  await expect(hot.filter({ hasText: 'Cout1' })).toHaveCount(0);
  await expect(hot.filter({ hasText: 'L1' })).toHaveCount(0);
  const says = page.getByRole('status').filter({ hasText: 'as laid out' });
  await expect(says).toContainText(/rings at .* to about .*, at the most to .* 40\.0\DV/);
  await page.getByText('Working', { exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Ringing frequency' })).toBeVisible();
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Netlist of its edge' }).click();
  const netlist = readFileSync(await (await downloading).path()).toString();
  expect(netlist).toMatch(/^l_loop in highSide1_p \d\.\d+e-\d+ IC=0$/m);
  await page.getByLabel('Under it', { exact: true }).selectOption('nothing');
  await put(page, 'Length', '30 mm');
  await put(page, 'Breadth', '20 mm');
  await expect(says).toContainText('beyond the rating of 40.0');
  // What was typed is kept over a reload, and nonsense is refused with its range.
  await page.reload();
  await expect(page.getByLabel('Length', { exact: true })).toHaveValue(/^30\.00/);
  await put(page, 'Breadth', '2 m');
  await expect(page.getByRole('alert')).toContainText('is outside');
});

test('copper of every net with its working; a wider rise makes it narrower', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Conductors').click();
  const row = page.getByRole('table', { name: 'Nets' }).locator('tbody tr').filter({ hasText: 'switch node 1' });
  const width = row.locator('td').nth(2);
  await expect(width).toContainText('mm');
  const before = parseFloat(await width.innerText());
  await put(page, 'Rise allowed', '40');
  await expect.poll(async () => parseFloat(await width.innerText())).toBeLessThan(0.8 * before);
  await page.getByText(/^Working, /).click();
  await expect(page.getByText(/Source: IPC-2221/)).toHaveCount(2);
  for (const name of ['Width of a conductor', 'Resistance of a piece of foil', 'Current of a conductor'])
    await expect(page.getByRole('heading', { name })).toBeVisible();
});

test('parts around the controller are proposed, worked over their tolerances, and taken into the stage', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Around the controller').click();
  const over = page.getByRole('table', { name: 'Over tolerance' });
  await expect(over).toContainText('Frequency of the oscillator');
  await page.getByLabel('Part', { exact: true }).selectOption('Lock-out');
  await put(page, 'Upper resistor', '300k');
  await put(page, 'Lower resistor', '20k');
  await expect(over).toContainText('19.20');
  await expect(over.locator('tbody tr')).toHaveCount(2);
  await page.getByRole('button', { name: 'Take the thresholds into the stage' }).click();
  await goTo(page, 'Transient');
  await goTo(page, 'Board');
  await view(page, 'Around the controller').click();
  await page.getByLabel('Part', { exact: true }).selectOption('Lock-out');
  // Typed values stand until new ones are proposed, now for the thresholds of the stage.
  await expect(page.getByLabel('Upper resistor', { exact: true })).toHaveValue(/^300\.0/);
  await page.getByRole('button', { name: 'Propose anew' }).click();
  await expect(over).toContainText(/19\.[12]/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(over).not.toContainText(/19\.[12]/);
  // The start with its ramp at the shortest is simulated; with a capacitor a hundred times as small the output is charged in a rush.
  await page.getByLabel('Part', { exact: true }).selectOption('Soft start');
  const start = page.getByRole('status').filter({ hasText: 'With the shortest ramp' });
  const peak = async (): Promise<number> => {
    await page.getByRole('button', { name: 'Simulate the start with it' }).click();
    await quiet(page);
    return Number(/choke up to ([\d.]+)/.exec(await start.innerText())?.[1]);
  };
  const usual = await peak();
  await put(page, 'Capacitor', '100p');
  await expect(start).toHaveCount(0);
  expect(await peak()).toBeGreaterThan(1.3 * usual);
  await expect(start).toContainText('no limit is stated');
});

test('what protects the input joins circuit, losses, plan and list of parts; what has no place in the stage is put on the list', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Around the controller').click();
  const part = page.getByLabel('Part', { exact: true });
  await part.selectOption('Input fuse');
  await put(page, 'Resistance of the fuse, warm', '20m');
  await page.getByRole('button', { name: 'Take it into the circuit' }).click();
  await part.selectOption('Reverse polarity');
  await page.getByRole('button', { name: 'Take the diode into the circuit' }).click();
  await part.selectOption('Oscillator');
  await put(page, 'Resistor', '7k5');
  await page.getByRole('button', { name: 'Put on the list of parts' }).click();
  await put(page, 'Resistor', '8k2');
  await expect(page.getByText('it stands with the values it was put there with')).toBeVisible();

  await view(page, 'List of parts').click();
  const list = page.getByRole('table', { name: 'Parts' });
  const row = (words: string) => list.locator('tbody tr').filter({ hasText: words });
  await expect(row('fuse')).toContainText('20.0 mΩ');
  await expect(row('reverse-polarity element')).toContainText('drops 500 mV');
  await expect(row('Oscillator: resistor')).toContainText('7.500 kΩ');
  await expect(page.getByText('16 lines, 22 parts.')).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'As CSV' }).click(),
  ]);
  expect(readFileSync(await file.path(), 'utf8').split('\r\n')[0]).toBe(
    'part,side,count,value,record,price each,length (m),width (m)',
  );

  await view(page, 'Floor plan').click();
  await expect(page.getByRole('button', { name: /^fuse/ })).toBeVisible();
  await goTo(page, 'Stage');
  await expect(page.getByLabel('Resistance', { exact: true }).nth(0)).toBeVisible();
  await goTo(page, 'Efficiency');
  await page.getByRole('button', { name: 'Where it goes' }).click();
  const curves = page.waitForEvent('download');
  await page.getByRole('button', { name: /CSV$/ }).click();
  expect(readFileSync(await (await curves).path(), 'utf8')).toContain('input protection and preload');
  // It is one step of undo each.
  await page.getByRole('button', { name: 'Undo' }).click();
  await goTo(page, 'Board');
  await view(page, 'List of parts').click();
  await expect(row('reverse-polarity element')).toHaveCount(0);
  await expect(row('fuse')).toHaveCount(1);
});

test('every part around the controller that the stage has a place for is taken into it', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Around the controller').click();
  for (const [name, press] of [
    ['Preload', 'Take it into the circuit'],
    ['Transient suppressor', 'Take it into the stage'],
    ['Precharge', 'Take it into the stage'],
    ['Reverse polarity', 'Take the switch into the circuit'],
    ['Current limit', 'Take the resistor into the circuit'],
    ['Clamp of the amplifier', 'Take the clamp into the stage'],
    ['Divider with trimmer', 'Take the divider into the stage, the wiper in its middle'],
  ] as const) {
    await page.getByLabel('Part', { exact: true }).selectOption(name);
    await page.getByRole('button', { name: press }).click();
    await expect(page.getByRole('button', { name: press })).toBeEnabled();
    await expect(page.locator('.part-acts').getByRole('alert')).toHaveCount(0);
  }
  await view(page, 'List of parts').click();
  const list = page.getByRole('table', { name: 'Parts' });
  for (const words of [
    'preload',
    'transient suppressor',
    'precharge resistor',
    'reverse-polarity element',
    'sense resistor',
  ])
    await expect(list.locator('tbody tr').filter({ hasText: words })).toHaveCount(1);
});

test('the checklist of this stage is gone through, its states and notes are kept, and the page is accessible', async ({
  page,
}) => {
  await openStage(page, 'Echo core', 'Board');
  await view(page, 'Checklist').click();
  const lines = page.locator('.checklist li');
  await expect(lines.filter({ hasText: /phases evenly/ })).toHaveCount(1);
  const count = await lines.count();
  await page.getByLabel('State of line 1', { exact: true }).selectOption('done');
  await page.getByLabel('Note on line 1', { exact: true }).fill('seen on the first board');
  await expect(page.getByText(`${String(count - 1)} of ${String(count)} lines are open.`)).toBeVisible();
  await page.reload();
  await view(page, 'Checklist').click();
  await expect(page.getByLabel('Note on line 1', { exact: true })).toHaveValue('seen on the first board');
  for (const words of [
    'Hot loops',
    'Floor plan',
    'Conductors',
    'Around the controller',
    'Conducted noise',
    'List of parts',
    'Checklist',
    'Care',
  ]) {
    await view(page, words).click();
    expect([words, ...(await accessFaults(page, { within: STATION }))]).toEqual([words]);
  }
});

test('care stands on one sheet, with its numbers, and is given away as a PDF', async ({ page }) => {
  await openStage(page, 'Mast radio', 'Board');
  await view(page, 'Care').click();
  const sheet = page.getByRole('article', { name: 'Care' });
  await expect(sheet).toContainText('What stays charged');
  await expect(sheet).toContainText(/Local codes/);
  await expect(sheet).toContainText(/junction up to \d+/);
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PDF' }).click();
  const bytes = readFileSync(await (await downloading).path());
  expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
});

test('conducted noise is held against a limit that is typed in; dithering takes its share', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Conducted noise').click();
  await expect(page.getByRole('img', { name: /^Conducted noise/ })).toBeVisible();
  const limit = page.getByLabel(/^Limit line/);
  await limit.fill('150k 66\nsoon 56');
  await expect(page.getByRole('alert')).toContainText('Line 2, “soon 56”, begins with no frequency');
  await limit.fill('150k 40\n30M 40');
  const says = page.getByRole('status').filter({ hasText: 'attenuation' });
  await expect(says).toContainText(/dB of attenuation are wanted at/);
  const wanted = async (): Promise<number> => parseFloat(await says.innerText());
  const before = await wanted();
  await put(page, 'Dithered by ±', '5 %');
  await expect.poll(wanted).toBeLessThan(before - 3);
  await limit.fill('150k 160\n30M 160');
  await expect(page.getByText(/^Below the limit by .* dB at the worst/)).toBeVisible();
});

const inductance = async (page: Page): Promise<number> => {
  const figure = page.locator('dl.figures div').filter({ hasText: 'inductance' }).first().locator('dd');
  const text = await figure.innerText();
  return parseFloat(text) * (text.includes('p') ? 1 : 1e3);
};

test('the hull bus is laid by the proposal and improved by hand; what is moved is judged as it moves, kept, and stepped back', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Floor plan').click();
  const plan = page.getByRole('group', { name: 'Floor plan' });
  await expect(plan.locator('.part')).toHaveCount(15);
  const rules = page.getByRole('table', { name: 'Rules of the plan' });
  const says = page.getByRole('status').filter({ hasText: 'rules' });
  await expect(says).toContainText('As proposed');
  await expect(rules.locator('tr').filter({ hasText: 'feedback line passes' })).toContainText('holds');
  const proposed = await inductance(page);
  // Turned by hand the tab of the upper switch lies nearer: less inductance, and no rule broken by it.
  const before = await says.innerText();
  const upper = plan.getByRole('button', { name: /^high-side switch 1/ });
  await upper.focus();
  await page.keyboard.press(' ');
  await expect.poll(() => inductance(page)).toBeLessThan(0.9 * proposed);
  expect((await says.innerText()).split('.')[0]).toBe(before.split('.')[0]);
  await expect(says).toContainText('Laid by you');
  const better = await inductance(page);
  await page.reload();
  await view(page, 'Floor plan').click();
  await expect.poll(() => inductance(page)).toBe(better);
  // Dragged away, its loop grows while the pointer is still down, and the rule says so with the figure proposed.
  const box = await upper.boundingBox();
  if (!box) throw new Error('not drawn');
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 60, y + 40, { steps: 4 });
  await expect(rules.locator('tr').filter({ hasText: /^broken.*The loop of/ })).toContainText('proposed');
  await page.mouse.move(x + 90, y + 60, { steps: 4 });
  await page.mouse.up();
  expect(await inductance(page)).toBeGreaterThan(1.5 * better);
  await page.getByRole('button', { name: 'Step back' }).click();
  await expect.poll(() => inductance(page)).toBe(better);
  await page.getByRole('button', { name: 'As proposed' }).click();
  await expect.poll(() => inductance(page)).toBe(proposed);
  await page.getByLabel('Under it', { exact: true }).selectOption('nothing');
  await expect(rules).toContainText('No plane: the way back lies');
  await expect.poll(() => inductance(page)).toBeGreaterThan(1.3 * proposed);
});

test('a bank moves as one where it is asked to; the plan is given away as SVG and PNG', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Floor plan').click();
  const part = (key: string) => page.locator(`[data-part="${key}"] .body`);
  const across = async (key: string): Promise<number> => Number(await part(key).getAttribute('x'));
  const [first, second] = [await across('outputCapacitor1.1'), await across('outputCapacitor1.2')];
  await page.getByLabel('Move parts in parallel together').check();
  await page.locator('[data-part="outputCapacitor1.1"]').focus();
  await page.keyboard.press('ArrowLeft');
  await expect.poll(() => across('outputCapacitor1.2')).toBeCloseTo(second - 0.5, 6);
  expect(await across('outputCapacitor1.1')).toBeCloseTo(first - 0.5, 6);
  const saved = async (kind: string): Promise<Buffer> => {
    const downloading = page.waitForEvent('download');
    await page.getByRole('button', { name: `Floor plan as ${kind}` }).click();
    return readFileSync(await (await downloading).path());
  };
  const svg = (await saved('SVG')).toString();
  expect(svg).toMatch(/^<svg /);
  for (const words of ['HS1', 'Cin1.4', 'divider', '10 mm']) expect(svg).toContain(words);
  // On its own it has the colours of the page: nothing is left to a style sheet.
  expect(svg).not.toContain('class=');
  expect(svg).toMatch(/stroke="rgb/);
  const png = await saved('PNG');
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  expect(png.length).toBeGreaterThan(5_000);
});

test('notes on the board are kept with the stage: another browser has them, and what is typed while the server is away comes after', async ({
  page,
  browser,
}) => {
  await openStage(page, 'Logger logic', 'Board');
  await view(page, 'Checklist').click();
  const saved = page.waitForResponse(
    (response) => response.url().endsWith('/board') && response.request().method() === 'PUT',
  );
  await page.getByLabel('Note on line 1', { exact: true }).fill('closed by two capacitors');
  expect((await saved).status()).toBe(200);
  const elsewhere = await (await browser.newContext()).newPage();
  await elsewhere.goto(page.url());
  await view(elsewhere, 'Checklist').click();
  await expect(elsewhere.getByLabel('Note on line 1', { exact: true })).toHaveValue('closed by two capacitors');
  // Both write, the first without a server at first; each line of both is there in the end.
  await page.route('**/board', (route) => route.abort());
  await page.getByLabel('Note on line 2', { exact: true }).fill('from the first');
  await expect(page.getByText(/notes are in this browser until/)).toBeVisible();
  await elsewhere.getByLabel('Note on line 3', { exact: true }).fill('from the second');
  await elsewhere.waitForResponse((response) => response.request().method() === 'PUT' && response.ok());
  const joined = page.waitForResponse((response) => response.request().method() === 'PUT' && response.ok(), {
    timeout: 20_000,
  });
  await page.unroute('**/board');
  await joined;
  await expect(page.getByLabel('Note on line 3', { exact: true })).toHaveValue('from the second');
  await elsewhere.reload();
  await view(elsewhere, 'Checklist').click();
  await expect(elsewhere.getByLabel('Note on line 2', { exact: true })).toHaveValue('from the first');
  await elsewhere.context().close();
});

test('tabs on one heatsink: bare ones at two potentials are refused, insulated ones are taken into the stage and warm its junctions', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Heatsink').click();
  const tabs = page.getByRole('table', { name: 'Tabs' });
  await expect(tabs.locator('tbody tr')).toHaveCount(2);
  await expect(tabs).toContainText('switch node 1');
  await page.getByLabel('Under each tab', { exact: true }).selectOption('bare');
  await expect(page.getByRole('alert')).toContainText('Bare, it joins input of the stage and switch node 1');
  const take = page.getByRole('button', { name: 'Take it into the stage' });
  await expect(take).toBeDisabled();
  await page.getByLabel('Under each tab', { exact: true }).selectOption('mica');
  await put(page, 'To the air', '25');
  const loss = tabs.locator('tbody tr').first().locator('td').nth(2);
  const before = await loss.innerText();
  await take.click();
  // Warmer than before, the switches lose more: the table is of the stage that took it.
  await expect.poll(() => loss.innerText()).not.toBe(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => loss.innerText()).toBe(before);
});

test('leads: wires, a connector and a plane are worked over their tolerances', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Leads').click();
  const over = page.getByRole('table', { name: 'Over tolerance' });
  const drop = over.locator('tr').filter({ hasText: 'Drop, there and back' }).locator('td').nth(2);
  const before = parseFloat(await drop.innerText());
  await put(page, 'In parallel', '2');
  await expect.poll(async () => parseFloat(await drop.innerText())).toBeCloseTo(before / 2, 0);
  await expect(over.locator('tr').filter({ hasText: 'Stiffness' })).toContainText('0.5');
  await page.getByLabel('Part', { exact: true }).selectOption('Plane between two points');
  await expect(over).toContainText('Resistance between them');
});

test('a filter is proposed for noise that is over its limit, taken into the stage, and the noise is below it then', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Board');
  await view(page, 'Conducted noise').click();
  await page.getByLabel('Network', { exact: true }).selectOption('vehicle');
  await page.getByLabel(/^Limit line/).fill('150k 70\n30M 60');
  await expect(page.getByText(/dB of attenuation are wanted/)).toBeVisible();
  await page.getByRole('button', { name: 'Propose a filter' }).click();
  const proposed = page.getByRole('status').filter({ hasText: 'across the terminals' });
  await expect(proposed).toContainText('below the limit by');
  await proposed.getByRole('button', { name: 'Take it into the stage' }).click();
  await expect(page.getByText(/^Below the limit by/)).toBeVisible();
  await view(page, 'List of parts').click();
  const list = page.getByRole('table', { name: 'Parts' });
  await expect(list).toContainText('capacitor at the terminals');
  // Without its capacitor at the terminals the choke alone is not enough, unless one is tried there.
  await goTo(page, 'Stage');
  await page.getByRole('button', { name: 'Remove the capacitor at the terminals' }).click();
  await goTo(page, 'Board');
  await view(page, 'Conducted noise').click();
  await expect(page.getByText(/dB of attenuation are wanted/)).toBeVisible();
  await put(page, 'Tried at the terminals', '100u');
  await expect(page.getByText(/^Below the limit by/)).toBeVisible();
});

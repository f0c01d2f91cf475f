import { csv, give, status } from '../partFiles';
import { EDITS, timeEdit } from '../editTime';
import type { Locator, Page } from '@playwright/test';
import { expect, goTo, ledgerLine, newStage, openStage, quiet, saveState, take, test } from '../desk';
import { fillShelf, timeShelf } from '../fullShelf';
import { slowness } from '../machineSpeed';
import { transferSizes } from '../transferSizes';

const STATIONS = [
  'Overview',
  'Targets',
  'Stage',
  'Inductor',
  'Capacitors',
  'Switches',
  'Efficiency',
  'Loop',
  'Transient',
];

/** Begin to keep the longest task of the page. */
const watchTasks = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const kept = window as unknown as { longest: number; tasks?: PerformanceObserver };
    kept.longest = 0;
    kept.tasks?.disconnect();
    kept.tasks = new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) kept.longest = Math.max(kept.longest, duration);
    });
    kept.tasks.observe({ entryTypes: ['longtask'] });
  });
/** Longest task since, ms; 0 where none was over 50 ms. */
const longestTask = (page: Page): Promise<number> =>
  page.evaluate(() => (window as unknown as { longest: number }).longest);

/** Drag a slider to and fro with the pointer. @returns frames a second meanwhile. */
async function dragged(page: Page, slider: Locator): Promise<number> {
  await slider.scrollIntoViewIfNeeded();
  const box = await slider.boundingBox();
  if (!box) throw new Error('There is no slider.');
  const [middle, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(middle, y);
  await page.mouse.down();
  await page.evaluate(() => {
    const kept = window as unknown as { frames: number[]; counting: boolean };
    kept.frames = [];
    kept.counting = true;
    const frame = (at: number): void => {
      kept.frames.push(at);
      if (kept.counting) requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  });
  for (let k = 0; k < 60; k += 1) {
    await page.mouse.move(middle + (box.width / 4) * Math.sin(k / 6), y);
    await page.waitForTimeout(12);
  }
  const frames = await page.evaluate(() => {
    const kept = window as unknown as { frames: number[]; counting: boolean };
    kept.counting = false;
    return kept.frames;
  });
  await page.mouse.up();
  return (1000 * (frames.length - 1)) / ((frames.at(-1) ?? NaN) - (frames[0] ?? NaN));
}

/** From the press on a station in the rail to its heading on the screen, ms. */
const openedAfter = (page: Page, station: string): Promise<number> =>
  page.evaluate(
    (name) =>
      new Promise<number>((resolve, reject) => {
        const link = [...document.querySelectorAll<HTMLElement>('.rail a')].find((one) =>
          one.textContent.startsWith(name),
        );
        if (!link) reject(new Error(`There is no station ${name}.`));
        const before = document.querySelector('h1')?.textContent;
        const began = performance.now();
        const look = (): void => {
          // The overview bears the name of the stage.
          const heading = document.querySelector('h1')?.textContent;
          if (heading !== before && (heading === name || name === 'Overview'))
            requestAnimationFrame(() => resolve(performance.now() - began));
          else requestAnimationFrame(look);
        };
        link?.click();
        look();
      }),
    station,
  );

// What is timed runs with the machine to itself, after all else.

test('create a stage, type 4u7, see the verdict change within 100 ms, and find it after a reload', async ({ page }) => {
  await newStage(page, 'Instrument rail');
  await goTo(page, 'Stage');
  const inductance = page.getByLabel('Inductance', { exact: true });
  const ratio = ledgerLine(page, 'inductorRippleRatio');
  await expect(inductance).toHaveValue(/H$/);

  // From the last key to the changed line on the screen, measured in the page. Other work on the machine only ever adds to
  // it, so the quickest of several edits is what the application itself takes.
  const times: number[] = [];
  for (const text of EDITS) {
    times.push((await timeEdit(page, text)) / (await slowness(page)));
    if (times.length >= 3 && Math.min(...times) < 100) break;
  }
  await take(inductance, '4u7');
  test
    .info()
    .annotations.push({ type: 'verdict after an edit, ms', description: times.map((t) => t.toFixed(0)).join(', ') });
  expect(Math.min(...times)).toBeLessThan(100);

  await expect(ratio).toContainText('fails');
  await expect(page.getByRole('button', { name: 'Inductor: pinned' })).toHaveAttribute('aria-pressed', 'true');
  await expect(saveState(page)).toHaveText('saved');
  await page.reload();
  await expect(page.getByLabel('Inductance', { exact: true })).toHaveValue('4.7 µH');
  await expect(ratio).toContainText('fails');
});

test('an edit does not wait for a survey that is being worked', async ({ page }) => {
  await openStage(page, 'Echo core', 'Stage');
  await page.getByRole('button', { name: 'Conversion ratio' }).click();
  await expect(page.getByRole('img', { name: 'Conversion ratio against the duty ratio' })).toBeVisible();
  const peak = page.getByRole('button', { name: /^Inductor peak/ });
  const before = await peak.innerText();
  await take(page.getByLabel('Inductance', { exact: true }), '330n');
  // The curve still says what it shows when the figures have long changed.
  await expect(peak).not.toHaveText(before);
  const stale = page.locator('.station').getByText('Still showing the design before the last edit.');
  await expect(stale).toBeVisible();
  await expect(stale).toHaveCount(0);
});

test('a long run is simulated with the page never held up, and given up at once', async ({ page }) => {
  test.setTimeout(240_000);
  await openStage(page, 'Mast radio', 'Transient');
  // What the page works by itself when a stage is opened is over, drivers of the margins and all.
  await expect(page.getByText('working …')).toHaveCount(0, { timeout: 120_000 });
  await page.getByRole('button', { name: 'Sequence', exact: true }).click();
  await page.getByRole('button', { name: 'Add a step' }).click();
  await take(page.getByLabel('Duration of step 1'), '49m');
  const stop = page.getByRole('button', { name: 'Stop', exact: true });
  await expect(page.getByText(/% simulated/)).toBeVisible();
  const stopping = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const began = performance.now();
        const look = (): void => {
          if (document.body.textContent.includes('Stopped.')) resolve(performance.now() - began);
          else requestAnimationFrame(look);
        };
        [...document.querySelectorAll('button')].find((one) => one.textContent === 'Stop')?.click();
        look();
      }),
  );
  await watchTasks(page);
  await page.getByRole('button', { name: 'Run it' }).click();
  await expect(stop).toBeVisible();
  await expect(page.getByText('step by step.')).toBeVisible({ timeout: 120_000 });
  await page.waitForTimeout(500);
  const longest = await longestTask(page);
  test.info().annotations.push({
    type: 'stopping, and the longest task of the page, ms',
    description: `${stopping.toFixed(0)}, ${longest.toFixed(0)}`,
  });
  // At rest again: what the run itself took of the machine excuses nothing.
  const slow = await slowness(page);
  expect(stopping / slow).toBeLessThan(200);
  expect(longest / slow).toBeLessThan(100);
});

test('typing and dragging never hold the page up, and a station opens at once', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  await quiet(page);
  await watchTasks(page);
  const inductance = page.getByLabel('Inductance', { exact: true });
  for (const text of ['5u6', '8u2', '6u8']) {
    await inductance.fill('');
    await inductance.pressSequentially(text, { delay: 80 });
    await page.waitForTimeout(400);
  }
  const typing = await longestTask(page);
  await inductance.press('Enter');
  await quiet(page);
  // A cursor of the waveforms, then a zero of the compensator.
  await watchTasks(page);
  const cursor = await dragged(page, page.getByRole('slider', { name: /^Cursor A/ }));
  const dragging = await longestTask(page);
  await goTo(page, 'Loop');
  await quiet(page);
  await watchTasks(page);
  const handle = await dragged(page, page.getByRole('slider', { name: /zero 1/i }));
  const shaping = await longestTask(page);
  // Warm: every station was opened once before.
  const opening: Record<string, number> = {};
  for (const station of [...STATIONS, ...STATIONS]) {
    await quiet(page);
    opening[station] = await openedAfter(page, station);
  }
  const slowest = Object.entries(opening).sort(([, a], [, b]) => b - a)[0] ?? ['', NaN];
  const slow = await slowness(page);
  test.info().annotations.push({
    type: 'longest tasks while typing, dragging a cursor and a zero, ms; frames a second of the two; slowest station, ms',
    description:
      [typing, dragging, shaping, cursor, handle, slowest[1]].map((n) => n.toFixed(0)).join(', ') +
      ` (${slowest[0]}); slowness ${slow.toFixed(2)}`,
  });
  expect(Math.max(typing, dragging, shaping) / slow).toBeLessThan(50);
  expect(Math.min(cursor, handle) * slow).toBeGreaterThan(50);
  expect(slowest[1] / slow).toBeLessThan(300);
});

test('5,000 parts are imported within ten seconds, with progress', async ({ page }) => {
  await page.goto('/library?kind=inductor');
  await expect(status(page)).toContainText('parts');
  await give(page, 'many.csv', csv(5000));
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('5000 of 5000 rows can be taken');
  const began = Date.now();
  await dialog.getByRole('button', { name: 'Import 5000 parts' }).click();
  await expect(dialog.getByRole('progressbar')).toBeVisible();
  await expect(status(page)).toContainText('5000 parts were imported');
  expect(Date.now() - began).toBeLessThan(10_000);
});

test('a first visit to the shelf and to a stage stays small over the wire', async ({ desk, browser }) => {
  const { shelf, stage } = await transferSizes(browser, desk.address);
  expect(shelf).toBeLessThan(250e3);
  expect(stage).toBeLessThan(420e3);
});

test('a shelf of 200 stages is there at once, worked or not', async ({ desk, page }) => {
  await fillShelf(desk.address);
  // Nothing of it is worked yet: the server answers before it is, and the verdicts fill in by themselves.
  expect((await timeShelf(page, desk.address)) / (await slowness(page))).toBeLessThan(2000);
  await expect(page.locator('main')).not.toContainText('being worked', { timeout: 60_000 });
  await expect(page.locator('main tbody tr').last()).toContainText('holds');
  const times: number[] = [];
  while (times.length < 10 && !times.some((time) => time < 500))
    times.push((await timeShelf(page, desk.address)) / (await slowness(page)));
  expect(Math.min(...times)).toBeLessThan(500);
});

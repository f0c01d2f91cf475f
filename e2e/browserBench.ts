import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { EDITS, timeEdit } from './editTime';
import { fillShelf, timeShelf } from './fullShelf';
import { transferSizes, type TransferSizes } from './transferSizes';
import { timeInteraction, type Interaction } from './interaction';
import { goTo } from './stations';
import { freePort } from '../scripts/lib/ports.mjs';
import { startPostgres } from '../scripts/lib/postgres.mjs';
import { startServer } from '../scripts/lib/server.mjs';
import { timingOf, type Timing } from '../bench/timing.js';

/** What the browser was timed at, ms. */
export interface BrowserTimings {
  /** From the last key of an edit to the changed verdict on the screen. */
  readonly edit: Timing;
  /** From the press to the first, coarse map, and to the fine one of three modes, 40 loads and 10 inputs. */
  readonly firstMap: Timing;
  readonly fineMap: Timing;
  /** From a move of a zero's handle to the picture, margins and values of all corners redrawn. */
  readonly drag: Timing;
  /** From the press to the first cloud of the loop over tolerance, and to 2,000 sets of parts. */
  readonly firstCloud: Timing;
  readonly cloud: Timing;
  /** From the address to all rows of a shelf of 200 stages: right after a restart of the server, and later. */
  readonly firstShelf: Timing;
  readonly shelf: Timing;
  readonly transfer: TransferSizes;
  readonly interaction: Interaction;
}

/** Times a full shelf is opened once it has been. */
const SHELVES = 7;
/** Times the maps are asked for, once before the clock counts. */
const MAPS = 8;
const FINE_CELLS = 400;

/** Times in the page from the press of “Map” to the coarse and the fine picture, ms. */
async function timeMap(page: Page): Promise<{ readonly first: number; readonly fine: number }> {
  await page.getByRole('button', { name: 'Heat', exact: true }).click();
  await page.waitForTimeout(300);
  const times = page.evaluate(
    (cells) =>
      new Promise<{ first: number; fine: number }>((resolve) => {
        const start = performance.now();
        let first = 0;
        const look = (): void => {
          const drawn = document.querySelector('.map svg')?.querySelectorAll('rect').length ?? 0;
          const now = performance.now() - start;
          if (drawn > 0 && first === 0) first = now;
          if (drawn === cells) resolve({ first, fine: now });
          else requestAnimationFrame(look);
        };
        const button = [...document.querySelectorAll('button')].find((one) => one.textContent === 'Map');
        button?.click();
        look();
      }),
    FINE_CELLS,
  );
  return times;
}

/** Moves of the handle, and times that the parts are scattered. */
const MOVES = 40;
const CLOUDS = 3;

/** Times in the page from a move of a handle to the frame that shows it, ms; the handle is let go at the end. */
async function timeDrag(page: Page): Promise<readonly number[]> {
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  await page.getByTestId('loop-reading').waitFor();
  // Plants of all corners come once; the rest of what the proposal set going ends too.
  await page.waitForTimeout(4000);
  return page.getByLabel('Frequency of zero 1').evaluate(async (handle: HTMLInputElement, moves) => {
    const times: number[] = [];
    const first = Number(handle.value);
    for (let k = 1; k <= moves; k += 1) {
      await new Promise((resolve) => setTimeout(resolve, 30));
      const start = performance.now();
      // By the setter of the element itself, as a hand on the mouse would, so that the page hears of it.
      Reflect.set(HTMLInputElement.prototype, 'value', String(first - (k % 20)), handle);
      handle.dispatchEvent(new Event('input', { bubbles: true }));
      await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve, 0)));
      times.push(performance.now() - start);
      if (!document.body.innerText.includes('as shaped')) throw new Error('The margins are not those of the handle.');
    }
    handle.dispatchEvent(new FocusEvent('blur'));
    return times.slice(5);
  }, MOVES);
}

/** Times in the page from the press to the first cloud and to the whole one, ms. */
async function timeCloud(page: Page): Promise<{ readonly first: number; readonly whole: number }> {
  await page.getByRole('button', { name: 'Complex plane', exact: true }).click();
  await page.getByRole('button', { name: 'Tolerance', exact: true }).click();
  await page.waitForTimeout(500);
  return page.evaluate(
    () =>
      new Promise<{ first: number; whole: number }>((resolve) => {
        const button = (words: string) =>
          [...document.querySelectorAll('button')].find((one) => one.textContent.startsWith(words));
        const start = performance.now();
        let first = 0;
        const look = (): void => {
          const now = performance.now() - start;
          const drawn = document.querySelector('[aria-label^="Margins of every set of parts"]') !== null;
          if (drawn && first === 0) first = now;
          if (drawn && !button('Stop')) resolve({ first, whole: now });
          else requestAnimationFrame(look);
        };
        button('Scatter')?.click();
        look();
      }),
  );
}

/** What a step of the bench may take, s: what it looks for may have been renamed, and then it would look for ever. */
const PATIENCE = 300;

/** A step, given up after a while with what it was. */
async function step<T>(what: string, work: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      reject(
        new Error(
          `${what} was not over within ${String(PATIENCE)} s: does the page still have what the bench looks for?`,
        ),
      );
    }, PATIENCE * 1000);
  });
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
  }
}

/** The application in the real browser, on the real server. */
export async function inTheBrowser(): Promise<BrowserTimings> {
  const root = join(import.meta.dirname, '..');
  const folder = mkdtempSync(join(tmpdir(), 'yundro-bench-'));
  chmodSync(folder, 0o755);
  const database = await startPostgres(folder, { durable: false });
  const where = { databaseUrl: database.url, port: await freePort(), logLevel: 'silent' };
  let server = await startServer(root, where);
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(server.address);
    await page.getByRole('link', { name: 'Hull bus', exact: true }).click();
    await goTo(page, 'Stage');
    await page.waitForSelector('.line');
    const edits: number[] = [];
    for (const text of EDITS) edits.push(await step('an edit', timeEdit(page, text)));
    await goTo(page, 'Efficiency');
    // What the last edit set going ends first.
    await page.waitForTimeout(4000);
    const maps: { readonly first: number; readonly fine: number }[] = [];
    for (let i = 0; i < MAPS; i += 1) maps.push(await step('an efficiency map', timeMap(page)));
    const counted = maps.slice(1);
    await goTo(page, 'Loop');
    const moves = await step('the drag of a zero', timeDrag(page));
    await page.waitForTimeout(4000);
    const clouds: { readonly first: number; readonly whole: number }[] = [];
    for (let i = 0; i < CLOUDS; i += 1) clouds.push(await step('a scatter of parts', timeCloud(page)));
    const interaction = await step('typing, dragging and opening stations', timeInteraction(page));
    const transfer = await step('the first visits', transferSizes(browser, server.address));
    await step('the filling of a shelf', fillShelf(server.address));
    await server.stop();
    server = await startServer(root, where);
    const firstShelf = await step('the first shelf', timeShelf(page, server.address));
    const shelves: number[] = [];
    for (let i = 0; i < SHELVES; i += 1) shelves.push(await step('a shelf', timeShelf(page, server.address)));
    return {
      interaction,
      transfer,
      firstShelf: timingOf([firstShelf]),
      shelf: timingOf(shelves),
      edit: timingOf(edits),
      firstMap: timingOf(counted.map(({ first }) => first)),
      fineMap: timingOf(counted.map(({ fine }) => fine)),
      drag: timingOf(moves),
      firstCloud: timingOf(clouds.map(({ first }) => first)),
      cloud: timingOf(clouds.map(({ whole }) => whole)),
    };
  } finally {
    await browser.close();
    await server.stop();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

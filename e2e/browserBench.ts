import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { EDITS, timeEdit } from './editTime';
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
}

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

/** The application in the real browser, on the real server. */
export async function inTheBrowser(): Promise<BrowserTimings> {
  const root = join(import.meta.dirname, '..');
  const folder = mkdtempSync(join(tmpdir(), 'yundro-bench-'));
  chmodSync(folder, 0o755);
  const database = await startPostgres(folder, { durable: false });
  const server = await startServer(root, { databaseUrl: database.url, port: await freePort(), logLevel: 'silent' });
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(server.address);
    await page.getByRole('link', { name: 'Hull bus', exact: true }).click();
    await page.getByRole('link', { name: 'Stage', exact: true }).click();
    await page.waitForSelector('.line');
    const edits: number[] = [];
    for (const text of EDITS) edits.push(await timeEdit(page, text));
    await page.getByRole('link', { name: 'Efficiency & heat' }).click();
    // What the last edit set going ends first.
    await page.waitForTimeout(4000);
    const maps: { readonly first: number; readonly fine: number }[] = [];
    for (let i = 0; i < MAPS; i += 1) maps.push(await timeMap(page));
    const counted = maps.slice(1);
    return {
      edit: timingOf(edits),
      firstMap: timingOf(counted.map(({ first }) => first)),
      fineMap: timingOf(counted.map(({ fine }) => fine)),
    };
  } finally {
    await browser.close();
    await server.stop();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

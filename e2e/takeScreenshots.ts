// The pictures of docs/screenshots, from the demo data on a throw-away database.
import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { goTo } from './stations';
import { freePort } from '../scripts/lib/ports.mjs';
import { startPostgres } from '../scripts/lib/postgres.mjs';
import { startServer } from '../scripts/lib/server.mjs';

const root = join(import.meta.dirname, '..');
const pictures = join(root, 'docs', 'screenshots');
/** Time for fonts, worker and chart to settle, ms. */
const SETTLE = 1500;

const folder = mkdtempSync(join(tmpdir(), 'yundro-pictures-'));
chmodSync(folder, 0o755);
mkdirSync(pictures, { recursive: true });
const database = await startPostgres(folder, { durable: false });
const server = await startServer(root, { databaseUrl: database.url, port: await freePort(), logLevel: 'silent' });
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });

async function view(name: string, colorScheme: 'light' | 'dark', go: (page: Page) => Promise<void>): Promise<void> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme });
  await page.goto(server.address);
  await page.waitForSelector('table.plain');
  await go(page);
  await page.waitForTimeout(SETTLE);
  // The ledger with its simulated lines.
  await page.getByText('working …', { exact: true }).waitFor({ state: 'detached', timeout: 60_000 });
  await page.screenshot({ path: join(pictures, `${name}.png`) });
  await page.close();
}

async function open(page: Page, stage: string, station = 'Targets'): Promise<void> {
  await page.getByRole('link', { name: stage, exact: true }).click();
  await goTo(page, station);
  await page.waitForSelector('.line, .ledger-summary .verdict');
}

await view('shelf', 'light', async (page) => {
  // Verdicts fill in by themselves.
  await page.getByText('being worked …').first().waitFor({ state: 'detached' });
});
await view('overview', 'light', async (page) => {
  await open(page, 'Hull bus', 'Overview');
  await page.getByRole('button', { name: 'Try it' }).waitFor();
  await page.locator('[data-door="Efficiency"]').getByRole('img').waitFor();
});
await view('targets', 'light', async (page) => {
  await open(page, 'Hull bus');
  await page.locator('.line[data-target="phaseMargin"]').waitFor();
});
await view('stage', 'light', (page) => open(page, 'Hull bus', 'Stage'));

await view('schematic', 'light', async (page) => {
  await open(page, 'Echo core', 'Stage');
  await page.getByRole('button', { name: 'Schematic' }).click();
  await page.getByLabel('Instant of the period').fill('130');
});

await view('transient', 'light', async (page) => {
  await open(page, 'Hull bus', 'Transient');
  await page.getByRole('table', { name: 'Figures of the run' }).waitFor();
  await page.getByRole('region', { name: /What drives the margin/ }).waitFor();
});

await view('inductor', 'light', async (page) => {
  await open(page, 'Hull bus', 'Inductor');
  await page.getByRole('table', { name: 'Inductors that fit' }).waitFor();
});
await view('capacitors', 'light', async (page) => {
  await open(page, 'Hull bus', 'Capacitors');
  await page.getByRole('table', { name: 'Capacitors that fit' }).waitFor();
});
await view('bench', 'light', async (page) => {
  await open(page, 'Hull bus', 'Bench');
  await page.getByRole('button', { name: 'Against the prediction' }).click();
  await page.getByRole('button', { name: /^Adopt/ }).waitFor({ timeout: 60_000 });
});
await view('switches', 'light', async (page) => {
  await open(page, 'Hull bus', 'Switches');
  await page.getByRole('table', { name: 'Switches that fit' }).waitFor();
});
await view('efficiency', 'light', async (page) => {
  await open(page, 'Hull bus', 'Efficiency');
  await page.getByRole('button', { name: 'By mode' }).click();
  await page.getByRole('table', { name: 'Operating modes' }).waitFor();
});
await view('working', 'light', async (page) => {
  await open(page, 'Hull bus', 'Stage');
  await page.locator('.line[data-target="outputRipple"]').click();
});
await view('loop', 'light', async (page) => {
  await open(page, 'Hull bus', 'Loop');
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  await page.getByRole('table', { name: 'Margins of every corner' }).waitFor();
  await page.getByRole('img', { name: 'Gain against frequency' }).waitFor();
});
await view('winding', 'light', async (page) => {
  await open(page, 'Mast radio', 'Winding');
  await page.getByText('windings looked at').waitFor({ timeout: 60_000 });
});
await view('board', 'light', async (page) => {
  await open(page, 'Hull bus', 'Board');
  await page.getByRole('button', { name: 'Floor plan', exact: true }).click();
  await page.waitForSelector('.plan .part');
});
await view('phases', 'light', async (page) => {
  await open(page, 'Echo core', 'Phases');
  await page.getByText(/Runner-up/).waitFor();
  await page.locator('[aria-label="Numbers of phases"] tbody tr').nth(11).waitFor({ timeout: 60_000 });
});
await view('project', 'light', async (page) => {
  await page.goto(server.address);
  await page.getByRole('link', { name: 'Skerry-9', exact: true }).click();
  await page.getByRole('img', { name: /^Power through the stages/ }).waitFor();
  await page.getByText('are drawn on average').waitFor();
});
await view('library', 'light', async (page) => {
  await page.goto(`${server.address}/library`);
  await page.locator('tbody button').first().click();
});

// Last, for it changes the design.
await view('compare', 'dark', async (page) => {
  await open(page, 'Hull bus', 'Overview');
  await page.getByRole('button', { name: 'Try it' }).click();
  await page.getByRole('link', { name: /^Compare/ }).click();
  await page.getByRole('table', { name: 'Differences' }).waitFor();
});

await browser.close();
await server.stop();
await database.stop();
rmSync(folder, { recursive: true, force: true });

import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test as base, expect, type Locator, type Page } from '@playwright/test';
import { freePort } from '../scripts/lib/ports.mjs';
import { startPostgres, type Cluster } from '../scripts/lib/postgres.mjs';
import { startServer } from '../scripts/lib/server.mjs';
import pg from 'pg';
import { problemsSentence, sizeStage, stageSchema } from '@yundro/core';

/** The real server over a throw-away database of its own, with the demo project. */
interface Desk {
  readonly address: string;
  readonly database: Cluster;
  /** Put every table back as it was when the server had seeded it. */
  readonly reset: () => Promise<void>;
}

const root = join(import.meta.dirname, '..');

const TABLES = ['projects', 'stages', 'parts', 'bench_runs', 'board_notes'] as const;

/** Keep what the tables hold, and give the way back to it. Stages come back under new names: the server remembers the old ones. */
async function resettable(url: string): Promise<() => Promise<void>> {
  const ask = async (statements: readonly string[]): Promise<void> => {
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    try {
      for (const statement of statements) await client.query(statement);
    } finally {
      await client.end();
    }
  };
  await ask(['CREATE SCHEMA kept', ...TABLES.map((table) => `CREATE TABLE kept.${table} AS TABLE public.${table}`)]);
  return () =>
    ask([
      'BEGIN',
      `TRUNCATE ${TABLES.map((table) => `public.${table}`).join(', ')}`,
      'CREATE TEMP TABLE renamed ON COMMIT DROP AS SELECT id AS old, gen_random_uuid() AS fresh FROM kept.stages',
      'UPDATE kept.stages SET id = fresh FROM renamed WHERE id = old',
      'UPDATE kept.bench_runs SET stage_id = fresh FROM renamed WHERE stage_id = old',
      ...TABLES.map((table) => `INSERT INTO public.${table} SELECT * FROM kept.${table}`),
      'COMMIT',
    ]);
}

export const test = base.extend<
  { watched: undefined; fresh: undefined; tolerated: RegExp | undefined },
  { desk: Desk }
>({
  /** Faults a test causes on purpose. */
  tolerated: [undefined, { option: true }],
  desk: [
    // eslint-disable-next-line no-empty-pattern
    async ({}, use) => {
      const folder = mkdtempSync(join(tmpdir(), 'yundro-e2e-'));
      // The database may run as another user, who must get through this folder.
      chmodSync(folder, 0o755);
      const database = await startPostgres(folder, { durable: false });
      const server = await startServer(root, { databaseUrl: database.url, port: await freePort(), logLevel: 'silent' });
      await use({ address: server.address, database, reset: await resettable(database.url) });
      await server.stop();
      await database.stop();
      rmSync(folder, { recursive: true, force: true });
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ desk }, use) => use(desk.address),
  /** Every test begins with the demo as it ships, whatever the tests before it did. */
  fresh: [
    async ({ desk }, use) => {
      await desk.reset();
      await use(undefined);
    },
    { auto: true },
  ],
  /** No page may log an error or ask anything of another host. */
  watched: [
    async ({ page, desk, tolerated }, use) => {
      const faults: string[] = [];
      page.on('pageerror', (error) => {
        if (tolerated?.test(error.message) !== true) faults.push(error.message);
      });
      page.on('console', (message) => {
        // The browser itself reports failed requests, of workers too; tests that cause them look at the page instead.
        const text = message.text();
        const asked =
          text.startsWith('Failed to load resource') || text.includes('worker of this page could not be started');
        if (message.type() === 'error' && !asked && tolerated?.test(text) !== true) faults.push(text);
      });
      page.on('request', (request) => {
        const { protocol, origin } = new URL(request.url());
        if (protocol.startsWith('http') && origin !== desk.address) faults.push(`asked ${request.url()}`);
      });
      await use(undefined);
      expect(faults).toEqual([]);
    },
    { auto: true },
  ],
});

export { expect };
export { goTo, lookAtCorner } from './stations';

/** Open a stage of the demo by its name, at a station. */
export async function openStage(page: Page, name: string, station = 'Targets'): Promise<void> {
  const { projects } = (await (await page.request.get('/api/projects')).json()) as {
    projects: { stages: { id: string; name: string }[] }[];
  };
  const found = projects.flatMap(({ stages }) => stages).find((stage) => stage.name === name);
  await page.goto(`/stages/${found?.id ?? `no stage called ${name}`}/${station.toLowerCase()}`);
  // Where there is less room the ledger is folded to its summary.
  await expect(page.locator('.line, .ledger-summary .verdict').first()).toBeVisible();
}

/** Wait until nothing is dimmed or being worked, nor will be in a moment: surveys begin a little after an edit was worked. */
export async function quiet(page: Page): Promise<void> {
  let since = Date.now();
  await expect
    .poll(
      async () => {
        if ((await page.locator('.stale, [aria-busy="true"]').count()) > 0) since = Date.now();
        return Date.now() - since;
      },
      { intervals: [100], timeout: 90_000 },
    )
    .toBeGreaterThan(800);
}

/** What a stage of one's own is for: 10 to 14 V to 5 V, 3 A with the usual ripples. */
const OWN = {
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  targets: {
    inputVoltage: { min: 10, max: 14 },
    outputVoltage: 5,
    outputCurrent: { min: 0.1, max: 3 },
    outputRipple: 0.05,
    inputRipple: 0.2,
    inductorRippleRatio: 0.35,
  },
} as const;

/** Put a stage of one's own into the demo project, sized as the sheet of a new stage does it, and open its targets. */
export async function newStage(page: Page, name: string): Promise<void> {
  const sized = sizeStage(stageSchema.parse({ ...OWN, name }));
  if (!sized.ok) throw new Error(problemsSentence(sized.problems));
  const { projects } = (await (await page.request.get('/api/projects')).json()) as { projects: { id: string }[] };
  const answer = await page.request.post(`/api/projects/${projects[0]?.id ?? ''}/stages`, {
    data: { document: sized.value.evaluation.stage },
  });
  const { id } = (await answer.json()) as { id: string };
  await page.goto(`/stages/${id}/targets`);
  await expect(page.locator('.line').first()).toBeVisible();
}

/** Type a text into a field of the design and take it. */
export async function take(field: Locator, text: string): Promise<void> {
  await field.fill(text);
  await field.press('Enter');
}

export const saveState = (page: Page) => page.getByTestId('save-state');
export const ledgerLine = (page: Page, target: string) => page.locator(`.line[data-target="${target}"]`);

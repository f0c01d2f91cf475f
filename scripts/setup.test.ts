import { spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import pg from 'pg';
import { diskFull } from './lib/command.mjs';
import { freePort } from './lib/ports.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { checkNode } from './lib/requirements.mjs';

jest.setTimeout(120_000);

const root = dirname(import.meta.dirname);
const folder = mkdtempSync(join(tmpdir(), 'yundro-setup-'));
// The database may run as another user, who must get through this folder.
chmodSync(folder, 0o755);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Demo {
  readonly output: () => string;
  readonly ended: Promise<number | null>;
  readonly interrupt: () => void;
  readonly running: Promise<string>;
}

/** The demo command as a person starts it, over a database given by the environment. */
function demo(env: Readonly<Record<string, string>>): Demo {
  const child = spawn(process.execPath, [join(root, 'scripts/demo.mjs')], {
    cwd: root,
    env: { ...process.env, NODE_OPTIONS: '', ...env },
  });
  let text = '';
  let announce: (address: string) => void = () => undefined;
  const running = new Promise<string>((resolve) => (announce = resolve));
  for (const stream of [child.stdout, child.stderr]) {
    stream.on('data', (chunk: Buffer) => {
      text += chunk.toString();
      const address = /running at (\S+)/.exec(text)?.[1];
      if (address !== undefined) announce(address);
    });
  }
  const ended = new Promise<number | null>((resolve) => child.once('exit', resolve));
  return { output: () => text, ended, interrupt: () => child.kill('SIGINT'), running };
}

describe('what can go wrong at the start is one clear sentence', () => {
  test('a port in use', async () => {
    const other = createServer();
    await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve));
    const { port } = other.address() as AddressInfo;
    const started = demo({ PORT: String(port) });
    expect(await started.ended).toBe(1);
    expect(started.output().trim()).toBe(
      `Port ${port} is in use: stop what uses it, or choose another with PORT=${port + 1} npm run demo.`,
    );
    other.close();
  });
  test('a port that is none', async () => {
    const started = demo({ PORT: 'eighty' });
    expect(await started.ended).toBe(1);
    expect(started.output()).toContain('PORT is “eighty”; it must be a whole number from 1 to 65535.');
  });
  test('a database that cannot be reached', async () => {
    const [port, away] = [await freePort(), await freePort()];
    const started = demo({
      PORT: String(port),
      DATABASE_URL: `postgres://nobody@127.0.0.1:${away}/none`,
      LOG_LEVEL: 'silent',
    });
    expect(await started.ended).toBe(1);
    expect(started.output()).toContain('The database cannot be reached or refuses us: check DATABASE_URL');
  });
  test('an old Node.js', () => {
    expect(() => checkNode('18.20.1')).toThrow(
      'Node.js 18.20.1 is too old: install Node.js 20.12 or newer and start again.',
    );
    expect(() => checkNode('20.12.0')).not.toThrow();
    expect(() => checkNode('22.1.0')).not.toThrow();
  });
  test('a full disk, in the words of any tool', () => {
    expect(diskFull('initdb: error: could not write: No space left on device')?.message).toMatch(
      /^The disk is full: free some space/,
    );
    expect(diskFull('all well')).toBeUndefined();
  });
});

describe('the database cluster', () => {
  const home = join(folder, 'cluster');
  const ask = async (url: string, query: string): Promise<unknown[]> => {
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    const { rows } = await client.query(query);
    await client.end();
    return rows as unknown[];
  };
  test('keeps its data over a crash and a stale lock', async () => {
    const first = await startPostgres(home);
    await ask(first.url, 'create table kept (value int)');
    await ask(first.url, 'insert into kept values (7)');
    const lock = join(home, 'postgres', 'postmaster.pid');
    const text = readFileSync(lock, 'utf8');
    await first.kill();
    // The lock of a process that is no longer there, or is now something else.
    writeFileSync(lock, text.replace(/^\d+/, String(process.pid)));
    const second = await startPostgres(home);
    expect(await ask(second.url, 'select value from kept')).toEqual([{ value: 7 }]);
    await second.stop();
    expect(existsSync(lock)).toBe(false);
  });
  test('takes the place of a server that an abrupt end left running', async () => {
    await startPostgres(home);
    const again = await startPostgres(home);
    expect(await ask(again.url, 'select value from kept')).toEqual([{ value: 7 }]);
    await again.stop();
  });
  test('lets nobody in without its password', async () => {
    const running = await startPostgres(home);
    await expect(ask(running.url.replace(/:[^:@]+@/, ':wrong@'), 'select 1')).rejects.toThrow(
      /password authentication failed/,
    );
    await running.stop();
  });
});

describe('the demo over a database of the environment', () => {
  let cluster: Awaited<ReturnType<typeof startPostgres>>;
  beforeAll(async () => {
    cluster = await startPostgres(join(folder, 'given'), { durable: false });
  });
  afterAll(() => cluster.stop());

  test('starts none of its own, keeps the data, and the second start is quick; Ctrl-C ends it and leaves the database alone', async () => {
    const env = { PORT: String(await freePort()), DATABASE_URL: cluster.url };
    const first = demo(env);
    const address = await first.running;
    const made = await fetch(`${address}/api/projects`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{"name":"Kept"}',
    });
    expect(made.status).toBe(201);
    first.interrupt();
    expect(await first.ended).toBe(0);
    expect(first.output()).not.toContain('Creating the database');

    const began = performance.now();
    const second = demo(env);
    const shelf = (await (await fetch(`${await second.running}/api/projects`)).json()) as {
      projects: { name: string }[];
    };
    const seconds = (performance.now() - began) / 1000;
    expect(shelf.projects.map(({ name }) => name)).toEqual(['Skerry-9', 'Kept']);
    expect(seconds).toBeLessThan(15);
    second.interrupt();
    expect(await second.ended).toBe(0);
    await expect(fetch(`${address}/api/health`)).rejects.toThrow();
    const still = new pg.Client({ connectionString: cluster.url });
    await still.connect();
    await still.end();
  });
});

import { spawn } from 'node:child_process';
import {
  chmodSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { connect, createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import pg from 'pg';
import { diskFull } from './lib/command.mjs';
import { lockFolder } from './lib/folderLock.mjs';
import { keepAlive } from './lib/keepAlive.mjs';
import { freePort } from './lib/ports.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { checkNode } from './lib/requirements.mjs';
import { startServer } from './lib/server.mjs';

jest.setTimeout(120_000);

const root = dirname(import.meta.dirname);
const folder = mkdtempSync(join(tmpdir(), 'yundro-setup-'));
// The database may run as another user, who must get through this folder.
chmodSync(folder, 0o755);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Demo {
  readonly output: () => string;
  readonly ended: Promise<number | null>;
  readonly pid: number;
  readonly interrupt: () => void;
  /** Ends it as a crash would. */
  readonly kill: () => void;
  readonly running: Promise<string>;
}

/** The demo command as a person starts it. */
function demo(env: Readonly<Record<string, string>>, home = root): Demo {
  const child = spawn(process.execPath, [join(home, 'scripts/demo.mjs')], {
    cwd: home,
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
  return {
    output: () => text,
    ended,
    pid: child.pid ?? 0,
    interrupt: () => child.kill('SIGINT'),
    kill: () => child.kill('SIGKILL'),
    running,
  };
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

describe('a data folder', () => {
  test('has one holder at a time; a lock whose program is gone is taken over', async () => {
    const home = join(folder, 'locked');
    mkdirSync(home);
    const first = lockFolder(home);
    if (!first.taken) throw new Error('not taken');
    first.note({ address: 'http://127.0.0.1:1' });
    expect(lockFolder(home)).toMatchObject({
      taken: false,
      holder: { pid: process.pid, address: 'http://127.0.0.1:1' },
    });
    first.release();
    const gone = spawn(process.execPath, ['-e', '']);
    await new Promise((resolve) => gone.once('exit', resolve));
    writeFileSync(join(home, 'lock'), JSON.stringify({ pid: gone.pid, began: '1' }));
    const second = lockFolder(home);
    expect(second.taken).toBe(true);
    // A process of the same number that began at another time is another one.
    writeFileSync(join(home, 'lock'), JSON.stringify({ pid: process.pid, began: '1' }));
    expect(lockFolder(home).taken).toBe(true);
  });
  test.each(['{"format":99}', '{'])('whose format reads %s is refused in a sentence', async (text) => {
    const home = mkdtempSync(join(folder, 'format-'));
    chmodSync(home, 0o755);
    writeFileSync(join(home, 'yundro.json'), text);
    await expect(startPostgres(home)).rejects.toThrow(
      text === '{' ? 'is damaged' : 'made by a newer version of Yundro',
    );
  });
  test('whose creation was cut short is made anew, and one without its password file has a new one', async () => {
    const home = mkdtempSync(join(folder, 'cut-'));
    chmodSync(home, 0o755);
    mkdirSync(join(home, 'postgres.new'));
    writeFileSync(join(home, 'postgres.new', 'PG_VERSION'), '15');
    writeFileSync(join(home, 'password'), 'of a cluster that never was');
    const first = await startPostgres(home, { durable: false });
    await first.stop();
    expect(existsSync(join(home, 'postgres.new'))).toBe(false);
    rmSync(join(home, 'password'));
    const second = await startPostgres(home, { durable: false });
    const client = new pg.Client({ connectionString: second.url });
    await client.connect();
    await client.end();
    await second.stop();
    writeFileSync(join(home, 'postgres', 'PG_VERSION'), '');
    await expect(startPostgres(home)).rejects.toThrow('is no whole database');
  });
});

describe('what is kept alive', () => {
  const runs = (lives: number[]) => {
    let restarts = 0;
    return {
      part: {
        name: 'part',
        ended: () => new Promise<void>((resolve) => setTimeout(resolve, lives[Math.min(restarts, lives.length - 1)])),
        restart: () => {
          restarts += 1;
          return Promise.resolve();
        },
      },
      restarts: () => restarts,
    };
  };
  test('is started again when it ends, and left alone once the end is meant', async () => {
    const { part, restarts } = runs([5]);
    await keepAlive(part, () => restarts() >= 2);
    expect(restarts()).toBe(2);
  });
  test('is given up with a sentence when it cannot be started', async () => {
    const attempts: number[] = [];
    const part = {
      name: 'part',
      ended: () => Promise.resolve(),
      restart: () => {
        attempts.push(Date.now());
        return Promise.reject(new Error('no'));
      },
    };
    await expect(keepAlive(part, () => false, [1, 2, 4])).rejects.toThrow('The part does not stay up');
    expect(attempts).toHaveLength(3);
  });
});

describe('the demo with a database of its own', () => {
  // A folder that shares everything with this one but its data.
  const copy = join(folder, 'copy');
  beforeAll(() => {
    mkdirSync(copy);
    for (const name of ['node_modules', 'core', 'cli', 'server', 'web', 'bin', 'package.json', 'package-lock.json'])
      symlinkSync(join(root, name), join(copy, name));
    cpSync(join(root, 'scripts'), join(copy, 'scripts'), { recursive: true });
  });
  const archive = join(folder, 'all.tar');
  const npm = (script: string, ...words: string[]) =>
    new Promise<{ code: number | null; output: string }>((resolve) => {
      const child = spawn(process.execPath, [join(copy, `scripts/${script}.mjs`), ...words], {
        cwd: copy,
        env: { ...process.env, NODE_OPTIONS: '', DATABASE_URL: '' },
      });
      let output = '';
      for (const stream of [child.stdout, child.stderr])
        stream.on('data', (chunk: Buffer) => (output += chunk.toString()));
      child.once('exit', (code) => resolve({ code, output }));
    });
  const names = async (address: string): Promise<string[]> => {
    const { projects } = (await (await fetch(`${address}/api/projects`)).json()) as { projects: { name: string }[] };
    return projects.map(({ name }) => name);
  };
  const make = (address: string, name: string) =>
    fetch(`${address}/api/projects`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ name }),
    });
  const until = async (holds: () => Promise<boolean>, seconds: number): Promise<number> => {
    const began = performance.now();
    while (performance.now() - began < seconds * 1000) {
      if (await holds().catch(() => false)) return (performance.now() - began) / 1000;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error('never');
  };
  const isUp = (address: string) => async (): Promise<boolean> => (await fetch(`${address}/api/health`)).ok;
  const postmaster = (): number =>
    Number(readFileSync(join(copy, '.data/postgres/postmaster.pid'), 'utf8').split('\n')[0]);
  /** The server that a demo started, by what it runs and who its parent is. */
  const serverOf = (parent: number): number | undefined =>
    readdirSync('/proc')
      .filter((name) => /^\d+$/.test(name))
      .map(Number)
      .find((pid) => {
        try {
          const status = readFileSync(`/proc/${String(pid)}/status`, 'utf8');
          const command = readFileSync(`/proc/${String(pid)}/cmdline`, 'utf8');
          return status.includes(`PPid:\t${String(parent)}\n`) && command.includes('dist/main.mjs');
        } catch {
          return false;
        }
      });

  test('a second start says where the first runs and leaves it alone; what dies is started again; it is backed up running', async () => {
    const env = { PORT: String(await freePort()), DATABASE_URL: '' };
    const first = demo(env, copy);
    const address = await first.running;
    await make(address, 'Kept');

    const second = demo({ ...env, PORT: String(await freePort()) }, copy);
    expect(await second.ended).toBe(0);
    expect(second.output()).toContain(`Yundro is running already at ${address}`);
    expect(await names(address)).toContain('Kept');

    const server = serverOf(first.pid);
    if (server === undefined) throw new Error('no server');
    process.kill(server, 'SIGKILL');
    await until(async () => !(await isUp(address)()), 5).catch(() => undefined);
    expect(await until(isUp(address), 15)).toBeLessThan(15);
    process.kill(postmaster(), 'SIGKILL');
    await until(async () => (await fetch(`${address}/api/projects`)).status === 503, 5).catch(() => undefined);
    await until(async () => (await names(address)).includes('Kept'), 15);
    expect(first.output()).toContain('The server ended unexpectedly; it is started again.');
    expect(first.output()).toContain('The database server is running again.');

    const written = await npm('backup', archive);
    expect(written.output).toContain('read again: bench_runs, board_notes, parts, projects, stages.');
    const refused = await npm('restore', archive);
    expect([refused.code, refused.output]).toEqual([1, expect.stringContaining('Yundro is running in this folder')]);
    first.interrupt();
    expect(await first.ended).toBe(0);
    expect(existsSync(join(copy, '.data/lock'))).toBe(false);
  }, 120_000);

  test('a restore puts a backup in the place of what is there, and keeps that beside it', async () => {
    const env = { PORT: String(await freePort()), DATABASE_URL: '' };
    const before = demo(env, copy);
    await make(await before.running, 'Later');
    before.interrupt();
    await before.ended;
    const restored = await npm('restore', archive);
    expect([restored.code, restored.output]).toEqual([
      0,
      expect.stringContaining('was restored. What was there before is in'),
    ]);
    const after = demo(env, copy);
    expect(await names(await after.running)).toEqual(['Skerry-9', 'Kept']);
    after.interrupt();
    await after.ended;
    expect(readdirSync(join(copy, '.data')).some((name) => name.startsWith('before-restore-'))).toBe(true);
  }, 120_000);

  test('a damaged archive, and one that is none, are refused and change nothing', async () => {
    const damaged = join(folder, 'damaged.tar');
    const bytes = readFileSync(archive);
    bytes[Math.floor(bytes.length / 2)] = (bytes[Math.floor(bytes.length / 2)] ?? 0) ^ 0xff;
    writeFileSync(damaged, bytes);
    expect((await npm('restore', damaged)).output).toMatch(/is damaged|is no archive|cannot be read/);
    writeFileSync(damaged, 'no archive');
    expect((await npm('restore', damaged)).output).toContain('is no archive of Yundro');
    expect((await npm('backup', archive)).output).toContain('is there already');
  }, 120_000);

  test('when the demo itself is killed, its server ends by itself and the next start finds the data', async () => {
    const env = { PORT: String(await freePort()), DATABASE_URL: '' };
    const first = demo(env, copy);
    const address = await first.running;
    const server = serverOf(first.pid);
    first.kill();
    await first.ended;
    await until(async () => !existsSync(`/proc/${String(server)}`) && Promise.resolve(true), 10);
    const second = demo(env, copy);
    expect(await second.running).toBe(address);
    expect(await names(address)).toContain('Kept');
    second.interrupt();
    expect(await second.ended).toBe(0);
  }, 120_000);

  test('a second Ctrl-C ends everything by force within five seconds', async () => {
    const started = demo({ PORT: String(await freePort()), DATABASE_URL: '' }, copy);
    const address = await started.running;
    const began = performance.now();
    started.interrupt();
    started.interrupt();
    await started.ended;
    expect(performance.now() - began).toBeLessThan(5000);
    await until(async () => !(await isUp(address)().catch(() => false)), 5);
    await until(async () => Promise.resolve(serverOf(started.pid) === undefined), 5);
  }, 60_000);

  test('Ctrl-C while it starts ends it, and what it had started with it', async () => {
    const started = demo({ PORT: String(await freePort()), DATABASE_URL: '' }, copy);
    await until(async () => Promise.resolve(existsSync(join(copy, '.data/postgres/postmaster.pid'))), 20);
    started.interrupt();
    await started.ended;
    await until(async () => Promise.resolve(!existsSync(join(copy, '.data/postgres/postmaster.pid'))), 10);
    expect(existsSync(join(copy, '.data/lock'))).toBe(false);
  }, 60_000);
});

describe('a server that is told to stop', () => {
  test('lets a request under way end, and takes no new one', async () => {
    const cluster = await startPostgres(join(folder, 'grace'), { durable: false });
    const port = await freePort();
    const server = await startServer(root, { databaseUrl: cluster.url, port, logLevel: 'silent' });
    const body = '{"name":"Under way"}';
    const answer = new Promise<string>((resolve, reject) => {
      let text = '';
      const socket = connect(port, '127.0.0.1', () => {
        const head = `POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: ${String(body.length)}\r\n\r\n`;
        socket.write(head + body.slice(0, 5));
        setTimeout(() => void server.stop(), 100);
        setTimeout(() => socket.write(body.slice(5)), 600);
      });
      socket.on('data', (chunk) => (text += chunk.toString()));
      socket.on('close', () => resolve(text));
      socket.on('error', reject);
    });
    await new Promise((resolve) => setTimeout(resolve, 300));
    await expect(fetch(`http://127.0.0.1:${String(port)}/api/health`)).rejects.toThrow();
    expect(await answer).toContain('HTTP/1.1 201 Created');
    expect(await server.ended).toBe(0);
    await cluster.stop();
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

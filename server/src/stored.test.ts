import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { apiProblemSchema, shelfSchema, stageRecordSchema, type Stage } from '@yundro/core';
import { contentOf, testApp, type TestApp } from '../testing/testApp.js';
import { migrateDatabase, NewerDatabase, saysDiskFull, saysUnreachable } from './database.js';
import { skerry9 } from './demo/skerry9.js';

jest.setTimeout(60_000);

/** ms that a summary may take here: many times what the demo's stages need, a fraction of what the heavy one does. */
const LIMIT = 8000;

let app: TestApp;
let api: TestApp['api'];
beforeAll(async () => {
  app = await testApp({ timeLimit: LIMIT });
  ({ api } = app);
});
afterAll(() => app.close());

const [hull] = skerry9.stages as [Stage, ...Stage[]];
const newProject = async (name: string): Promise<string> =>
  (contentOf(await api.post('/api/projects').send({ name }).expect(201)) as { id: string }).id;
const newStage = async (project: string, document: Stage = hull) =>
  stageRecordSchema.parse(contentOf(await api.post(`/api/projects/${project}/stages`).send({ document }).expect(201)));
const rowsOf = async (project: string) => {
  const { projects } = shelfSchema.parse(contentOf(await api.get('/api/projects').expect(200)));
  return projects.find(({ id }) => id === project)?.stages ?? [];
};
/** The rows of a project once none of them is being worked any more. */
async function workedRows(project: string) {
  for (;;) {
    const rows = await rowsOf(project);
    if (rows.every(({ summary }) => summary.state !== 'pending')) return rows;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

describe('summaries of the shelf', () => {
  test('the shelf answers at once and fills in by itself, and what was worked is kept with the stage', async () => {
    const project = await newProject('Shelf');
    const { id } = await newStage(project);
    expect((await rowsOf(project))[0]?.summary.state).toBe('pending');
    const [row] = await workedRows(project);
    expect(row?.summary).toMatchObject({ state: 'worked', verdicts: { fails: 0 } });
    const { rows } = await app.database.$client.query<{ summary_of: string }>('select summary_of from stages where id = $1', [id]);
    expect(rows[0]?.summary_of).toBe(app.summaries.keyOf(hull));
    // What the stage says now, or what another core worked, is worked anew.
    const targets = { ...hull.targets, outputRipple: 0.9 * (hull.targets.outputRipple ?? NaN) };
    await api.put(`/api/stages/${id}`).send({ revision: 1, document: { ...hull, targets } }).expect(200);
    expect((await rowsOf(project))[0]?.summary.state).toBe('pending');
    await workedRows(project);
    // A copy, another name, and an edit taken back say what was worked before.
    const copied = await newStage(project, { ...hull, name: 'Hull bus again' });
    await api.put(`/api/stages/${id}`).send({ revision: 2, document: hull }).expect(200);
    expect((await rowsOf(project)).map(({ summary }) => summary)).toEqual([row?.summary, row?.summary]);
    const keptOf = async (stage: string) =>
      (await app.database.$client.query<{ summary_of: string }>('select summary_of from stages where id = $1', [stage]))
        .rows[0]?.summary_of;
    for (const stage of [id, copied.id])
      while ((await keptOf(stage)) !== app.summaries.keyOf(hull)) await new Promise((resolve) => setTimeout(resolve, 20));
    // What an older core had worked is not shown.
    await app.database.$client.query(
      `update stages set summary_of = $2, summary = jsonb_set(summary, '{verdicts,fails}', '7') where id = $1`,
      [id, `${app.summaries.keyOf(hull).split(':')[0] ?? ''}:older`],
    );
    expect((await rowsOf(project))[0]?.summary).toEqual(row?.summary);
  }); // prettier-ignore

  test('a stage that takes too long is told of, keeps nobody waiting, and is not worked again', async () => {
    const project = await newProject('Heavy');
    const bank = { kind: 'ceramic' as const, capacitance: 1e-5, esr: 0.003, esl: 5e-10, count: 1 };
    const banks = Array.from({ length: 12 }, (_, k) => ({ ...bank, capacitance: 1e-6 * (k + 1) }));
    const parts = { ...hull.parts, outputCapacitors: banks, inputCapacitors: banks };
    await newStage(project, { ...hull, name: 'Twelve banks', operatingMode: 'critical-conduction', parts });
    const waits: number[] = [];
    const looking = new AbortController();
    const watch = (async () => {
      while (!looking.signal.aborted) {
        const began = performance.now();
        await api.get('/api/health').expect(200);
        waits.push(performance.now() - began);
      }
    })();
    const [row] = await workedRows(project);
    looking.abort();
    await watch;
    expect(row?.summary).toMatchObject({ state: 'not-worked', verdicts: null });
    expect(row?.summary.reason).toMatch(`Not worked: it takes longer than ${String(LIMIT / 1000)} s`);
    expect(Math.max(...waits)).toBeLessThan(1000);
    expect((await rowsOf(project))[0]?.summary.state).toBe('not-worked');
  });
});

describe('stored documents', () => {
  const spoil = (id: string, change: string) =>
    app.database.$client.query(`update stages set document = ${change}, revision = revision + 1 where id = $1`, [id]);

  test('one of a newer version, or a broken one, is a row that says so; it can be exported, and the others stay', async () => {
    const project = await newProject('Mixed');
    const [good, newer, broken] = [await newStage(project), await newStage(project), await newStage(project)];
    await spoil(newer.id, `jsonb_set(document, '{version}', '99')`);
    await spoil(broken.id, `document - 'targets'`);
    const rows = await rowsOf(project);
    expect(rows.map(({ summary }) => summary.state === 'unreadable')).toEqual([false, true, true]);
    expect(rows[1]).toMatchObject({ name: 'Hull bus', facts: null });
    expect(rows[1]?.summary.reason).toContain('version 99, newer than this program reads');
    const opened = await api.get(`/api/stages/${newer.id}`).expect(422);
    expect(apiProblemSchema.parse(opened.body).detail).toContain('It can be exported as it is.');
    const stored = await api.get(`/api/stages/${newer.id}/document`).expect(200);
    expect(contentOf(stored)).toMatchObject({ format: 'yundro-stage', version: 99, name: 'Hull bus' });
    expect(stored.headers['content-disposition']).toContain('stage.json');
    await api.get(`/api/stages/${good.id}`).expect(200);
    await api.post(`/api/projects/${project}/duplicate`).expect(201);
  });

  test('what an older program left out is filled in on reading', async () => {
    const { id } = await newStage(await newProject('Older'));
    await spoil(id, `document - 'notes' - 'pinned'`);
    expect(stageRecordSchema.parse(contentOf(await api.get(`/api/stages/${id}`).expect(200))).document.notes).toBe('');
  });

  test('tables that a newer program made are refused at the start', async () => {
    await app.database.$client.query(
      `insert into drizzle.__drizzle_migrations (hash, created_at) values ('from the future', 9999999999999)`,
    );
    await expect(migrateDatabase(app.database)).rejects.toThrow(NewerDatabase);
    await expect(migrateDatabase(app.database)).rejects.toThrow('was last used by a newer version of Yundro');
    await app.database.$client.query(`delete from drizzle.__drizzle_migrations where hash = 'from the future'`);
    await migrateDatabase(app.database);
  });
});

describe('a save that is sent again', () => {
  const save = '00000000-0000-4000-8000-0000000000aa';
  test('under its name is acknowledged with the revision it made, not refused by itself', async () => {
    const { id } = await newStage(await newProject('Again'));
    const body = { revision: 1, document: { ...hull, name: 'Once' }, save };
    const first = await api.put(`/api/stages/${id}`).send(body).expect(200);
    const again = await api.put(`/api/stages/${id}`).send(body).expect(200);
    expect(contentOf(again)).toEqual(contentOf(first));
    expect(stageRecordSchema.parse(contentOf(again)).revision).toBe(2);
  });
  test('that says what is stored already is acknowledged without a name too', async () => {
    const { id } = await newStage(await newProject('Same'));
    const body = { revision: 1, document: { ...hull, name: 'Twice' } };
    await api.put(`/api/stages/${id}`).send(body).expect(200);
    await api.put(`/api/stages/${id}`).send(body).expect(200);
  });
  test('is still a conflict where another save came between', async () => {
    const { id } = await newStage(await newProject('Between'));
    const document = { ...hull, name: 'Mine' };
    await api.put(`/api/stages/${id}`).send({ revision: 1, document, save }).expect(200);
    await api
      .put(`/api/stages/${id}`)
      .send({ revision: 2, document: { ...hull, name: 'Theirs' } })
      .expect(200);
    await api.put(`/api/stages/${id}`).send({ revision: 1, document, save }).expect(409);
  });
});

describe('two imports at once', () => {
  test('leave each part once', async () => {
    const imports = await Promise.all(
      Array.from({ length: 6 }, async (_, k) => {
        const { id } = contentOf(await api.post('/api/parts/imports').send({})) as { id: string };
        const part = { name: 'DX9', forwardVoltage: 0.3 + 0.01 * k, dynamicResistance: 0.01 };
        await api
          .post(`/api/parts/imports/${id}/rows`)
          .send({ kind: 'diode', parts: [part] })
          .expect(204);
        return id;
      }),
    );
    const finished = await Promise.all(imports.map((id) => api.post(`/api/parts/imports/${id}/finish`).send({})));
    expect(finished.map(({ status }) => status)).toEqual(imports.map(() => 200));
    const { rows } = await app.database.$client.query(`select 1 from parts where name = 'DX9' and staged_in is null`);
    expect(rows).toHaveLength(1);
  });
});

describe('what errors of the database say', () => {
  test('no room is a full disk, however deep it is wrapped', () => {
    expect(saysDiskFull({ cause: { code: '53100' } })).toBe(true);
    expect(saysDiskFull(Object.assign(new Error('write'), { code: 'ENOSPC' }))).toBe(true);
    expect(saysDiskFull({ code: '23505' })).toBe(false);
    expect(saysUnreachable({ message: 'Client has encountered a connection error and is not queryable' })).toBe(true);
  });
  test('a full disk is answered with 507 and a sentence', async () => {
    const project = await newProject('Full');
    await app.database.$client.query(`
      create function no_room() returns trigger language plpgsql as $$ begin
        raise exception 'could not extend file' using errcode = '53100'; end $$;
      create trigger no_room before insert on stages for each statement execute function no_room();`);
    try {
      const answer = await api.post(`/api/projects/${project}/stages`).send({ document: hull }).expect(507);
      expect(contentOf(answer)).toMatchObject({ type: '/problems/disk-full', detail: expect.stringContaining('The disk is full') });
    } finally {
      await app.database.$client.query('drop trigger no_room on stages; drop function no_room');
    }
  }); // prettier-ignore
});

describe('a connection that is lost', () => {
  test('in the middle of transactions costs the pool none of its connections', async () => {
    const project = await newProject('Lost');
    const { id } = await newStage(project);
    const pool = app.database.$client;
    for (let round = 0; round < 12; round += 1) {
      // Every idle connection dies, as when the database goes down; the next transaction begins on one of them.
      const ends = `select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid() and backend_type = 'client backend'`;
      await pool.query(ends);
      await Promise.all(Array.from({ length: 3 }, () => api.get(`/api/stages/${id}`)));
    }
    expect(pool.totalCount - pool.idleCount).toBe(0);
    await api.get(`/api/stages/${id}`).expect(200);
  });
});

describe('what is sent', () => {
  test('is compressed where the browser understands it', async () => {
    await newStage(await newProject('Compressed'));
    for (const encoding of ['br', 'gzip']) {
      const answer = await api.get('/api/stage-schema').set('Accept-Encoding', encoding).buffer(false).parse((_r, done) => done(null, null)); // prettier-ignore
      expect(answer.headers['content-encoding']).toBe(encoding);
    }
  });
});

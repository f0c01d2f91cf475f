import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import type request from 'supertest';
import { healthSchema, shelfSchema, stageRecordSchema, type Stage } from '@yundro/core';
import { contentOf, testApp, type TestApp } from '../testing/testApp.js';
import { CATALOGUE } from './catalogue.js';
import { migrateDatabase } from './database.js';
import { seedDemo } from './demo/seed.js';
import { BenchStore } from './bench/benchStore.js';
import { PartStore } from './partStore.js';
import { skerry9 } from './demo/skerry9.js';

jest.setTimeout(60_000);

let app: TestApp;
let api: TestApp['api'];
beforeAll(async () => {
  app = await testApp();
  ({ api } = app);
  await migrateDatabase(app.database);
});
afterAll(() => app.close());

const [hull] = skerry9.stages as [Stage, ...Stage[]];

async function newProject(name: string): Promise<string> {
  const body = contentOf(await api.post('/api/projects').send({ name }).expect(201));
  return (body as { id: string }).id;
}
async function newStage(projectId: string, document: Stage = hull) {
  const body = contentOf(await api.post(`/api/projects/${projectId}/stages`).send({ document }).expect(201));
  return stageRecordSchema.parse(body);
}

describe('projects and stages', () => {
  test('the demo project is put on an empty shelf once, in order, with its verdicts', async () => {
    const { store } = app;
    const library = new PartStore(app.database);
    const bench = new BenchStore(app.database);
    expect(await seedDemo(store, library, bench)).toBe(true);
    expect(await seedDemo(store, library, bench)).toBe(false);
    // Every part of the demo is a record of the library.
    const mosfets = (await library.list('mosfet')).map(({ part }) => part.name);
    for (const { parts } of skerry9.stages) expect(mosfets).toContain(parts.highSide?.name);
    const { projects } = shelfSchema.parse((await api.get('/api/projects').expect(200)).body);
    expect(projects.map(({ name }) => name)).toEqual(['Skerry-9']);
    expect(projects[0]?.stages.map(({ name }) => name)).toEqual(skerry9.stages.map(({ name }) => name));
  });

  test('a stage comes back as it was stored, and its revision counts up', async () => {
    const made = await newStage(await newProject('Round trip'));
    expect(made.document).toEqual(hull);
    const changed = { ...hull, name: 'Renamed' };
    const saved = stageRecordSchema.parse(
      (await api.put(`/api/stages/${made.id}`).send({ revision: 1, document: changed }).expect(200)).body,
    );
    expect([saved.revision, saved.document]).toEqual([2, changed]);
    expect(stageRecordSchema.parse((await api.get(`/api/stages/${made.id}`).expect(200)).body)).toEqual(saved);
  });

  test('saving over a newer revision is refused with both versions, and the newer one stays', async () => {
    const { id } = await newStage(await newProject('Conflict'));
    const first = { ...hull, name: 'First' };
    const second = { ...hull, name: 'Second' };
    await api.put(`/api/stages/${id}`).send({ revision: 1, document: first }).expect(200);
    const refused = await api.put(`/api/stages/${id}`).send({ revision: 1, document: second }).expect(409);
    expect(refused.headers['content-type']).toContain('application/problem+json');
    expect(refused.body).toMatchObject({
      type: '/problems/conflict',
      status: 409,
      current: { revision: 2, document: { name: 'First' } },
      yours: { name: 'Second' },
    });
    const body = contentOf(await api.get(`/api/stages/${id}`).expect(200));
    expect(stageRecordSchema.parse(body).document.name).toBe('First');
  });

  test('of twenty saves from one revision exactly one succeeds', async () => {
    const { id } = await newStage(await newProject('Race'));
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        api.put(`/api/stages/${id}`).send({ revision: 1, document: { ...hull, name: `Save ${i}` } }),
      ),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array<number>(19).fill(409)]);
  });

  test('rename, duplicate, delete and undo', async () => {
    const project = await newProject('Shelf work');
    const { id } = await newStage(project);
    await api.patch(`/api/projects/${project}`).send({ name: 'Renamed shelf' }).expect(204);
    await api.post(`/api/stages/${id}/duplicate`).expect(201);
    await api.delete(`/api/stages/${id}`).expect(204);
    await api.get(`/api/stages/${id}`).expect(404);
    const names = async (): Promise<string[] | undefined> => {
      const { projects } = shelfSchema.parse((await api.get('/api/projects')).body);
      return projects.find(({ name }) => name === 'Renamed shelf')?.stages.map(({ name }) => name);
    };
    expect(await names()).toEqual(['Hull bus copy']);
    await api.post(`/api/stages/${id}/restore`).expect(204);
    expect(await names()).toEqual(['Hull bus', 'Hull bus copy']);
    await api.delete(`/api/projects/${project}`).expect(204);
    expect(await names()).toBeUndefined();
    await api.get(`/api/stages/${id}`).expect(404);
    await api.post(`/api/projects/${project}/restore`).expect(204);
    expect(await names()).toHaveLength(2);
    await api.post(`/api/projects/${project}/duplicate`).expect(201);
  });
});

describe('requests that are refused', () => {
  test('a broken document: the sentence and the path of the field, as on the command line', async () => {
    const project = await newProject('Broken');
    const document = { ...hull, parts: { ...hull.parts, inductor: { inductance: -1e-6 } } };
    const body = contentOf(await api.post(`/api/projects/${project}/stages`).send({ document }).expect(400));
    expect(body).toMatchObject({
      type: '/problems/invalid-request',
      path: 'parts.inductor.inductance',
      detail:
        'At parts.inductor.inductance: the inductance is -1\u2009µH, but must be at least 1\u2009pH and at most 1\u2009H.',
    });
  });
  test.each<[string, number, () => request.Test]>([
    ['not-json', 400, () => api.post('/api/projects').set('Content-Type', 'application/json').send('{"name":')],
    ['invalid-request', 400, () => api.post('/api/projects').send({ name: '' })],
    ['invalid-request', 400, () => api.post('/api/projects').send({ name: 'x', colour: 1 })],
    ['too-large', 413, () => api.post('/api/projects').send({ name: 'x'.repeat(1_100_000) })],
    ['not-found', 404, () => api.get('/api/stages/not-a-uuid')],
    ['not-found', 404, () => api.get('/api/stages/00000000-0000-4000-8000-000000000000')],
    ['not-found', 404, () => api.post('/api/projects/00000000-0000-4000-8000-000000000000/duplicate')],
    ['not-found', 404, () => api.get('/api/nothing')],
    ['host-refused', 403, () => api.get('/api/health').set('Host', 'rebound.example')],
    [
      'cross-origin-refused',
      403,
      () => api.post('/api/projects').set('Origin', 'http://elsewhere.example').send({ name: 'x' }),
    ],
    ['cross-origin-refused', 403, () => api.get('/api/projects').set('Sec-Fetch-Site', 'cross-site')],
  ])('%s', async (type, status, send) => {
    const answer = await send();
    expect([answer.status, (answer.body as { type: string }).type]).toEqual([status, `/problems/${type}`]);
    expect(answer.headers['content-type']).toContain('application/problem+json');
    expect((answer.body as { detail: string }).detail).toMatch(/\.$/);
  });
  test('no permission for other origins, no inline script, no sniffing', async () => {
    const { headers } = await api.get('/api/health').set('Host', 'localhost:4180').expect(200);
    expect(headers['access-control-allow-origin']).toBeUndefined();
    const policy = String(headers['content-security-policy']);
    expect(policy).toContain("script-src 'self';");
    expect(policy).toContain("style-src 'self';");
    expect(headers['x-content-type-options']).toBe('nosniff');
  });
  test('docs/api.md lists every problem, and no other', () => {
    const page = readFileSync(new URL('../../docs/api.md', import.meta.url), 'utf8');
    const listed = [...page.matchAll(/^\| `\/problems\/([a-z-]+)` +\| (\d+) +\|/gm)].map(([, type, status]) => [
      type,
      Number(status),
    ]);
    expect(listed.sort()).toEqual(Object.entries(CATALOGUE).map(([type, { status }]) => [type, status]).sort()); // prettier-ignore
  });
});

describe('when the database goes away', () => {
  test('requests are answered with 503 and a sentence, and recover by themselves', async () => {
    const project = await newProject('Survivor');
    expect(healthSchema.parse((await api.get('/api/health').expect(200)).body).database).toBe('reachable');
    await app.cluster.kill();
    const away = await api.get('/api/projects').expect(503);
    expect(away.body).toMatchObject({ type: '/problems/database-unreachable', status: 503 });
    expect(healthSchema.parse((await api.get('/api/health').expect(503)).body).database).toBe('unreachable');
    await app.cluster.restart();
    const { projects } = shelfSchema.parse((await api.get('/api/projects').expect(200)).body);
    expect(projects.map(({ id }) => id)).toContain(project);
  });
});

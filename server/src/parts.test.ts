import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { genericParts, libraryPartsSchema, PART_BATCH, PART_KINDS, type PartKind } from '@yundro/core';
import { testApp, type TestApp } from '../testing/testApp.js';
import { PartStore } from './partStore.js';

jest.setTimeout(60_000);

let app: TestApp;
let api: TestApp['api'];
beforeAll(async () => {
  app = await testApp();
  ({ api } = app);
});
afterAll(() => app.close());

const list = async (kind: PartKind) =>
  libraryPartsSchema.parse((await api.get(`/api/parts?kind=${kind}`).expect(200)).body).parts;
const opened = async (): Promise<string> =>
  ((await api.post('/api/parts/imports').send({}).expect(201)).body as { id: string }).id;

describe('the library that comes with Yundro', () => {
  test('is put into an empty library once, with enough of every kind to choose from', async () => {
    const store = new PartStore(app.database);
    expect(await store.seedGeneric()).toBe(true);
    expect(await store.seedGeneric()).toBe(false);
    const least = { inductor: 60, capacitor: 80, mosfet: 60, diode: 20, core: 1, controller: 50 };
    for (const kind of PART_KINDS) {
      const parts = await list(kind);
      expect(parts.length).toBeGreaterThanOrEqual(least[kind]);
      expect(parts).toHaveLength(genericParts()[kind].length);
    }
  });
  test('asks for one kind at a time', async () => {
    const answer = await api.get('/api/parts?kind=valve').expect(400);
    expect((answer.body as { detail: string }).detail).toContain(
      'inductor, capacitor, mosfet, diode, core, controller',
    );
  });
});

describe('an import', () => {
  const diode = (name: string, forwardVoltage: number) => ({ name, forwardVoltage, dynamicResistance: 0.01 });
  test('is seen by nobody before it is finished, and then as a whole', async () => {
    const before = (await list('diode')).length;
    const id = await opened();
    await api
      .post(`/api/parts/imports/${id}/rows`)
      .send({ kind: 'diode', parts: [diode('DX1', 0.4)] })
      .expect(204);
    await api
      .post(`/api/parts/imports/${id}/rows`)
      .send({ kind: 'diode', parts: [diode('DX2', 0.5)] })
      .expect(204);
    expect(await list('diode')).toHaveLength(before);
    expect((await api.post(`/api/parts/imports/${id}/finish`).send({}).expect(200)).body).toEqual({ taken: 2 });
    expect(await list('diode')).toHaveLength(before + 2);
  });
  test('replaces a part of the same kind and name', async () => {
    const before = (await list('diode')).length;
    const id = await opened();
    await api
      .post(`/api/parts/imports/${id}/rows`)
      .send({ kind: 'diode', parts: [diode('DX1', 0.6)] })
      .expect(204);
    await api.post(`/api/parts/imports/${id}/finish`).send({}).expect(200);
    const after = await list('diode');
    expect(after).toHaveLength(before);
    expect(after.find(({ part }) => part.name === 'DX1')?.part['forwardVoltage']).toBe(0.6);
  });
  test('that is given up leaves nothing, and cannot be finished', async () => {
    const before = (await list('diode')).length;
    const id = await opened();
    await api
      .post(`/api/parts/imports/${id}/rows`)
      .send({ kind: 'diode', parts: [diode('DX3', 0.4)] })
      .expect(204);
    await api.delete(`/api/parts/imports/${id}`).expect(204);
    await api.post(`/api/parts/imports/${id}/finish`).send({}).expect(404);
    expect(await list('diode')).toHaveLength(before);
  });
  test('refuses a batch with a part that does not fit, in a sentence, and one that is too long', async () => {
    const id = await opened();
    const bad = await api
      .post(`/api/parts/imports/${id}/rows`)
      .send({ kind: 'diode', parts: [diode('good', 0.4), diode('bad', -1)] })
      .expect(400);
    expect((bad.body as { detail: string }).detail).toMatch(/diode forward voltage is -1.V/);
    await api.post(`/api/parts/imports/${id}/finish`).send({}).expect(404);
    const many = Array.from({ length: PART_BATCH + 1 }, (_, i) => diode(`m${String(i)}`, 0.4));
    await api.post(`/api/parts/imports/${id}/rows`).send({ kind: 'diode', parts: many }).expect(400);
  });
  test('a deleted part is gone, and a second time not found', async () => {
    const part = (await list('diode')).find((one) => one.part.name === 'DX2');
    await api.delete(`/api/parts/${part?.id ?? ''}`).expect(204);
    await api.delete(`/api/parts/${part?.id ?? ''}`).expect(404);
  });
  test('an import that nobody finished is cleared away after a day', async () => {
    const id = await opened();
    await api
      .post(`/api/parts/imports/${id}/rows`)
      .send({ kind: 'diode', parts: [diode('late', 0.4)] })
      .expect(204);
    await app.database.$client.query(`update parts set created_at = now() - interval '2 days' where staged_in = $1`, [
      id,
    ]);
    await new PartStore(app.database).clearAbandoned();
    await api.post(`/api/parts/imports/${id}/finish`).send({}).expect(404);
  });
});

import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { boardRowSchema, mergedBoard, shelfSchema, stageRecordSchema, type BoardNotes } from '@yundro/core';
import { contentOf, testApp, type TestApp } from '../testing/testApp.js';
import { migrateDatabase } from './database.js';
import { skerry9 } from './demo/skerry9.js';

jest.setTimeout(60_000);

let app: TestApp;
let stageId = '';
let projectId = '';
beforeAll(async () => {
  app = await testApp();
  await migrateDatabase(app.database);
  const made = contentOf(await app.api.post('/api/projects').send({ name: 'Boards' }).expect(201));
  projectId = (made as { id: string }).id;
  const [document] = skerry9.stages;
  const stage = await app.api.post(`/api/projects/${projectId}/stages`).send({ document }).expect(201);
  stageId = stageRecordSchema.parse(contentOf(stage)).id;
});
afterAll(() => app.close());

const NOTES: BoardNotes = {
  geometry: { loop: { length: 0.01, breadth: 0.005, width: 0.003 } },
  copper: { rise: 20, foil: 35e-6, length: 0.02 },
  values: { lockOut: { upper: 300e3 } },
  tolerances: {},
  taken: {},
  checks: { plane: { state: 'done', note: 'seen' } },
  noise: { network: 'mains', limit: '', margin: 6, deviation: 0 },
  heatsink: { sink: 5, insulator: 'mica', area: 1.5e-4 },
  plan: { placement: { 'highSide1.1': { x: 0.001, y: -0.002, turn: 3 } }, plane: 0.2e-3 },
};
const put = (revision: number, notes: unknown, of = stageId) =>
  app.api.put(`/api/stages/${of}/board`).send({ revision, notes });
const board = async (of = stageId) =>
  boardRowSchema.parse((await app.api.get(`/api/stages/${of}/board`).expect(200)).body);

describe('what is kept about a board, with its stage', () => {
  test('nothing at first; what is saved comes back, and its revision counts up', async () => {
    expect(await board()).toEqual({ revision: 0, notes: null });
    expect(boardRowSchema.parse((await put(0, NOTES).expect(200)).body)).toEqual({ revision: 1, notes: NOTES });
    const later = { ...NOTES, checks: {} };
    await put(1, later).expect(200);
    expect(await board()).toEqual({ revision: 2, notes: later });
    await put(2, NOTES).expect(200);
  });
  test('a save from an older revision, and a second first one, are conflicts and change nothing', async () => {
    for (const revision of [0, 1, 2, 9])
      expect((await put(revision, { ...NOTES, checks: {} }).expect(409)).body).toMatchObject({
        type: '/problems/conflict',
      });
    expect(await board()).toEqual({ revision: 3, notes: NOTES });
  });
  test('what is no such note is refused with its place, and a stage that is not there is not found', async () => {
    const wrong = { ...NOTES, plan: { placement: { x: { x: 0, y: 0, turn: 5 } } } };
    expect((await put(3, wrong).expect(400)).body).toMatchObject({ type: '/problems/invalid-request' });
    const nowhere = '00000000-0000-4000-8000-000000000000';
    await put(0, NOTES, nowhere).expect(404);
    await app.api.get(`/api/stages/${nowhere}/board`).expect(404);
  });
  test.each<[string, unknown]>([
    ['a revision below zero', { revision: -1, notes: NOTES }],
    ['half a revision', { revision: 1.5, notes: NOTES }],
    ['a revision beyond the integers of the database', { revision: 2 ** 31, notes: NOTES }],
    [
      'a character that no database keeps',
      { revision: 3, notes: { ...NOTES, checks: { a: { state: 'done', note: 'x\u0000y' } } } },
    ],
    [
      'such a character in a key',
      { revision: 3, notes: { ...NOTES, checks: { 'a\u0000': { state: 'done', note: '' } } } },
    ],
    ['such a character in the limit', { revision: 3, notes: { ...NOTES, noise: { ...NOTES.noise, limit: '\u0000' } } }],
    ['text for a number', { revision: 3, notes: { ...NOTES, values: { lockOut: { upper: '300k' } } } }],
    ['what no board has', { revision: 3, notes: { ...NOTES, colour: 'green' } }],
    ['nothing', {}],
  ])('%s is refused, and nothing is changed by it', async (_, body) => {
    const answer = await app.api.put(`/api/stages/${stageId}/board`).send(body as object);
    expect([400, 409]).toContain(answer.status);
    expect(await board()).toEqual({ revision: 3, notes: NOTES });
  });
  test('a copy of the stage, and of its project, has a copy of them, which goes its own way', async () => {
    const copy = stageRecordSchema.parse(contentOf(await app.api.post(`/api/stages/${stageId}/duplicate`).expect(201)));
    expect(await board(copy.id)).toEqual({ revision: 1, notes: NOTES });
    await put(1, { ...NOTES, checks: {} }, copy.id).expect(200);
    expect((await board()).notes).toEqual(NOTES);
    const { id } = contentOf(await app.api.post(`/api/projects/${projectId}/duplicate`).expect(201)) as { id: string };
    const { projects } = shelfSchema.parse((await app.api.get('/api/projects').expect(200)).body);
    const stages = projects.find((one) => one.id === id)?.stages ?? [];
    expect((await board(stages[0]?.id)).notes).toEqual(NOTES);
    expect((await board(stages[1]?.id)).notes?.checks).toEqual({});
  });
});

describe('notes from two windows', () => {
  test('are joined line by line, the own on top; a plan is one whole', () => {
    const own: BoardNotes = {
      ...NOTES,
      checks: { plane: { state: 'open', note: 'looked again' } },
      values: { softStart: { capacitance: 1e-8 } },
      plan: { placement: {}, plane: 0.1e-3 },
    };
    const stored = { ...NOTES, checks: { ...NOTES.checks, vias: { state: 'done' as const, note: '' } } };
    const merged = mergedBoard(stored, own);
    expect(merged.checks).toEqual({ plane: own.checks['plane'], vias: stored.checks['vias'] });
    expect(Object.keys(merged.values).sort()).toEqual(['lockOut', 'softStart']);
    expect(merged.plan).toEqual(NOTES.plan);
    const laid = { placement: { other: { x: 0, y: 0, turn: 1 as const } } };
    expect(mergedBoard(stored, { ...own, plan: laid }).plan).toEqual(laid);
  });
});

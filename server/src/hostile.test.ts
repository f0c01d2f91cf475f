import { createServer, request as httpRequest, type Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import type { Stage } from '@yundro/core';
import { contentOf, testApp, type TestApp } from '../testing/testApp.js';
import { skerry9 } from './demo/skerry9.js';
import { answerInSentences } from './ownAnswers.js';

jest.setTimeout(60_000);

let app: TestApp;
let api: TestApp['api'];
let project: string;
beforeAll(async () => {
  app = await testApp();
  ({ api } = app);
  project = (contentOf(await api.post('/api/projects').send({ name: 'Hostile' })) as { id: string }).id;
});
afterAll(() => app.close());

const [hull] = skerry9.stages as [Stage, ...Stage[]];
const deep = '['.repeat(50_000) + ']'.repeat(50_000);
const json = { 'Content-Type': 'application/json' };
const stages = (): string => `/api/projects/${project}/stages`;

describe('what is hostile is answered with 4xx and a sentence', () => {
  test.each<[string, number, () => ReturnType<typeof api.post>]>([
    ['a zero byte in a name', 400, () => api.post('/api/projects').send({ name: 'a\u0000b' })],
    ['half a character in a name', 400, () => api.post('/api/projects').send({ name: 'a\ud800' })],
    ['a zero byte in a document', 400, () => api.post(stages()).send({ document: { ...hull, notes: '\u0000' } })],
    ['half a character in a document', 400, () => api.post(stages()).send({ document: { ...hull, name: '\udfff' } })],
    ['a percent sign that begins no character', 400, () => api.get('/api/stages/%E0%A4%A')],
    ['a percent sign in the address of the page', 404, () => api.get('/api/%25')],
    ['a document nested without end', 400, () => api.post(stages()).set(json).send(`{"document":${deep}}`)],
    ['a broken gzip body', 400, () => api.post('/api/projects').set({ ...json, 'Content-Encoding': 'gzip' }).send('no gzip')],
    ['a cut gzip body', 400, () => api.post('/api/projects').set({ ...json, 'Content-Encoding': 'gzip' }).send(gzipSync('{"name":"x"}').subarray(0, 12).toString('latin1'))],
    ['an unknown encoding', 400, () => api.post('/api/projects').set({ ...json, 'Content-Encoding': 'rot13' }).send('x')],
  ])('%s', async (_, status, send) => {
    const answer = await send();
    expect([answer.status, answer.headers['content-type']]).toEqual([
      status,
      expect.stringContaining('application/problem+json'),
    ]);
    expect((contentOf(answer) as { detail: string }).detail).toMatch(/[a-z].*\.$/);
  }); // prettier-ignore

  test.each([2 ** 31, 2 ** 53, 0, -1, 1.5])('revision %d is refused before the database sees it', async (revision) => {
    const made = contentOf(await api.post(stages()).send({ document: hull })) as { id: string };
    const answer = await api.put(`/api/stages/${made.id}`).send({ revision, document: hull });
    expect(answer.status).toBe(400);
  });

  test('a hundred thousand unknown keys are refused in a short answer', async () => {
    const many = Object.fromEntries(Array.from({ length: 40_000 }, (_, k) => [`k${String(k)}`, 0]));
    const answer = await api.post(stages()).send({ document: { ...hull, ...many } });
    expect(answer.status).toBe(400);
    expect(answer.text.length).toBeLessThan(10_000);
  });

  test('a stage whose resistance is next to nothing is refused by its quantity', async () => {
    const document = { ...hull, parts: { ...hull.parts, highSide: { onResistance: 5e-324 } } };
    const answer = await api.post(stages()).send({ document });
    expect(answer.status).toBe(400);
    expect((contentOf(answer) as { detail: string }).detail).toContain('must be at least 1\u2009pΩ, or 0');
  });
});

describe('what Node refuses by itself carries a sentence', () => {
  let server: Server;
  let port: number;
  beforeAll(async () => {
    server = createServer((_request, response) => response.end('fine'));
    answerInSentences(server);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    ({ port } = server.address() as AddressInfo);
  });
  afterAll(() => void server.close());

  const raw = (text: string): Promise<string> =>
    new Promise((resolve) => {
      let answer = '';
      const socket = connect(port, '127.0.0.1', () => socket.write(text));
      socket.on('data', (chunk) => (answer += chunk.toString()));
      socket.on('close', () => resolve(answer));
      socket.on('error', () => resolve(answer));
    });

  test.each([
    ['nonsense', 'HELO there\r\n\r\n', 400, 'is not HTTP'],
    ['a header of 40 kB', `GET / HTTP/1.1\r\nHost: x\r\nX: ${'x'.repeat(40_000)}\r\n\r\n`, 431, 'headers of the request are too large'],
  ])('%s', async (_, text, status, sentence) => {
    const answer = await raw(text);
    expect(answer).toContain(`HTTP/1.1 ${String(status)} `);
    expect(answer).toContain('application/problem+json');
    expect(answer).toContain(sentence);
  }); // prettier-ignore
  test('an expectation it does not keep', async () => {
    const answer = await new Promise<{ status: number | undefined; text: string }>((resolve, reject) => {
      const asked = httpRequest({ port, host: '127.0.0.1', headers: { Expect: 'a miracle' } }, (response) => {
        let text = '';
        response.on('data', (chunk: Buffer) => (text += chunk.toString()));
        response.on('end', () => resolve({ status: response.statusCode, text }));
      });
      asked.on('error', reject);
      asked.end();
    });
    expect(answer).toEqual({ status: 417, text: expect.stringContaining('no other expectation') });
  });
});

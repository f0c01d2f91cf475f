import { describe, expect, test } from '@jest/globals';
import { USUAL_INSTRUMENTS, type BenchRun, type BenchRunRow } from '@yundro/core';
import { ProblemError } from '../api/client';
import { RunSaver, type Saving } from './runSaver';
import { emptyRun } from './emptyRun';

const run = (notes: string): BenchRun =>
  emptyRun({ kind: 'log', title: 'Readings', serial: '', ambient: 23, instruments: USUAL_INSTRUMENTS, notes });
const id = '00000000-0000-4000-8000-000000000001';
const row = (revision: number, of: BenchRun): BenchRunRow => ({ id, stageId: id, revision, run: of });

/** A server that counts revisions and answers when it is told to. */
function slowServer() {
  const asked: { readonly revision: number; readonly run: BenchRun; readonly answer: () => void }[] = [];
  let stored = 4;
  const save = (revision: number, of: BenchRun): Promise<BenchRunRow> =>
    new Promise((resolve, reject) => {
      asked.push({
        revision,
        run: of,
        answer: () => {
          if (revision === stored) {
            stored += 1;
            resolve(row(stored, of));
          } else
            reject(
              new ProblemError({
                type: '/problems/conflict',
                title: '',
                status: 409,
                detail: 'changed',
                current: row(stored, run('theirs')),
              }),
            );
        },
      });
    });
  const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 1));
  return { asked, save, settle, change: () => (stored += 1) };
}

describe('what is typed while a save is under way', () => {
  test('goes with the next one, from the revision that the last made; what came between is in it', async () => {
    const server = slowServer();
    const told: Saving[] = [];
    const saver = new RunSaver(server.save, (state) => told.push(state));
    saver.put(run('a'), 4);
    saver.put(run('ab'), 4);
    saver.put(run('abc'), 4);
    expect(server.asked).toHaveLength(1);
    server.asked[0]?.answer();
    await server.settle();
    expect(server.asked.map(({ revision, run: { notes } }) => [revision, notes])).toEqual([
      [4, 'a'],
      [5, 'abc'],
    ]);
    expect(told).toEqual([]);
    server.asked[1]?.answer();
    await server.settle();
    expect(told).toEqual([{ kind: 'saved', row: expect.objectContaining({ revision: 6 }) }]);
  });

  test('is kept where the run was changed meanwhile, with the newer version, and can be sent over it', async () => {
    const server = slowServer();
    const told: Saving[] = [];
    const saver = new RunSaver(server.save, (state) => told.push(state));
    server.change();
    saver.put(run('mine'), 4);
    server.asked[0]?.answer();
    await server.settle();
    const [failed] = told;
    expect(failed?.kind === 'failed' && failed.newer?.run.notes).toBe('theirs');
    saver.again(failed?.kind === 'failed' ? failed.newer?.revision : undefined);
    server.asked[1]?.answer();
    await server.settle();
    expect(server.asked[1]?.run.notes).toBe('mine');
    expect(told[1]?.kind).toBe('saved');
  });
});

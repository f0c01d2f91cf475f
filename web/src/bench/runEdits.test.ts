import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { USUAL_INSTRUMENTS, type BenchRun, type BenchRunRow } from '@yundro/core';
import { ProblemError, api } from '../api/client';
import { emptyRun } from './emptyRun';
import { enter, letGo, saveAgain, saveLeft, useRunEdits } from './runEdits';

const run = (notes: string): BenchRun =>
  emptyRun({ kind: 'log', title: 'Readings', serial: '', ambient: 23, instruments: USUAL_INSTRUMENTS, notes });
const rowOf = (id: string, revision: number, of: BenchRun): BenchRunRow => ({ id, stageId: id, revision, run: of });
const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 2));

/** What the server holds of each run; a save from another revision is refused with what it holds. */
const held = new Map<string, BenchRunRow>();
let away = false;
let next = 0;
const newRun = (): BenchRunRow => {
  next += 1;
  const id = `00000000-0000-4000-8000-${String(next).padStart(12, '0')}`;
  const row = rowOf(id, 1, run('as saved'));
  held.set(id, row);
  return row;
};

beforeEach(() => {
  away = false;
  jest.spyOn(api, 'saveRun').mockImplementation((id, revision, of) => {
    const current = held.get(id);
    if (away || !current) return Promise.reject(new Error('The server does not answer.'));
    if (current.revision !== revision)
      return Promise.reject(
        new ProblemError({ type: '/problems/conflict', title: '', status: 409, detail: 'changed', current }),
      );
    const row = rowOf(id, revision + 1, of);
    held.set(id, row);
    return Promise.resolve(row);
  });
});
afterEach(() => {
  jest.restoreAllMocks();
});
const editOf = (id: string) => useRunEdits.getState().edits[id];

describe('what is entered into a run', () => {
  test('stands at once, is saved, and is an entry no more', async () => {
    const row = newRun();
    const told: number[] = [];
    enter(row, run('mine'), ({ revision }) => told.push(revision));
    expect(editOf(row.id)?.run.notes).toBe('mine');
    await settle();
    expect(held.get(row.id)?.run.notes).toBe('mine');
    expect([editOf(row.id), told]).toEqual([undefined, [2]]);
  });

  test('is kept where the server does not answer, and sent again when that is asked for', async () => {
    const row = newRun();
    away = true;
    enter(row, run('mine'), () => undefined);
    await settle();
    expect(editOf(row.id)?.failed).toBeDefined();
    expect(editOf(row.id)?.run.notes).toBe('mine');
    away = false;
    saveAgain(row.id, () => undefined);
    expect(editOf(row.id)?.failed).toBeUndefined();
    await settle();
    expect(held.get(row.id)?.run.notes).toBe('mine');
    expect(editOf(row.id)).toBeUndefined();
  });

  test('does not overwrite what another page has saved; it is sent over it where that is meant', async () => {
    const row = newRun();
    held.set(row.id, rowOf(row.id, 7, run('theirs')));
    enter(row, run('mine'), () => undefined);
    await settle();
    expect(held.get(row.id)?.run.notes).toBe('theirs');
    const newer = editOf(row.id)?.failed?.newer;
    expect(newer?.run.notes).toBe('theirs');
    saveAgain(row.id, () => undefined, newer?.revision);
    await settle();
    expect(held.get(row.id)).toMatchObject({ revision: 8, run: { notes: 'mine' } });
  });

  test('is let go of where theirs is kept', async () => {
    const row = newRun();
    held.set(row.id, rowOf(row.id, 7, run('theirs')));
    enter(row, run('mine'), () => undefined);
    await settle();
    letGo(row.id);
    await settle();
    expect(editOf(row.id)).toBeUndefined();
    expect(held.get(row.id)?.run.notes).toBe('theirs');
  });

  test('that an earlier page left is saved from the revision it began from, once', async () => {
    const row = newRun();
    useRunEdits.setState({ edits: { [row.id]: { run: run('left'), revision: 1 } } });
    saveLeft(row.id, () => undefined);
    saveLeft(row.id, () => undefined);
    await settle();
    expect(held.get(row.id)).toMatchObject({ revision: 2, run: { notes: 'left' } });
    expect(editOf(row.id)).toBeUndefined();
  });

  test('that an earlier page left and another has overtaken is told of, and can be sent over it', async () => {
    const row = newRun();
    held.set(row.id, rowOf(row.id, 5, run('theirs')));
    useRunEdits.setState({ edits: { [row.id]: { run: run('left'), revision: 1 } } });
    saveLeft(row.id, () => undefined);
    await settle();
    expect(editOf(row.id)?.failed?.newer?.revision).toBe(5);
    expect(held.get(row.id)?.run.notes).toBe('theirs');
    saveAgain(row.id, () => undefined, 5);
    await settle();
    expect(held.get(row.id)?.run.notes).toBe('left');
  });
});

import { beforeEach, describe, expect, jest, test } from '@jest/globals';

const kept = new Map<string, string>();
let full = false;
Object.assign(globalThis, {
  localStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => {
      if (full) throw new Error('full');
      kept.set(key, text);
    },
    removeItem: (key: string) => kept.delete(key),
  },
});
/** What the components see is what is kept. */
const stored = (): Record<string, { id: string; words: string; taken?: string; points: unknown[] }[]> =>
  JSON.parse([...kept.values()][0] ?? '{}') as ReturnType<typeof stored>;

const { addTrace, changeTrace, drawnTrace, MOST_TRACES, removeTrace } = await import('./traces');
const point = { frequency: 1e3, value: { re: 1, im: -1 } };
const held = (words: string) => ({ words, kind: 'held' as const, points: [point] });

beforeEach(() => {
  full = false;
  for (const [stage, traces] of Object.entries(stored())) for (const { id } of traces) removeTrace(stage, id);
});

describe('traces laid over the loop', () => {
  test('are kept by stage, and the oldest goes where there are too many', () => {
    for (let k = 0; k <= MOST_TRACES; k += 1) addTrace('a', held(`trace ${String(k)}`));
    addTrace('b', held('other'));
    expect(stored()['a']?.map(({ words }) => words)).toEqual(['trace 1', 'trace 2', 'trace 3', 'trace 4']);
    expect(stored()['b']).toHaveLength(1);
  });
  test('read otherwise, one is the same with other points', () => {
    const id = addTrace('a', { ...held('measured'), kind: 'measured' });
    const other = addTrace('a', held('held'));
    changeTrace('a', id, { taken: 'out over in', points: [] });
    expect(stored()['a']).toMatchObject([
      { id, words: 'measured', taken: 'out over in', points: [] },
      { id: other, points: [point] },
    ]);
  });
  test('the last one taken away leaves nothing behind', () => {
    const id = addTrace('a', held('one'));
    removeTrace('a', id);
    expect(stored()).toEqual({});
  });
  test('where storage is full they last as long as the page', () => {
    full = true;
    expect(() => addTrace('a', held('one'))).not.toThrow();
    expect(stored()).toEqual({});
  });
  test('what storage holds of another making is not read', async () => {
    full = false;
    kept.set('yundro-loop-traces', '7');
    jest.resetModules();
    const again = await import('./traces');
    expect(() => again.addTrace('a', held('one'))).not.toThrow();
  });
  test('is drawn point by point, in its own style', () => {
    expect(drawnTrace({ ...held('one'), id: '1' })).toEqual({
      words: 'one',
      frequencies: [1e3],
      values: [{ re: 1, im: -1 }],
      style: 'trace',
    });
  });
});

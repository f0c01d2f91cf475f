import { beforeEach, describe, expect, test } from '@jest/globals';
import { stageSchema } from '@yundro/core';
import { clearDraft, keepDraft, keepTexts, readDraft, readTexts } from './draft';

const kept = new Map<string, string>();
let forbidden = false;
Object.assign(globalThis, {
  localStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => {
      if (forbidden) throw new Error('forbidden');
      kept.set(key, text);
    },
    removeItem: (key: string) => kept.delete(key),
  },
});
beforeEach(() => {
  kept.clear();
  forbidden = false;
});

const document = stageSchema.parse({
  format: 'yundro-stage',
  version: 1,
  topology: 'boost',
  targets: { inputVoltage: { min: 5, max: 6 }, outputVoltage: 12, outputCurrent: { max: 1 } },
});

describe('edits kept in the browser', () => {
  test('come back with the revision they began from, each stage by itself', () => {
    keepDraft('a', { revision: 3, document });
    expect(readDraft('a')).toEqual({ revision: 3, document });
    expect(readDraft('b')).toBeUndefined();
    clearDraft('a');
    expect(readDraft('a')).toBeUndefined();
  });
  test('what is no stage of this version is not taken for one', () => {
    for (const text of ['', '7', '{"revision":1}', '{"revision":"1","document":{}}', '{not json']) {
      kept.set('yundro.unsaved.a', text);
      expect(readDraft('a')).toBeUndefined();
    }
  });
  test('a store that is full or forbidden costs nothing but this safety net', () => {
    forbidden = true;
    expect(() => keepDraft('a', { revision: 1, document })).not.toThrow();
    expect(() => keepTexts('a', [{ path: ['name'], text: 'x', meant: true }])).not.toThrow();
    expect(readDraft('a')).toBeUndefined();
  });
});

describe('texts that are not the design', () => {
  const texts = [
    { path: ['parts', 'outputCapacitors', 0, 'esr'], text: '3x', meant: true },
    { path: ['targets', 'outputVoltage'], text: '1', meant: false },
  ];
  test('come back as they were typed, and none are forgotten by an empty list', () => {
    keepTexts('a', texts);
    expect(readTexts('a')).toEqual(texts);
    keepTexts('a', []);
    expect(readTexts('a')).toEqual([]);
    expect(kept.size).toBe(0);
  });
  test('what is none is left out', () => {
    kept.set(
      'yundro.texts.a',
      JSON.stringify([texts[0], null, { path: 'x', text: 'y', meant: true }, { path: [1] }, 5]),
    );
    expect(readTexts('a')).toEqual([texts[0]]);
    kept.set('yundro.texts.a', '"text"');
    expect(readTexts('a')).toEqual([]);
  });
});

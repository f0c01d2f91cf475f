import { describe, expect, test } from '@jest/globals';
import { PART_BATCH } from '@yundro/core';
import { batchesOf, csvOf, tableFromFile } from './partFiles';

describe('batches of an import', () => {
  test('hold every part once and in order, no more than the server takes at a time', () => {
    const parts = Array.from({ length: 2 * PART_BATCH + 1 }, (_, i) => ({ name: String(i) }));
    const batches = batchesOf(parts);
    expect(batches.map(({ length }) => length)).toEqual([PART_BATCH, PART_BATCH, 1]);
    expect(batches.flat()).toEqual(parts);
  });
  test('stay below the size of a request, however long the parts are', () => {
    const parts = Array.from({ length: 900 }, (_, i) => ({ name: String(i), notes: 'x'.repeat(2000) }));
    const batches = batchesOf(parts);
    expect(batches.length).toBeGreaterThan(2);
    for (const batch of batches) expect(JSON.stringify(batch).length).toBeLessThan(1e6);
    expect(batches.flat()).toEqual(parts);
  });
});

describe('files of parts', () => {
  const file = (name: string, text: string) => new File([text], name);
  test('CSV and JSON become the same rows of text', async () => {
    const csv = await tableFromFile('diode', file('d.csv', 'name,forwardVoltage\nD1,0.4\n\n'));
    const json = await tableFromFile('diode', file('d.json', '{"parts":[{"name":"D1","forwardVoltage":0.4}]}'));
    expect(csv.rows).toEqual([{ name: 'D1', forwardVoltage: '0.4' }]);
    expect(json.rows).toEqual(csv.rows);
    expect(json.headings).toEqual(csv.headings);
  });
  test.each(['=1+1', '@SUM(A1)', '+cmd', '-cmd|x', '\tx'])(
    '%j is marked as text for spreadsheets, and read back as it was',
    async (name) => {
      const csv = csvOf(['name', 'forwardVoltage'], [[name, '0.4']]);
      expect(csv.split('\r\n')[1]).toMatch(/^"?'/);
      const { rows } = await tableFromFile('diode', file('d.csv', csv));
      expect(rows).toEqual([{ name, forwardVoltage: '0.4' }]);
    },
  );
  test.each(['-0.003', '+5', '-1e-9', '.5', "it's"])('%j runs nowhere and stays as it is', (cell) => {
    expect(csvOf(['name', 'x'], [['a', cell]]).split('\r\n')[1]).toBe(`a,${cell}`);
  });
  test('a decimal comma of a semicolon file is read', async () => {
    const { rows } = await tableFromFile('diode', file('d.csv', 'name;forwardVoltage\nD1;0,4\n'));
    expect(rows).toEqual([{ name: 'D1', forwardVoltage: '0,4' }]);
  });
  test('what the library does not know still has a column, so that it is seen to be left out', async () => {
    const { headings } = await tableFromFile('diode', file('d.json', '[{"name":"D1","colour":"blue"}]'));
    expect(headings).toEqual(['name', 'colour']);
  });
  test.each([
    ['empty.csv', '', 'holds no table'],
    ['word.json', '{"parts": 3}', 'holds no list of parts'],
    ['half.json', '[{', 'is not complete'],
  ])('%s is refused with a sentence', async (name, text, sentence) => {
    await expect(tableFromFile('diode', file(name, text))).rejects.toThrow(sentence);
  });
});

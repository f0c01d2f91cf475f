import { describe, expect, test } from '@jest/globals';
import { PDFDocument } from 'pdf-lib';
import { broken, sheetPdf } from './sheetPdf';

describe('a sheet as PDF', () => {
  test('is one of A4 pages with its title, whatever letters stand in it', async () => {
    const bytes = await sheetPdf({
      title: 'Choke for “Pump”',
      sections: [{ heading: 'Winding', lines: [['turns', '12'], ['resistance', '8.0\u202fmΩ'], 'Keep away − 漢'] }],
    });
    const read = await PDFDocument.load(bytes);
    expect(read.getPageCount()).toBe(1);
    expect(read.getTitle()).toBe('Choke for "Pump"');
    const { width, height } = read.getPage(0).getSize();
    expect([Math.round(width), Math.round(height)]).toEqual([595, 842]);
  });
  test('goes on over as many pages as it takes', async () => {
    const lines = Array.from({ length: 120 }, (_, k) => `line ${String(k)}`);
    const read = await PDFDocument.load(await sheetPdf({ title: 'Long', sections: [{ heading: 'All', lines }] }));
    expect(read.getPageCount()).toBe(3);
  });
  test('words are broken where a line is full, and none is lost', () => {
    const text = 'one two three four five six';
    const lines = broken(text, 9, (one) => one.length);
    expect(lines).toEqual(['one two', 'three', 'four five', 'six']);
    expect(lines.join(' ')).toBe(text);
    // A word that is longer than the line stands alone.
    expect(broken('a immeasurable b', 5, (one) => one.length)).toEqual(['a', 'immeasurable', 'b']);
  });
});

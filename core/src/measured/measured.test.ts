import { describe, expect, test } from '@jest/globals';
import { decibels, degreesOf } from '../linalg/complex.js';
import { readResponse, type ReadResponse } from './readResponse.js';
import { loopCsv, responseCsv } from './responseCsv.js';

function read(text: string, convention?: 'margin'): ReadResponse {
  const found = readResponse(text, convention && { convention });
  if (typeof found === 'string') throw new Error(found);
  return found;
}
const written = ({ points }: ReadResponse) =>
  points.map(({ frequency, value }) => [
    frequency,
    Number(decibels(value).toFixed(3)),
    Number(degreesOf(value).toFixed(3)),
  ]);
const EXPECTED = [
  [100, 40, -90],
  [1000, 20.5, -95.25],
  [10000, -0.5, -128],
];

describe('a measured response', () => {
  test.each([
    ['commas', 'Frequency (Hz),Gain (dB),Phase (deg)\n100,40,-90\n1000,20.5,-95.25\n10000,-0.5,-128\n'],
    ['semicolons and decimal commas', 'f;dB;°\r\n100;40,0;-90\r\n1000;20,5;-95,25\r\n1e4;-0,5;-128\r\n'],
    ['tabs without a heading', '100\t40\t-90\n1000\t20.5\t-95.25\n10000\t-0.5\t-128'],
    ['spaces with remarks', '# swept today\n 100  40 -90\n# half way\n1000 20.5   -95.25\n10000 -0.5 -128\n'],
    ['other order, kHz', 'Phase (deg),Mag (dB),Freq (kHz)\n-90,40,0.1\n-95.25,20.5,1\n-128,-0.5,10\n'],
    [
      'quotes, descending',
      '"Frequency","Gain","Phase"\n"10000","-0.5","-128"\n"1000","20.5","-95.25"\n"100","40","-90"\n',
    ],
    [
      'radians',
      `frequency,gain,phase (rad)\n${EXPECTED.map(([f = 0, g = 0, p = 0]) => [f, g, (p * Math.PI) / 180].join(',')).join('\n')}\n`,
    ],
  ])('%s', (_, text) => {
    expect(written(read(text))).toEqual(EXPECTED);
  });
  test('a phase shown as margin has 180° taken off', () => {
    expect(written(read('1,0,52\n10,-20,90', 'margin'))).toEqual([
      [1, 0, -128],
      [10, -20, -90],
    ]);
  });
  test.each([
    ['no numbers here', /no line that begins with a number/],
    ['100,40,-90\n0,20,-90', /^Line 2 has the frequency “0”; it must be a number above 0 Hz\.$/],
    ['100,40,-90\n200,loud,-90', /^Line 2 has the gain “loud”/],
    ['100,40,-90\n200,40', /^Line 2 has the phase “”/],
    ['100,40,-90', /fewer than two points/],
  ])('%j is refused with a sentence', (text, sentence) => {
    expect(readResponse(text)).toMatch(sentence);
  });
  test('how the text was taken is told', () => {
    expect(read('f;dB;deg\n100;40,5;-90\n200;30,5;-95').taken).toBe(
      '2 points, semicolons between, decimal comma, columns by their headings',
    );
  });
  test('a loop that Yundro wrote is read back as the loop, not as the plant in its first columns', () => {
    const at = (re: number) => ({ re, im: 0 });
    const point = (frequency: number, loop: number) => ({
      ...{ frequency, plant: at(3), compensator: at(5), loop: at(loop) },
      ...{ outputImpedance: at(0.1), line: at(0.01), inductorCurrent: at(2) },
    });
    const found = read(loopCsv([point(100, 10), point(1000, 0.1)]));
    expect(found.points.map(({ value }) => Number(value.re.toFixed(9)))).toEqual([10, 0.1]);
    expect(found.headings[found.columns.gain]).toBe('loop gain (dB)');
    expect(found.headings[found.columns.phase]).toBe('loop gain phase (degrees)');
    expect(found.taken).toContain('columns by their headings: loop');
  });
  test('other columns are taken when the designer names them', () => {
    const text = 'f (Hz),plant (dB),plant phase (deg),loop (dB),loop phase (deg)\n1,20,0,40,-90\n10,0,-10,-20,-100';
    const taken = readResponse(text, { columns: { frequency: 0, gain: 1, phase: 2 } });
    if (typeof taken === 'string') throw new Error(taken);
    expect(taken.points[0]?.value.re).toBeCloseTo(10, 9);
    expect(taken.taken).toContain(': plant');
  });
  test('a comma that may mean either: which was taken is said, and the other is had for the asking', () => {
    const text = '1,000;20;-90\n2,000;10;-100';
    const found = read(text);
    expect(found.points.map(({ frequency }) => frequency)).toEqual([1, 2]);
    expect(found.commas).toEqual({ meaning: 'decimal', example: '1,000' });
    const other = readResponse(text, { commas: 'thousands' });
    expect(typeof other === 'object' && other.points.map(({ frequency }) => frequency)).toEqual([1000, 2000]);
  });
  test('one clear comma in the file settles the others', () => {
    const found = read('1,000;20,5;-90\n2,000;10;-100');
    expect([found.points[0]?.frequency, found.commas]).toEqual([1, undefined]);
    expect(read('1,234.5;20;-90\n2,000;10;-100').points[1]?.frequency).toBe(2000);
  });
  test('what is written is read back', () => {
    const { points } = read('100,40,-90\n1000,20.5,-170\n10000,-0.5,-200');
    const text = responseCsv(
      points.map(({ frequency }) => frequency),
      [{ words: 'loop', values: points.map(({ value }) => value) }],
    );
    expect(text.split('\n')[0]).toBe('frequency (Hz),loop (dB),loop phase (degrees)');
    expect(text).toMatch(/-(?:200|199\.99)/);
    const again = read(text);
    again.points.forEach(({ frequency, value }, k) => {
      expect(frequency).toBe(points[k]?.frequency);
      expect(value.re).toBeCloseTo(points[k]?.value.re ?? NaN, 9);
    });
  });
});

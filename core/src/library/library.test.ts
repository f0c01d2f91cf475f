import { describe, expect, test } from '@jest/globals';
import { genericParts } from './genericParts.js';
import { LIBRARY_SCHEMAS, PART_KINDS, partColumns } from './libraryPart.js';
import { commasOfRows, partCells, readPartRows, suggestedMapping } from './readPartRows.js';

const generic = genericParts();

describe('generic parts', () => {
  test.each(PART_KINDS)('%s: each fits the schema of its kind and has a name of its own', (kind) => {
    const parts: readonly { readonly name: string }[] = generic[kind];
    for (const part of parts) expect(LIBRARY_SCHEMAS[kind].safeParse(part)).toMatchObject({ success: true });
    expect(new Set(parts.map(({ name }) => name)).size).toBe(parts.length);
  });
  test('within a size of choke, more inductance is more resistance and less current; a larger choke is better at both', () => {
    const of = (name: string) => {
      const part = generic.inductor.find((one) => one.name === name);
      if (!part) throw new Error(`no ${name}`);
      return part;
    };
    const [small, more, larger] = [of('LX07-4u7'), of('LX07-10u'), of('LX10-4u7')];
    expect(more.resistance).toBeGreaterThan(small.resistance);
    expect(more.saturationCurrent).toBeLessThan(small.saturationCurrent ?? 0);
    expect(larger.resistance).toBeLessThan(small.resistance);
    expect(larger.saturationCurrent).toBeGreaterThan(small.saturationCurrent ?? Infinity);
  });
  test('a switch of a voltage class trades on-resistance for gate charge at one figure of merit', () => {
    const merits = generic.mosfet
      .filter(({ drainSourceVoltageMax }) => drainSourceVoltageMax === 40)
      .map(({ onResistance, gateCharge }) => onResistance * (gateCharge ?? NaN));
    expect(Math.max(...merits) / Math.min(...merits)).toBeLessThan(1.01);
  });
});

describe('reading rows', () => {
  test.each(PART_KINDS)('%s: what is written as cells is read as the same parts', (kind) => {
    const parts: readonly Readonly<Record<string, unknown>>[] = generic[kind];
    const rows = parts.map((part) => partCells(kind, part));
    const mapping = suggestedMapping(kind, Object.keys(rows[0] ?? {}));
    expect(readPartRows(kind, rows, mapping)).toEqual({ parts, refused: [] });
  });
  test('headings are found by name or by words, with their unit in brackets', () => {
    const headings = ['Name', 'Inductance [µH]', 'inductor resistance (mΩ)', 'Saturation Current', 'colour'];
    const mapping = suggestedMapping('inductor', headings);
    expect(mapping).toEqual({
      Name: 'name',
      'Inductance [µH]': 'inductance',
      'inductor resistance (mΩ)': 'resistance',
      'Saturation Current': 'saturationCurrent',
    });
    const row = {
      Name: 'one',
      'Inductance [µH]': '6.8',
      'inductor resistance (mΩ)': '8',
      'Saturation Current': '16 A',
      colour: 'blue',
    };
    const { parts, refused } = readPartRows('inductor', [row], mapping);
    expect(refused).toEqual([]);
    expect(parts[0]?.inductance).toBeCloseTo(6.8e-6, 12);
    expect(parts[0]).toMatchObject({ name: 'one', resistance: 0.008, saturationCurrent: 16 });
  });
  test('every fault names its row and column, and a row with one is refused whole', () => {
    const rows = [
      { name: 'good', inductance: '1u', resistance: '1m' },
      { name: '', inductance: '1u', resistance: '1m' },
      { name: 'word', inductance: 'large', resistance: '1m' },
      { name: 'negative', inductance: '-1u', resistance: '1m' },
      { name: 'none', inductance: '', resistance: '1m' },
      { name: 'good', inductance: '2u', resistance: '1m' },
      { name: 'curve', inductance: '2u', resistance: '1m', inductanceCurve: '0:1u' },
    ];
    const mapping = suggestedMapping('inductor', ['name', 'inductance', 'resistance', 'inductanceCurve']);
    const { parts, refused } = readPartRows('inductor', rows, mapping);
    expect(parts.map(({ name }) => name)).toEqual(['good']);
    expect(refused.map(({ row, column }) => [row, column])).toEqual([
      [3, 'name'],
      [4, 'inductance'],
      [5, 'inductance'],
      [6, 'inductance'],
      [7, 'name'],
      [8, 'inductanceCurve'],
    ]);
    expect(refused[1]?.sentence).toBe('“large” cannot be read as inductance in H.');
    for (const { sentence } of refused) expect(sentence).toMatch(/\.$/);
  });
  test('decimal commas are understood; what may be a thousand is asked about once for the file', () => {
    const rows = [{ name: 'one', inductance: '4,7u', resistance: '0,125', inductanceCurve: '0:1e-6; 1,5:8e-7' }];
    const mapping = suggestedMapping('inductor', Object.keys(rows[0] ?? {}));
    const read = readPartRows('inductor', rows, mapping);
    expect(read.parts[0]).toMatchObject({ inductance: 4.7e-6, resistance: 0.125 });
    expect(read.parts[0]?.inductanceCurve?.[1]).toEqual([1.5, 8e-7]);
    const doubtful = [{ name: 'two', inductance: '1,000 µH', resistance: '1m', inductanceCurve: '' }];
    expect(commasOfRows('inductor', doubtful, mapping)).toEqual({ settled: undefined, ambiguous: '1,000 µH' });
    expect(readPartRows('inductor', doubtful, mapping).refused[0]?.sentence).toContain('may mean either');
    expect(readPartRows('inductor', doubtful, mapping, 'decimal').parts[0]?.inductance).toBe(1e-6);
    expect(readPartRows('inductor', doubtful, mapping, 'thousands').parts[0]?.inductance).toBe(1e-3);
  });
  test('a heading of fifty thousand spaces is looked through once', () => {
    const heading = `inductance${' '.repeat(50_000)}(`;
    const started = performance.now();
    suggestedMapping('inductor', [heading]);
    expect(performance.now() - started).toBeLessThan(200);
  });
  test.each([5, 'text', { a: 1 }, [1, 2], [['a']]])('a curve that is %j goes into its cell as it is', (curve) => {
    const cells = partCells('inductor', { name: 'x', inductanceCurve: curve });
    const read = readPartRows('inductor', [{ ...cells, inductance: '1u' }], suggestedMapping('inductor', ['name', 'inductance', 'inductanceCurve'])); // prettier-ignore
    expect(read.refused[0]?.sentence).toMatch(/is not a curve; write its points as/);
  });
  test('the columns say what is needed and in which unit', () => {
    const columns = partColumns('mosfet');
    expect(columns[0]).toMatchObject({ key: 'name', required: true });
    expect(columns.find(({ key }) => key === 'gateCharge')).toMatchObject({ meta: { unit: 'C' }, required: false });
  });
});

import { describe, expect, test } from '@jest/globals';
import { remainingAtBias } from '../parts/capacitorBank.js';
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
  test('about as many as a stock list of one distributor has of each kind', () => {
    expect(generic.mosfet.length).toBeGreaterThan(300);
    expect(generic.inductor.length).toBeGreaterThan(300);
    expect(generic.capacitor.length).toBeGreaterThan(350);
    expect(generic.diode.length).toBeGreaterThan(60);
  });
});

/** Of a figure over some parts: its 90th percentile over its 10th. */
function spread(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number): number => sorted[Math.floor(share * (sorted.length - 1))] ?? NaN;
  return at(0.9) / at(0.1);
}
const silicon = generic.mosfet.filter(({ name }) => /^M[QR]/.test(name));
const rated = (volts: number) => silicon.filter(({ drainSourceVoltageMax }) => drainSourceVoltageMax === volts);

describe('generic switches hang together', () => {
  test('the gate charge has room for its parts, and the drive for the plateau', () => {
    for (const part of generic.mosfet) {
      const { gateCharge = 0, gateDrainCharge = 0, gateSourceCharge = 0 } = part;
      expect(gateDrainCharge + gateSourceCharge).toBeLessThan(gateCharge);
      expect(part.thresholdVoltage).toBeLessThan(part.plateauVoltage ?? 0);
      expect(part.plateauVoltage).toBeLessThan((part.gateDriveVoltage ?? 0) - 1);
    }
  });
  test('products of on-resistance and charge rise with the voltage class, and spread within one', () => {
    const products = (volts: number, charge: 'gateCharge' | 'outputCharge' | 'recoveryCharge') =>
      rated(volts).map((part) => part.onResistance * (part[charge] ?? NaN));
    const middle = (values: readonly number[]): number =>
      [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;
    for (const charge of ['gateCharge', 'outputCharge', 'recoveryCharge'] as const) {
      const along = [30, 40, 60, 80, 100, 150, 200, 250].map((volts) => middle(products(volts, charge)));
      along.forEach((value, i) => i > 0 && expect(value).toBeGreaterThan((along[i - 1] ?? 0) * 0.95));
      expect(spread(products(100, charge))).toBeGreaterThan(1.5);
    }
    // From memory of real silicon of the day: some 200 mΩ nC at 100 V, 600 at 200 V, 4,700 at 650 V.
    expect(Math.abs(middle(products(100, 'gateCharge')) / 190e-12 - 1)).toBeLessThan(0.2);
    expect(Math.abs(middle(products(200, 'gateCharge')) / 585e-12 - 1)).toBeLessThan(0.2);
  });
  test('plain silicon does not beat the limit of its material by far (B. J. Baliga: 5.93e-9 V^2.5 Ω cm²)', () => {
    // Charge-balanced dies lie below the line of plain silicon from 40 V on, but by no more than a factor of five.
    for (const { drainSourceVoltageMax: volts = 0, onResistance, junctionToCase = 1 } of silicon) {
      const die = ((junctionToCase - 0.1) / 10) ** (-1 / 0.9);
      const limit = 5.93e-9 * volts ** 2.5 * 100;
      expect(onResistance * die).toBeGreaterThan(limit / 5);
    }
  });
  test('output energy is that of one capacitance that falls with the voltage', () => {
    for (const { name, outputCharge = 0, outputEnergy = 0, outputChargeVoltage = 1 } of generic.mosfet) {
      const share = outputEnergy / (outputCharge * outputChargeVoltage);
      if (/^M[ST]/.test(name)) expect(share).toBeCloseTo(0.05, 2);
      else {
        expect(share).toBeGreaterThan(0.2);
        expect(share).toBeLessThan(0.45);
      }
    }
  });
  test('heat: the case is nearer than the air, and no die lies in a case it has no room in', () => {
    for (const { junctionToCase = 0, junctionToAmbient = 0 } of generic.mosfet) {
      expect(junctionToAmbient).toBeGreaterThan(junctionToCase + 15);
      expect(junctionToAmbient).toBeGreaterThanOrEqual(40);
    }
  });
  test('at 10 A and 300 kHz from one in ten to half of a class are the best in loss, board and price together', () => {
    const weighed = rated(100).map((part) => ({
      loss: 100 * part.onResistance + 300e3 * (10 * (part.gateCharge ?? NaN) + 50 * (part.outputCharge ?? NaN)),
      area: (part.length ?? NaN) * (part.width ?? NaN),
      price: part.price ?? NaN,
    }));
    const best = weighed.filter(
      (one) =>
        !weighed.some(
          (other) => other !== one && other.loss <= one.loss && other.area <= one.area && other.price <= one.price,
        ),
    );
    expect(best.length / weighed.length).toBeGreaterThan(0.1);
    expect(best.length / weighed.length).toBeLessThanOrEqual(0.5);
  });
});

describe('generic chokes hang together', () => {
  const volume = ({ length = 0, width = 0, height = 0 }: (typeof generic.inductor)[number]): number =>
    length * width * height;
  const moulded = generic.inductor.filter(({ name }) => /^L[XY]/.test(name));
  test('energy for their volume: 1800 to 4500 J/m³ in moulded powder from 4 mm upward, 250 to 1500 in ferrite', () => {
    for (const part of generic.inductor.filter(({ couplingCoefficient }) => couplingCoefficient === undefined)) {
      const density = (part.inductance * (part.saturationCurrent ?? 0) ** 2) / volume(part);
      if (/^L[XY]/.test(part.name)) {
        expect(density).toBeGreaterThan(1500);
        expect(density).toBeLessThan(5000);
      } else {
        expect(density).toBeGreaterThan(250);
        expect(density).toBeLessThan(1700);
      }
    }
  });
  test('10 µH in 10 by 10 by 4 mm has 20 to 40 mΩ (from memory)', () => {
    for (const name of ['LX10-10u', 'LY10-10u']) {
      const part = moulded.find((one) => one.name === name);
      expect(part?.resistance).toBeGreaterThan(0.02);
      expect(part?.resistance).toBeLessThan(0.045);
    }
  });
  test('within a case, more inductance is more resistance and less current', () => {
    for (const mark of ['LX07', 'LX10', 'LD12'])
      generic.inductor
        .filter(({ name }) => name.startsWith(mark))
        .forEach((part, i, all) => {
          const two = all[i - 2];
          if (!two) return;
          expect(part.resistance).toBeGreaterThan(two.resistance);
          expect(part.saturationCurrent).toBeLessThan(two.saturationCurrent ?? 0);
        });
  });
  test('pairs: leakage of 50 nH to 1 µH, self-inductance up to five times that, 35 to 100 A, energy of both for the volume of ferrite (from memory)', () => {
    const pairs = generic.inductor.flatMap((part) =>
      part.couplingCoefficient === undefined ? [] : [{ ...part, k: part.couplingCoefficient }],
    );
    expect(pairs.length).toBeGreaterThanOrEqual(60);
    for (const part of pairs) {
      const leakage = (1 - part.k) * part.inductance;
      expect(leakage).toBeGreaterThan(45e-9);
      expect(leakage).toBeLessThan(1.1e-6);
      expect(part.inductance / leakage).toBeLessThanOrEqual(5.05);
      const current = part.saturationCurrent ?? NaN;
      expect(current).toBeGreaterThan(35);
      expect(current).toBeLessThan(100);
      // One or two turns: no better than the best blocks of one turn, and L/R of the leakage that of its body's copper.
      expect(part.resistance).toBeGreaterThan(0.12e-3);
      expect(leakage / part.resistance / (volume(part) * 1e6) ** (2 / 3)).toBeLessThan(600e-6);
      const density = (leakage * current ** 2) / volume(part);
      expect(density).toBeGreaterThan(250);
      expect(density).toBeLessThan(1700);
    }
    // The tighter the windings, the more self-inductance of the same leakage.
    const [loose, tight] = [0.4, 0.8].map((k) => pairs.find((one) => one.k === k && one.name.startsWith('LC11-100n')));
    expect((tight?.inductance ?? NaN) / (loose?.inductance ?? NaN)).toBeCloseTo(3, 1);
  });
  test('a curve never rises, and at the saturation current it has lost what the record says', () => {
    for (const { inductanceCurve, inductance, saturationCurrent, saturationDrop = 0 } of generic.inductor) {
      inductanceCurve?.forEach(([, value], i, all) => i > 0 && expect(value).toBeLessThanOrEqual(all[i - 1]?.[1] ?? 0));
      const there = inductanceCurve?.find(([current]) => current === saturationCurrent);
      if (there) expect(there[1] / inductance).toBeCloseTo(1 - saturationDrop, 2);
    }
  });
});

describe('generic capacitors hang together', () => {
  const ceramics = generic.capacitor.filter(({ kind }) => kind === 'ceramic');
  test('10 µF of 25 V at 12 V keeps about 39 % in 0805 and 63 % in 1206 (from memory)', () => {
    for (const [name, share] of [
      ['CK25-10u-0805', 0.39],
      ['CK25-10u-1206', 0.63],
    ] as const) {
      const part = ceramics.find((one) => one.name === name);
      if (!part) throw new Error(`no ${name}`);
      expect(Math.abs(remainingAtBias({ ...part, count: 1 }, 12) / share - 1)).toBeLessThan(0.2);
    }
  });
  test('bias takes more from what is fuller, and never gives back; the ESR is a loss tangent of class 2', () => {
    for (const { biasCurve = [], capacitance, esr } of ceramics) {
      biasCurve.forEach(([, share], i) => i > 0 && expect(share).toBeLessThanOrEqual(biasCurve[i - 1]?.[1] ?? 0));
      if (capacitance > 10e-6 || capacitance < 1e-6) continue;
      const tangent = 2 * Math.PI * 100e3 * capacitance * esr;
      expect(tangent).toBeGreaterThan(0.015);
      expect(tangent).toBeLessThan(0.06);
    }
  });
  test('no ceramic of 68 µF for 16 V, nor of 100 µF for 100 V: they are not made', () => {
    const most = (volts: number): number =>
      Math.max(...ceramics.flatMap(({ ratedVoltage, capacitance }) => (ratedVoltage === volts ? [capacitance] : [])));
    expect(most(16)).toBeLessThan(68e-6);
    expect(most(100)).toBeLessThanOrEqual(15e-6);
  });
  test('ESR times capacitance is of its kind: wet 4 to 150 µs, polymer and hybrid 0.2 to 9 µs', () => {
    for (const { kind, esr, capacitance, ratedVoltage = 0 } of generic.capacitor) {
      const time = esr * capacitance * 1e6;
      if (kind === 'electrolytic')
        expect([ratedVoltage, time > 4 && time < (ratedVoltage > 100 ? 220 : 150)]).toEqual([ratedVoltage, true]);
      if (kind === 'polymer') expect([ratedVoltage, time > 0.1 && time < 14]).toEqual([ratedVoltage, true]);
    }
  });
});

describe('generic diodes hang together', () => {
  test('a junction diode always recovers; a Schottky has a capacitance in its place', () => {
    for (const { name, recoveryCharge = 0, junctionCapacitance = 0, currentMax = 1 } of generic.diode) {
      expect(junctionCapacitance).toBeGreaterThan(0);
      if (/^D[JH]/.test(name)) expect(recoveryCharge / currentMax).toBeGreaterThan(5e-9);
    }
  });
  test('at one rating, less drop is more leakage: 60 mV for a decade', () => {
    const schottkys = generic.diode.filter(({ name }) => name.startsWith('DS40-'));
    const sums = schottkys.map(
      ({ leakageCurrent = 1, currentMax = 1, forwardVoltage }) =>
        Math.log10(leakageCurrent / currentMax) + forwardVoltage / 0.06,
    );
    expect(Math.max(...sums) - Math.min(...sums)).toBeLessThan(1);
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

describe('controllers', () => {
  const all = genericParts().controller;
  test('about sixty, of every scheme and topology', () => {
    expect(all.length).toBeGreaterThanOrEqual(55);
    expect(new Set(all.map(({ scheme }) => scheme)).size).toBe(6);
    expect(new Set(all.flatMap(({ topologies }) => topologies)).size).toBe(4);
  });
  test.each(all.map((part) => [part.name, part] as const))('%s hangs together', (_, part) => {
    const { transconductance, outputResistance, minimumOnTime, frequencyMax, frequencyMin, inputMin, inputMax } = part;
    // DC gain of a transconductance amplifier: 50 to 85 dB, from memory of usual parts.
    if (part.amplifier === 'ota') {
      const gain = 20 * Math.log10((transconductance ?? NaN) * (outputResistance ?? NaN));
      expect(gain).toBeGreaterThan(50);
      expect(gain).toBeLessThan(85);
    }
    expect(minimumOnTime * frequencyMax).toBeLessThan(0.35);
    expect(frequencyMin).toBeLessThan(frequencyMax);
    expect(inputMin).toBeLessThan(inputMax);
    expect(part.limitVoltage === undefined).toBe(part.senseGain === undefined);
    expect(part.features).toHaveLength(new Set(part.features).size);
  });
  test('a row of a table holds topologies, modes and features as words with spaces between', () => {
    const rows = all.slice(0, 3).map((part) => partCells('controller', part));
    const columns = Object.fromEntries(partColumns('controller').map(({ key }) => [key, key]));
    const { parts, refused } = readPartRows('controller', rows, columns);
    expect(refused).toEqual([]);
    expect(parts).toEqual(all.slice(0, 3));
    const [bad] = readPartRows('controller', [{ ...rows[0], features: 'power-good wishful' }], columns).refused;
    expect(bad?.column).toBe('features');
  });
});

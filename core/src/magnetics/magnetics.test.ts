import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cores } from '../library/generic/cores.js';
import { LIBRARY_SCHEMAS } from '../library/libraryPart.js';
import { surfaceRise, wattsFor } from './chokeForms.js';
import { skinDepth } from './copper.js';
import { dowellRatio } from './dowell.js';
import { fringingFactor } from './fringing.js';
import { layOut, windingRatio, windingResistance } from './layOut.js';
import { pathState, permeanceOf, type FluxPath } from './magneticPath.js';
import { lossLaw, MATERIALS, saturationAt } from './materials.js';
import { ownRing } from './ownRing.js';
import { pairOnCore } from './pairOnCore.js';
import { chokeTable, fluxPaths, gapFor, gapWords, type WoundChoke } from './woundChoke.js';
import { conductorWords, enamelled, gaugeDiameter, type Conductor } from './wires.js';
import { woundCore, type WoundCore } from './woundCore.js';

const coreCalled = (name: string): WoundCore => {
  const record = cores().find((one) => one.name === name);
  const made = record ? woundCore(record) : 'There is none.';
  if (typeof made === 'string') throw new Error(`${name}: ${made}`);
  return made;
};
const E_PAIR = coreCalled('KEFE22');
const RING = coreCalled('KRAL27');
const FERRITE_RING = coreCalled('KRFE27');
const wire = (millimetres: number, strands = 1): Conductor => ({ kind: 'wire', diameter: millimetres * 1e-3, strands });
const choke = (over: Partial<WoundChoke> = {}): WoundChoke => ({
  core: E_PAIR,
  turns: 12,
  conductor: wire(1),
  gap: 0.5e-3,
  gaps: 1,
  fringing: 'edge',
  ...over,
});

/**
 * Loss of a stack of foils in the field of their own current, over that of a steady one: H″ = j ω μ σ H in each, its edges held at the
 * ampere-turns below and above (Ampère's law), solved on a grid.
 */
function fieldRatio(phi: number, layers: number): number {
  const points = 1200;
  // In units of the thickness: H″ = 2j φ² H
  const step = 1 / points;
  const mid = { re: -2, im: -2 * phi * phi * step * step };
  let loss = 0;
  for (let layer = 1; layer <= layers; layer += 1) {
    // Thomas's sweep for H(0) = layer − 1, H(1) = layer.
    const cr = new Float64Array(points + 1);
    const ci = new Float64Array(points + 1);
    const dr = new Float64Array(points + 1);
    const di = new Float64Array(points + 1);
    dr[0] = layer - 1;
    for (let k = 1; k < points; k += 1) {
      const br = mid.re + (k === 1 ? 0 : (cr[k - 1] as number));
      const bi = mid.im + (k === 1 ? 0 : (ci[k - 1] as number));
      const size = br * br + bi * bi;
      cr[k] = -br / size;
      ci[k] = bi / size;
      const xr = -(dr[k - 1] as number);
      const xi = -(di[k - 1] as number);
      dr[k] = (xr * br + xi * bi) / size;
      di[k] = (xi * br - xr * bi) / size;
    }
    const hr = new Float64Array(points + 1);
    const hi = new Float64Array(points + 1);
    hr[0] = layer - 1;
    hr[points] = layer;
    for (let k = points - 1; k >= 1; k -= 1) {
      hr[k] = (dr[k] as number) + (cr[k] as number) * (hr[k + 1] as number) - (ci[k] as number) * (hi[k + 1] as number);
      hi[k] = (di[k] as number) + (cr[k] as number) * (hi[k + 1] as number) + (ci[k] as number) * (hr[k + 1] as number);
    }
    // J = dH/dx
    for (let k = 0; k < points; k += 1)
      loss +=
        (((hr[k + 1] as number) - (hr[k] as number)) ** 2 + ((hi[k + 1] as number) - (hi[k] as number)) ** 2) / step;
  }
  return loss / layers;
}

describe('eddy currents', () => {
  test.each([
    [0.3, 1],
    [0.3, 6],
    [1, 3],
    [2, 2],
    [3, 5],
  ])('Dowell at φ = %d with %d layers is the field solved on a grid', (phi, layers) => {
    expect(dowellRatio(phi, layers) / fieldRatio(phi, layers)).toBeCloseTo(1, 3);
  });
  test('a thin layer loses what the series says, without a jump where it takes over', () => {
    for (const layers of [1, 4, 9.5]) {
      expect(dowellRatio(0.0499, layers)).toBeCloseTo(dowellRatio(0.0501, layers), 4);
      expect(dowellRatio(1e-4, layers)).toBeCloseTo(1, 12);
      expect(dowellRatio(40.01, layers) / dowellRatio(39.99, layers)).toBeCloseTo(40.01 / 39.99, 9);
      expect(Number.isFinite(dowellRatio(1e4, layers))).toBe(true);
    }
  });
  test('more layers and higher frequencies never lose less', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 4, noNaN: true }), fc.integer({ min: 1, max: 12 }), (phi, layers) => {
        const ratio = dowellRatio(phi, layers);
        expect(ratio).toBeGreaterThanOrEqual(1);
        expect(dowellRatio(phi, layers + 1)).toBeGreaterThanOrEqual(ratio);
        expect(dowellRatio(1.1 * phi, layers)).toBeGreaterThanOrEqual(ratio);
      }),
    );
  });
  test('strands of a bundle lose less than one wire of their copper at the frequency they are for', () => {
    const thick = layOut(E_PAIR, 12, wire(1));
    const litz: Conductor = { kind: 'litz', diameter: 0.1e-3, strands: 100 };
    const many = layOut(E_PAIR, 12, litz);
    expect(windingResistance(many, 80) / windingResistance(thick, 80)).toBeCloseTo(1, 0);
    expect(windingRatio(E_PAIR, litz, many, 200e3, 80)).toBeLessThan(
      windingRatio(E_PAIR, wire(1), thick, 200e3, 80) / 2,
    );
  });
});

describe('turns in their window', () => {
  test('resistance is ρ l/A of the turns’ mean length', () => {
    const laid = layOut(E_PAIR, 10, wire(0.8));
    const mean = E_PAIR.turnLength + 4 * laid.build;
    const expected = (1.7241379e-8 * (1 + 0.00393 * 80) * 10 * mean) / ((Math.PI / 4) * 0.8e-3 ** 2);
    expect(windingResistance(laid, 100) / expected).toBeCloseTo(1, 6);
  });
  test('side by side as the breadth lets, layer over layer, and no more than the depth takes', () => {
    const diameter = enamelled(1e-3);
    const fits = Math.floor(E_PAIR.windowBreadth / diameter);
    expect(layOut(E_PAIR, fits, wire(1)).layers).toBe(1);
    expect(layOut(E_PAIR, fits + 1, wire(1)).layers).toBe(2);
    expect(layOut(E_PAIR, fits, wire(1, 2)).layers).toBe(2);
    expect(layOut(E_PAIR, 40 * fits, wire(1)).tooMuch).toContain('layers come to');
  });
  test('inside a ring each further layer is shorter', () => {
    const diameter = enamelled(1e-3);
    const [first, second] = [1, 3].map((k) => Math.floor((RING.windowBreadth - k * Math.PI * diameter) / diameter)) as [
      number,
      number,
    ];
    expect(second).toBeLessThan(first);
    expect(layOut(RING, first, wire(1)).layers).toBe(1);
    expect(layOut(RING, first + second, wire(1)).layers).toBe(2);
    expect(layOut(RING, first + second + 1, wire(1)).layers).toBe(3);
    expect(layOut(RING, 5, { kind: 'foil', thickness: 1e-4 }).tooMuch).toContain('ring');
    // Copper over the annulus that is wound, not over the hole.
    const [inner, depth] = [RING.windowBreadth / Math.PI, RING.windowDepth];
    const annulus = (Math.PI / 4) * (inner ** 2 - (inner - 2 * depth) ** 2);
    expect(layOut(RING, first, wire(1)).fill / ((first * (Math.PI / 4) * 1e-6) / annulus)).toBeCloseTo(1, 6);
  });
  test('each gauge is a tenth of the copper of that ten numbers below, in words too', () => {
    expect((gaugeDiameter(20) / gaugeDiameter(10)) ** 2).toBeCloseTo(0.0984, 3);
    expect(conductorWords({ kind: 'wire', diameter: gaugeDiameter(18), strands: 2 })).toBe(
      '2 wires of gauge 18 (1.02 mm) side by side',
    );
    expect(conductorWords({ kind: 'litz', diameter: 1e-4, strands: 75 })).toBe('litz of 75 x 0.1 mm');
  });
});

describe('inductance out of the core', () => {
  test('a wide gap makes it alone: L = μ₀ N² A F/g', () => {
    const wide = choke({ gap: 2e-3 });
    const { width, depth } = E_PAIR.leg;
    const factor = fringingFactor('edge', 2e-3, { width, depth, window: 1 });
    const expected = (4e-7 * Math.PI * 144 * E_PAIR.area * factor) / (2e-3 + (factor * E_PAIR.pathLength) / 2200);
    expect((chokeTable(wide, 1, 25)[0]?.[1] ?? 0) / expected).toBeCloseTo(1, 6);
  });
  test('two gaps of half let a little less bulge than one of the whole: less inductance', () => {
    const [one = 0, two = 0] = [1, 2].map((gaps) => chokeTable(choke({ gaps: gaps as 1 | 2 }), 1, 25)[0]?.[1]);
    expect(two).toBeLessThan(one);
    expect(two).toBeGreaterThan(0.85 * one);
    expect(gapWords(choke({ gaps: 2 }))).toContain('spacer of 0.25 mm under all legs');
  });
  test.each([
    ['gapped ferrite', choke()],
    ['powder', choke({ core: RING, gap: 0 })],
    ['stepped gap', choke({ step: { share: 0.3, gap: 0.05e-3 } })],
  ])('%s: it is N² dΦ/dF, and falls with the current', (_, of) => {
    const paths = fluxPaths(of);
    const flux = (current: number): number =>
      paths.reduce((sum, path) => sum + pathState(path, of.turns * current, 60).density * path.area, 0);
    for (const [current, inductance] of chokeTable(of, 20, 60).slice(1)) {
      const by = 1e-4 * current;
      const slope = (of.turns * (flux(current + by) - flux(current - by))) / (2 * by);
      // The field of a powder is integrated by Simpson's rule.
      expect(slope / inductance).toBeCloseTo(1, 2);
    }
    const all = chokeTable(of, 20, 60).map(([, inductance]) => inductance);
    expect(all.every((one, k) => k === 0 || one <= (all[k - 1] ?? 0) * (1 + 1e-9))).toBe(true);
  });
  test('flux density never passes what the material bears by more than air lets through', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1e4, noNaN: true }),
        fc.double({ min: 0, max: 2e-3, noNaN: true }),
        (turns, gap) => {
          const [path] = fluxPaths(choke({ gap }));
          const { density, field } = pathState(path as FluxPath, turns, 100);
          expect(density - 4e-7 * Math.PI * field).toBeLessThanOrEqual(saturationAt(MATERIALS.ferrite, 100) * 1.0001);
          // Ampère: the ampere-turns are used up.
          expect(permeanceOf([path as FluxPath], turns, 100)).toBeGreaterThan(0);
        },
      ),
    );
  });
  test('the gap for an inductance at a current has it there; what saturates with any gap is told', () => {
    const gap = gapFor(choke(), 15e-6, 10, 90);
    const table = gap === undefined ? [] : chokeTable(choke({ gap }), 10, 90);
    const near = table.reduce((a, b) => (Math.abs(b[0] - 10) < Math.abs(a[0] - 10) ? b : a), [0, 0]);
    expect(near[1] / 15e-6).toBeCloseTo(1, 1);
    expect(gapFor(choke(), 1e-3, 10, 90)).toBeUndefined();
  });
  test('a ferrite ring without a gap is saturated by a few amperes, a powder ring of its size is not', () => {
    const ferrite = chokeTable(choke({ core: FERRITE_RING, turns: 3, gap: 0 }), 10, 60);
    const powder = chokeTable(choke({ core: RING, turns: 14, gap: 0 }), 10, 60);
    const left = (table: typeof ferrite): number => (table.find(([i]) => i >= 10)?.[1] ?? 0) / (table[0]?.[1] ?? 1);
    expect(left(ferrite)).toBeLessThan(0.05);
    expect(left(powder)).toBeGreaterThan(0.6);
  });
  test('hot ferrite saturates earlier', () => {
    const at = (temperature: number): number => chokeTable(choke(), 25, temperature).find(([i]) => i >= 22)?.[1] ?? 0;
    expect(at(100)).toBeLessThan(at(25));
  });
});

describe('materials', () => {
  test('ranges of loss meet where they end; loss is least at its temperature', () => {
    for (const material of Object.values(MATERIALS))
      for (const { to } of material.ranges.slice(0, -1)) {
        const [below, above] = [0.999, 1.001].map((by) => {
          const { density, frequencyExponent } = lossLaw(material, by * to, 90);
          return density * ((by * to) / 1e5) ** frequencyExponent;
        }) as [number, number];
        expect(above / below).toBeCloseTo(1, 2);
      }
    const at = (temperature: number): number => lossLaw(MATERIALS.ferrite, 1e5, temperature).density;
    expect(at(90)).toBe(5e4);
    expect(at(20)).toBeCloseTo(1e5, -1);
  });
  test('a core that states too little is told by name, and what is filled is said', () => {
    const [record] = cores();
    if (!record) throw new Error('no cores');
    expect(woundCore({ ...record, windowBreadth: undefined })).toContain(
      `The core ${record.name} states no shape, window`,
    );
    const made = woundCore(record);
    expect(typeof made !== 'string' && made.filled.join()).toContain('loss density');
  });
});

describe('a ring of one’s own', () => {
  const mine = {
    name: 'mine',
    outer: 27e-3,
    inner: 15e-3,
    height: 11e-3,
    material: 'alloy-powder',
    permeability: 60,
  } as const;
  test('is the record of the library that has its measures', () => {
    const record = ownRing(mine);
    if (typeof record === 'string') throw new Error(record);
    const kept = cores().find(({ name }) => name === 'KRAL27');
    for (const key of ['effectiveArea', 'effectiveLength', 'windowBreadth', 'windowDepth', 'turnLength'] as const)
      expect((record[key] ?? NaN) / (kept?.[key] ?? NaN)).toBeCloseTo(1, 2);
    expect(LIBRARY_SCHEMAS.core.safeParse(record).success).toBe(true);
  });
  test('that is none is told with its measures', () => {
    expect(ownRing({ ...mine, inner: 28e-3 })).toContain('27.0 mm and an inner one of 28.0 mm make no ring');
  });
});

describe('two windings on one core', () => {
  const geometry = {
    turns: 5,
    outerArea: 5e-5,
    middleArea: 1e-4,
    outerLength: 0.05,
    middleLength: 0.02,
    permeability: 2200,
    outerGap: 0.1e-3,
    middleGap: 0.4e-3,
  };
  test('the middle leg carries the sum, the outer ones what differs and little more', () => {
    const even = pairOnCore(geometry, [10, 10]);
    const uneven = pairOnCore(geometry, [12, 8]);
    const alone = pairOnCore(geometry, [10, 0]);
    // Both together: half the flux of the middle leg each.
    expect(even.outerDensity * geometry.outerArea).toBeCloseTo((even.middleDensity * geometry.middleArea) / 2, 12);
    expect(uneven.middleDensity).toBeCloseTo(even.middleDensity, 12);
    expect(uneven.outerDensity).toBeGreaterThan(1.15 * even.outerDensity);
    expect(alone.outerDensity).toBeGreaterThan(even.outerDensity);
  });
  test('flux of one winding by its inductance matrix: L i₁ − k L i₂', () => {
    const { inductance, coefficient, outerDensity } = pairOnCore(geometry, [12, 8]);
    const linkage = geometry.turns * outerDensity * geometry.outerArea;
    expect(linkage / (inductance * (12 - coefficient * 8))).toBeCloseTo(1, 9);
  });
  test('a wider middle gap couples more, wider outer ones less', () => {
    const k = (over: Partial<typeof geometry>): number => pairOnCore({ ...geometry, ...over }, [1, 1]).coefficient;
    expect(k({ middleGap: 0.8e-3 })).toBeGreaterThan(k({}));
    expect(k({ outerGap: 0.2e-3 })).toBeLessThan(k({}));
  });
});

test('rise and watts are one law both ways; 100 mW on a square centimetre is 46 K', () => {
  expect(surfaceRise.compute({ loss: wattsFor(40, 2e-3), surface: 2e-3 })).toBeCloseTo(40, 9);
  // (P/S)^0.833 with mW and cm²: common practice
  expect(surfaceRise.compute({ loss: 0.1, surface: 1e-4 })).toBeCloseTo(46.3, 1);
});

test('skin depth halves with four times the frequency', () => {
  expect(skinDepth(1e5, 60) / skinDepth(4e5, 60)).toBeCloseTo(2, 12);
});

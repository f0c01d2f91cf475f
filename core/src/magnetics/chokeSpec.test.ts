import { describe, expect, test } from '@jest/globals';
import { cores } from '../library/generic/cores.js';
import { LIBRARY_SCHEMAS } from '../library/libraryPart.js';
import { chokeOf, chokeSpecSchema, specOf, type ChokeSpec } from './chokeSpec.js';
import { fringingFactor } from './fringing.js';
import { MATERIALS } from './materials.js';
import { fluxPaths, gapWords, windingOf } from './woundChoke.js';

const all = cores();
const spec: ChokeSpec = {
  core: 'KEFE22',
  turns: 12,
  conductor: { kind: 'wire', diameter: 1e-3, strands: 2 },
  gap: 0.6e-3,
  gaps: 1,
  fringing: 'edge',
};
const made = (over: Partial<ChokeSpec> = {}) => {
  const found = chokeOf({ ...spec, ...over }, all);
  if (typeof found === 'string') throw new Error(found);
  return found;
};

describe('a choke by the name of its core', () => {
  test('goes there and back', () => {
    for (const over of [{}, { step: { share: 0.3, gap: 0.1e-3 } }, { core: 'KRAL27', beside: 'KRFE27', gap: 0 }]) {
      const back = specOf(made(over));
      expect(chokeSpecSchema.parse(JSON.parse(JSON.stringify(back)))).toEqual(
        JSON.parse(JSON.stringify({ ...spec, ...over })),
      );
    }
  });
  test('a core that is gone is named', () => {
    expect(chokeOf({ ...spec, core: 'Gone' }, all)).toBe('The library has no core Gone: choose another.');
    expect(chokeOf({ ...spec, beside: 'Lost' }, all)).toContain('no core Lost');
  });
  test.each([
    ['no turns', { turns: 0 }],
    ['half a turn', { turns: 1.5 }],
    ['a gap of less than nothing', { gap: -1e-3 }],
    ['three gaps', { gaps: 3 }],
    ['a step over the whole leg', { step: { share: 1, gap: 0 } }],
    ['a conductor of no kind', { conductor: { kind: 'string', diameter: 1e-3 } }],
  ])('what was kept by an older page is refused: %s', (_, over) => {
    expect(chokeSpecSchema.safeParse({ ...spec, ...over }).success).toBe(false);
  });
});

describe('what its flux goes through', () => {
  test('one path; two where the gap is stepped, their areas those of the leg; two where a second ring stands beside', () => {
    expect(fluxPaths(made())).toHaveLength(1);
    const stepped = fluxPaths(made({ step: { share: 0.25, gap: 0.1e-3 } }));
    expect(stepped.map(({ gap }) => gap)).toEqual([0.6e-3, 0.1e-3]);
    const [whole] = fluxPaths(made());
    expect(stepped.reduce((sum, { area }) => sum + area, 0)).toBeCloseTo(whole?.area ?? 0, 15);
    const rings = fluxPaths(made({ core: 'KRAL27', beside: 'KRFE27', gap: 0 }));
    expect(rings.map(({ material }) => material)).toEqual([MATERIALS['alloy-powder'], MATERIALS.ferrite]);
  });
  test('a turn about two rings is longer by twice the height of the second', () => {
    const [one, two] = [
      windingOf(made({ core: 'KRAL27', gap: 0 })),
      windingOf(made({ core: 'KRAL27', beside: 'KRFE27', gap: 0 })),
    ];
    expect((two.wireLength - one.wireLength) / spec.turns).toBeCloseTo(2 * 11e-3, 6);
  });
  test('a drum has its gap by its shape, and needs none', () => {
    const drum = made({ core: 'KDFE13', gap: 0 });
    expect(fluxPaths(drum)[0]?.gap).toBeGreaterThan(3e-3);
    expect(gapWords(drum)).toContain('the shape’s own');
  });
  test('words for the gap: none, ground, and by steps', () => {
    expect(gapWords(made({ gap: 0 }))).toBe('none');
    expect(gapWords(made())).toBe('0.60 mm ground into the middle leg');
    expect(gapWords(made({ step: { share: 0.25, gap: 0.1e-3 } }))).toContain('over 25 % of the leg 0.10 mm');
  });
});

describe('fringing', () => {
  const leg = { width: 7e-3, depth: 7e-3, window: 17e-3 };
  test('either method lets more through the wider the gap, and nothing more without one', () => {
    for (const method of ['edge', 'logarithm'] as const) {
      expect(fringingFactor(method, 0, leg)).toBe(1);
      const some = [0.1e-3, 0.3e-3, 1e-3].map((gap) => fringingFactor(method, gap, leg));
      expect(some).toEqual([...some].sort((a, b) => a - b));
      expect(some[0]).toBeGreaterThan(1);
    }
  });
  test('both agree within a fifth for a gap of a twentieth of the leg', () => {
    const [edge, log] = (['edge', 'logarithm'] as const).map((method) => fringingFactor(method, 0.35e-3, leg));
    expect((log ?? 0) / (edge ?? 1)).toBeGreaterThan(0.8);
    expect((log ?? 0) / (edge ?? 1)).toBeLessThan(1.2);
  });
});

describe('the cores that ship', () => {
  test('are records of the library, each with a name of its own, an area in m² and a flux density in T', () => {
    expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
    for (const record of all) {
      expect(LIBRARY_SCHEMAS.core.safeParse(record).success).toBe(true);
      expect(record.effectiveArea).toBeGreaterThan(1e-6);
      expect(record.effectiveArea).toBeLessThan(1e-3);
      expect(record.saturationFluxDensity).toBeLessThan(2);
      // The flux path is longer than the leg is wide, and a turn goes round the leg.
      expect(record.effectiveLength).toBeGreaterThan(record.legWidth ?? 0);
      expect(record.turnLength).toBeGreaterThan(2 * Math.sqrt(record.effectiveArea));
    }
  });
  test('come in every shape, and in powders and ferrites', () => {
    expect(new Set(all.map(({ shape }) => shape)).size).toBe(6);
    expect(new Set(all.map(({ material }) => material)).size).toBe(5);
  });
});

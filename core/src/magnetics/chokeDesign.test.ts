import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { cores } from '../library/generic/cores.js';
import type { Stage } from '../stage/schema.js';
import { chokeDemand } from './chokeDemand.js';
import { chokeWorking } from './chokeWorking.js';
import { chokePart } from './chokePart.js';
import { magneticAt, workChoke, type ChokeDemand } from './figures.js';
import { CHOKE_RULES, chokeFaults, chokePrice } from './judgeChoke.js';
import { materialComparison } from './materialChoice.js';
import { searchChokes } from './searchChokes.js';
import { swingingChoke, swingStudy } from './swingStudy.js';
import { saturationAt } from './materials.js';
import { chokeCurve, chokeTable, type WoundChoke } from './woundChoke.js';
import { windingSheet } from './windingSheet.js';

const evaluated = (stage: Stage): EvaluatedStage => {
  const made = evaluateStage(stage);
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};
const demandOf = (stage: Stage): ChokeDemand => {
  const found = chokeDemand(evaluated(stage));
  if (typeof found === 'string') throw new Error(found);
  return found;
};
const { stage } = benchStage();
const demand = demandOf(stage);
const told: number[] = [];
const began = performance.now();
const search = searchChokes(demand, cores(), {}, (share) => told.push(share));
const took = performance.now() - began;

describe('what a stage asks of its choke', () => {
  test('average, swing of the linkage and pieces of it are those of the waveforms', () => {
    const full = demand.corners.filter(({ outputCurrent }) => outputCurrent === 4);
    expect(full.length).toBeGreaterThan(2);
    for (const { average, swing, inputVoltage, frequency, pieces, harmonics } of full) {
      expect(average).toBeCloseTo(4, 1);
      // λ = V (1 − D)/f, drops of the switches apart
      expect(swing / ((7.5 * (1 - 7.5 / inputVoltage)) / frequency)).toBeCloseTo(1, 1);
      expect(pieces.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
      // Parseval: a triangle's alternating square is swing²/12.
      const square = harmonics.reduce((sum, { amplitude }) => sum + amplitude ** 2 / 2, 0);
      expect(square / (swing ** 2 / 12)).toBeCloseTo(1, 2);
    }
    // The stated limit of 9 A at the high end of a usual tolerance.
    expect(demand.limit).toBeCloseTo(10.8, 9);
    expect(demand.filled.join()).toContain('tolerance of the current limit');
  });
});

describe('what is left out', () => {
  test('corners without an operating point are counted, and named on the sheet', () => {
    const whole = evaluated(stage);
    const broken: EvaluatedStage = {
      ...whole,
      corners: whole.corners.map((one, k) =>
        k < 2 ? { ...one, result: { kind: 'unsolved', reason: 'beyond its reach' } as (typeof one)['result'] } : one,
      ),
    };
    const found = chokeDemand(broken);
    if (typeof found === 'string') throw new Error(found);
    expect([demand.unsolved, found.unsolved]).toEqual([0, 2]);
    expect(found.corners).toHaveLength(demand.corners.length - 2);
    const [design] = search.designs;
    if (!design) throw new Error('no design');
    const sheet = JSON.stringify(windingSheet(design.choke, workChoke(design.choke, found), found, 'a stage'));
    expect(sheet).toContain('2 corners of the stage have no operating point');
  });
});

describe('loss', () => {
  test('of a core rises with its steady flux, by the share of what its material bears', () => {
    const design = search.designs.find(({ choke }) => choke.gap > 0);
    const corner = demand.corners.at(-1);
    if (!design || !corner) throw new Error('no gapped design');
    const { choke } = design;
    const curve = chokeCurve(chokeTable(choke, demand.limit, 90));
    const at = (average: number) => magneticAt(choke, curve, { ...corner, average, stopped: false }, 90);
    const [idle, loaded] = [at(0), at(corner.average)];
    const steady = (loaded.density - loaded.densitySwing / 2) / saturationAt(choke.core.material, 90);
    expect(steady).toBeGreaterThan(0.2);
    // A little more flux swings where the inductance is a little less: within a percent.
    expect(loaded.core / idle.core / (1 + choke.core.material.biasRise * steady ** 2)).toBeCloseTo(1, 2);
  });
  test('what is fine costs more by the kilogram: litz of the same copper is the dearer', () => {
    const [design] = search.designs.filter(({ choke }) => choke.core.shape !== 'toroid');
    if (!design) throw new Error('no design');
    const priceOf = (conductor: WoundChoke['conductor']): number => {
      const choke = { ...design.choke, conductor };
      return chokePrice(choke, workChoke(choke, demand));
    };
    expect(priceOf({ kind: 'litz', diameter: 1e-4, strands: 100 })).toBeGreaterThan(
      1.02 * priceOf({ kind: 'wire', diameter: 1e-3, strands: 1 }),
    );
  });
});

describe('the search', () => {
  test('what holds at full load and not at another corner is not named', () => {
    // A corner of little load and a large swing, as at a low frequency: nothing that is only looked at at full load sees it.
    const hard = { ...demand.corners[0], outputCurrent: 0.3, average: 0.3 } as ChokeDemand['corners'][number];
    const more = 4.5;
    const asked: ChokeDemand = {
      ...demand,
      corners: [
        ...demand.corners,
        {
          ...hard,
          swing: more * hard.swing,
          harmonics: hard.harmonics.map((one) => ({ ...one, amplitude: more * one.amplitude })),
        },
      ],
    };
    const { designs, held } = searchChokes(asked, cores());
    expect(designs.length).toBeGreaterThan(0);
    expect(designs.length).toBeLessThan(held);
    for (const { choke, worked } of designs) {
      expect(worked.corners).toHaveLength(asked.corners.length);
      expect(chokeFaults(choke, worked, asked)).toEqual([]);
    }
  });
  test('tells how far it is, and is over within two seconds', () => {
    expect(told.length).toBeGreaterThan(50);
    expect(told.every((share, k) => share <= 1 && share >= (told[k - 1] ?? 0))).toBe(true);
    expect(took).toBeLessThan(2000);
  });
  test('what it found holds: fits, keeps its inductance to the limit, stays cool; nothing beats another in all', () => {
    expect(search.designs.length).toBeGreaterThan(5);
    for (const { choke, worked, loss, volume, price } of search.designs) {
      expect(chokeFaults(choke, worked, demand)).toEqual([]);
      expect(worked.laid.tooMuch).toBeUndefined();
      expect(worked.inductance[1]).toBeGreaterThan(0.97 * demand.inductance);
      expect(worked.atLimit.density).toBeLessThan(worked.atLimit.saturation);
      expect(worked.worst.temperature).toBeLessThanOrEqual(demand.ambient + CHOKE_RULES.rise);
      for (const other of search.designs)
        expect(other.loss < loss && other.volume < volume && other.price < price).toBe(false);
    }
    for (const aim of ['loss', 'volume', 'price'] as const)
      expect(search.designs.some(({ best }) => best.includes(aim))).toBe(true);
  });
  test('what was passed over is told with its reason; a ferrite ring without a gap is never taken', () => {
    const all = search.passedOver.flatMap(({ cores: names }) => names);
    expect(new Set(all).size).toBe(all.length);
    expect(search.passedOver.some(({ why }) => why.includes('without a gap saturates'))).toBe(true);
    expect(
      search.designs.some(({ choke }) => choke.core.shape === 'toroid' && choke.core.material.kind === 'ferrite'),
    ).toBe(false);
  });
  test('a turn too few, a gap too narrow and copper too thin are each named with the way out', () => {
    const [design] = search.designs.filter(({ choke }) => choke.gap > 0);
    if (!design) throw new Error('no gapped design');
    const faults = (over: object): string => {
      const choke = { ...design.choke, ...over };
      return chokeFaults(choke, workChoke(choke, demand), demand).join(' ');
    };
    expect(faults({ turns: Math.floor(design.choke.turns / 2) })).toContain(
      'are wanted there: more turns, or another gap',
    );
    expect(faults({ gap: design.choke.gap / 8 })).toContain('a wider gap with more turns, or a larger core');
    expect(faults({ conductor: { kind: 'wire', diameter: 0.15e-3, strands: 1 } })).toContain('thicker copper');
    expect(faults({ conductor: { kind: 'wire', diameter: 2e-3, strands: 8 } })).toMatch(/window takes|find no room/);
  });
});

describe('a wound choke as the part of a stage', () => {
  const [design] = search.designs;
  if (!design) throw new Error('no design');
  const part = chokePart(design.choke, design.worked, demand, 'wound');
  const { complete, corners } = evaluated({ ...stage, parts: { ...stage.parts, inductor: part } });

  test('the engine finds the very loss that was designed, line by line', () => {
    const { worst } = design.worked;
    const at = corners.find(
      ({ corner }) => corner.inputVoltage === worst.inputVoltage && corner.outputCurrent === worst.outputCurrent,
    );
    if (at?.result.kind !== 'solved') throw new Error('unsolved');
    const watts = (key: string): number =>
      at.result.kind === 'solved' ? (at.result.heat.lines.find((line) => line.key === key)?.watts ?? NaN) : NaN;
    expect(watts('inductorCore') / worst.core).toBeCloseTo(1, 1);
    expect(watts('inductorAlternating') / worst.alternating).toBeCloseTo(1, 1);
    // The stage warms the winding by its copper alone.
    expect(watts('inductorCopper') / worst.copper).toBeCloseTo(1, 0);
    expect(at.result.point.inductorCurrent.peak / worst.peak).toBeCloseTo(1, 1);
    expect(complete.inductor.inductance / design.worked.inductance[0]).toBeCloseTo(1, 5);
  });
  test('and the balance of the stage closes with it: what goes in is what comes out and what is lost', () => {
    for (const { result } of corners) {
      if (result.kind !== 'solved') continue;
      const { outputPower, losses, efficiency } = result.point;
      expect(outputPower / (outputPower + (losses.total ?? NaN))).toBeCloseTo(efficiency, 9);
    }
  });
  test('each of its figures has its working, which comes to the figure itself', () => {
    for (const { choke, worked } of search.designs) {
      const forms = chokeWorking(choke, worked, demand);
      const valueOf = (name: string): number => forms.find((one) => one.name === name)?.value ?? NaN;
      expect(valueOf('Inductance without current') / worked.inductance[0]).toBeCloseTo(1, 6);
      expect(valueOf('Core loss') / worked.worst.core).toBeCloseTo(1, 3);
      expect(demand.ambient + valueOf('Rise over the air')).toBeCloseTo(worked.worst.temperature, 6);
      // Copper: R at its temperature times the square of the rms.
      expect((valueOf('Resistance of the winding') * worked.worst.rms ** 2) / worked.worst.copper).toBeCloseTo(1, 2);
    }
  });
  test('the sheet says all that winding takes, and how it is checked', () => {
    const sheet = windingSheet(design.choke, design.worked, demand, 'a stage');
    const text = JSON.stringify(sheet);
    for (const word of ['turns', 'mass of copper', 'layers', 'knee', 'four wires', 'let it ring', 'Taken as usual'])
      expect(text).toContain(word);
    expect(text).not.toMatch(/NaN|undefined|Infinity/);
  });
});

describe('powder beside gapped ferrite', () => {
  const { powder, ferrite, ring } = materialComparison(demand, cores());
  test('both hold; the ring without a gap is said to be saturated', () => {
    expect(powder.design?.choke.core.material.kind).toBe('powder');
    expect(ferrite.design?.choke.gap).toBeGreaterThan(0);
    expect(ring.says).toContain('it is saturated');
    const left = (table: typeof ring.table): number =>
      (table.find(([i]) => i >= demand.full)?.[1] ?? 0) / (table[0]?.[1] ?? 1);
    expect(left(ring.table)).toBeLessThan(0.2);
    expect(left(ferrite.table)).toBeGreaterThan(0.9);
    expect(left(powder.table)).toBeGreaterThan(0.5);
  });
});

describe('a choke that swings', () => {
  const light = benchStage({
    rectifier: 'diode',
    targets: {
      inputVoltage: { min: 11, nominal: 12, max: 14 },
      outputVoltage: 7.5,
      outputCurrent: { min: 0.04, max: 4 },
      loadStep: { from: 1, to: 3, deviation: 0.3 },
    },
  }).stage;
  const asked = demandOf(light);
  const [design] = searchChokes(
    asked,
    cores().filter(({ shape }) => shape === 'e'),
  ).designs;
  if (!design) throw new Error('no design');
  const { choke, worked } = design;
  const swinging = swingingChoke(choke, asked, { share: 0.3, gap: choke.gap / 10 }, worked.worst.temperature);
  if (typeof swinging === 'string') throw new Error(swinging);
  const swung = workChoke(swinging, asked);
  const study = swingStudy(
    light,
    chokePart(choke, worked, asked, 'fixed'),
    chokePart(swinging, swung, asked, 'swinging'),
    { synchronous: { ...light, rectifier: 'synchronous' } },
  );
  if (typeof study === 'string') throw new Error(study);

  test('has as much at full load as the fixed one, and twice as much without current', () => {
    expect(swung.inductance[1] / worked.inductance[1]).toBeCloseTo(1, 1);
    expect(swung.inductance[0]).toBeGreaterThan(2 * worked.inductance[0]);
  });
  test('moves the border of continuous conduction down, and the step from light load dips less, simulated', () => {
    expect(study.border.swinging).toBeLessThan((study.border.plain ?? NaN) / 2);
    const { plain, swinging: better, synchronous } = study.steps;
    if (typeof plain === 'string' || typeof better === 'string' || typeof synchronous !== 'object')
      throw new Error('no run');
    expect(better.deviation).toBeLessThan(0.95 * plain.deviation);
    expect(synchronous.deviation).toBeLessThan(better.deviation);
  });
  test('the same takes a preload of so many watts', () => {
    if (typeof study.preload === 'string' || typeof study.steps.swinging === 'string') throw new Error('no preload');
    expect(study.preload.step.deviation).toBeLessThanOrEqual(study.steps.swinging.deviation);
    expect(study.preload.watts).toBeCloseTo(7.5 * study.preload.current, 9);
    expect(study.preload.watts).toBeGreaterThan(0.05);
    // The least that does: not all that would.
    expect(study.preload.step.deviation).toBeGreaterThan(0.9 * study.steps.swinging.deviation);
  });
  test('the shift of the loop is told at each load', () => {
    const at = (of: typeof study.plain, load: number) => of.find((one) => one.load === load);
    // With 2.6 times the inductance where both conduct throughout, the loop is slower; at full load it is the same.
    expect(at(study.swinging, 0.8)?.crossover).toBeLessThan(0.9 * (at(study.plain, 0.8)?.crossover ?? 0));
    expect((at(study.swinging, 4)?.crossover ?? 0) / (at(study.plain, 4)?.crossover ?? 1)).toBeCloseTo(1, 1);
    expect(at(study.plain, 0.4)?.mode).toBe('DCM');
    expect(at(study.swinging, 0.4)?.mode).toBe('CCM');
  });
});

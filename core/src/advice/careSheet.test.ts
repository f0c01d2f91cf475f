import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { evaluateStage } from '../corners/evaluate.js';
import { careSheet } from './careSheet.js';
import { cautionsOf } from './cautions.js';

function sheetOf(over: object = {}, control: object = VOLTAGE, parts: object = {}) {
  const worked = evaluateStage(complete(over, control, parts).stage);
  if (!worked.ok) throw new Error('not worked');
  const sheet = careSheet(worked.value);
  const lines = (heading: string) => sheet.sections.find((one) => one.heading === heading)?.lines ?? [];
  const beside = (heading: string, name: string): string =>
    String(lines(heading).find((line) => typeof line !== 'string' && line[0] === name)?.[1]);
  return { worked: worked.value, sheet, lines, beside };
}

describe('care on one sheet', () => {
  test('every caution of the stage stands on it, and what holds above all of it', () => {
    const over = {
      targets: { inputVoltage: { min: 72, max: 72 }, outputVoltage: 12, outputCurrent: { min: 1, max: 2 } },
    };
    const { worked, lines, sheet } = sheetOf(over);
    const cautions = cautionsOf(worked.complete.stage, worked);
    expect(cautions.length).toBeGreaterThan(0);
    expect(lines('Cautions')).toEqual(cautions.map(({ sentence }) => sentence));
    expect(lines('Before power').at(-1)).toMatch(/Local codes.*licensed come first/);
    expect(lines('Not in these numbers')).toEqual(worked.evaluation.notIncluded);
    expect(sheet.title).toBe(`Care: ${worked.complete.stage.name}`);
  });
  test('energy is half C V², the fuse is for the highest input, the limit is said where there is one', () => {
    const { beside, worked } = sheetOf({}, { ...VOLTAGE, currentLimit: 20 });
    // 22 µF at 12 V: 1.58 mJ
    expect(beside('What stays charged', 'input')).toMatch(/^22\.0\DµF at 12\.0\DV: 1\.6\DmJ$/);
    const currents = worked.corners.flatMap(({ result }) =>
      result.kind === 'solved' ? [result.point.inputCurrent] : [],
    );
    expect(Number.parseFloat(beside('What can flow', 'input, at the most'))).toBeCloseTo(Math.max(...currents), 1);
    expect(beside('What can flow', 'inductor')).toContain('20.0\u2009A at the limit');
    expect(beside('What can flow', 'into a fault')).toContain('not stated');
    expect(beside('What can flow', 'input, at the most')).toContain('a fuse of about');
    const fused = sheetOf({}, VOLTAGE, { fuse: { resistance: 0.01, ratedCurrent: 8 } });
    expect(fused.beside('What can flow', 'input, at the most')).toContain('the stage has a fuse of 8.0\u2009A');
  });
  test('filters hold charge too, and a ceramic holds the energy of all it gave up to its bias', () => {
    const damping = { capacitance: 470e-6, resistance: 0.1 };
    const filtered = sheetOf({}, VOLTAGE, { inputFilter: { inductance: 2.2e-6, resistance: 0.01, damping } });
    // 22 and 470 µF at 12 V: 35 mJ
    expect(filtered.beside('What stays charged', 'input')).toMatch(/^492\DµF at 12\.0\DV: 35\DmJ$/);
    const terminal = { capacitance: 100e-6 };
    const both = sheetOf({}, VOLTAGE, { inputFilter: { inductance: 2.2e-6, resistance: 0.01, damping, terminal } });
    expect(both.beside('What stays charged', 'input')).toMatch(/^592\DµF/);
    const falling = {
      capacitance: 1e-3,
      esr: 0.003,
      biasCurve: [
        [0, 1],
        [12, 0.5],
      ],
    };
    // C falls from 1 mF to half of it: ∫ v C dv = V²/2 C₀ (1 − 2/3 · 1/2) = 48 mJ, not the 36 mJ of C(V) V²/2
    expect(sheetOf({}, VOLTAGE, { inputCapacitors: [falling] }).beside('What stays charged', 'input')).toMatch(
      /^500\DµF at 12\.0\DV: 48\DmJ$/,
    );
  });
  test('a stage without an operating point says that nothing is known of what flows', () => {
    const over = {
      targets: { inputVoltage: { min: 3.31, max: 3.31 }, outputVoltage: 3.3, outputCurrent: { min: 8, max: 8 } },
    };
    const { lines } = sheetOf(over);
    expect(lines('What can flow')).toEqual([expect.stringContaining('not known')]);
    expect(JSON.stringify(lines('What can flow'))).not.toContain('∞');
  });
  test('a fault draws what the resistance of the source lets through; parts that say nothing of heat are said to', () => {
    const { beside, lines } = sheetOf({}, VOLTAGE, { source: { inductance: 1e-6, resistance: 0.05 } });
    // 12 V over 50 mΩ
    expect(beside('What can flow', 'into a fault')).toMatch(/^240\DA/);
    expect(lines('What gets hot')[0]).toContain('measure before you touch');
    const hot = { onResistance: 0.01, onResistanceTemperatureCoefficient: 0.004, junctionToAmbient: 40 };
    const { beside: hotter } = sheetOf({}, VOLTAGE, { highSide: hot });
    expect(hotter('What gets hot', 'high-side switch')).toMatch(/^junction up to \d+/);
    const away = { onResistance: 0.05, onResistanceTemperatureCoefficient: 0.02, junctionToAmbient: 80 };
    expect(sheetOf({}, VOLTAGE, { highSide: away }).beside('What gets hot', 'high-side switch')).toContain('runs away');
  });
});

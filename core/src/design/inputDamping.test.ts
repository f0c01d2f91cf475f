import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { genericParts } from '../library/genericParts.js';
import { LIBRARY_SCHEMAS, type PartOf } from '../library/libraryPart.js';
import { IMPEDANCE_SHARE, metImpedances } from '../selection/inputResonance.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { inputDamping } from './inputDamping.js';

const NOTHING = { loss: 1, area: 1e-4, price: 1 };
const bulk = (name: string, more: object = {}): PartOf<'capacitor'> =>
  LIBRARY_SCHEMAS.capacitor.parse({
    name,
    kind: 'electrolytic',
    capacitance: 150e-6,
    esr: 0.15,
    ratedVoltage: 25,
    length: 8e-3,
    width: 8e-3,
    price: 0.2,
    ...more,
  });
const inventory = (...capacitor: readonly PartOf<'capacitor'>[]) => ({ ...genericParts(), capacitor });
/** 12 V to 3.3 V behind leads that oscillate with it. */
const stage = (parts: object = {}): CompleteStage =>
  complete({}, VOLTAGE, { source: { inductance: 5e-6, resistance: 0.005 }, ...parts });
const chosen = (of: CompleteStage, ...offered: readonly PartOf<'capacitor'>[]): string | undefined =>
  inputDamping(of, inventory(...offered), NOTHING, 'balanced')[0]?.bank.name;

describe('bulk beside the input banks', () => {
  test('is taken where source and stage would oscillate, and then they do not', () => {
    const undamped = stage();
    expect(metImpedances(undamped)?.nearest.closed.share).toBeGreaterThan(IMPEDANCE_SHARE);
    const [found] = inputDamping(undamped, inventory(bulk('B1')), NOTHING, 'balanced');
    expect(found?.bank).toMatchObject({ name: 'B1', count: 1 });
    const damped = { ...undamped, inputCapacitors: [...undamped.inputCapacitors, ...(found ? [found.bank] : [])] };
    const share = metImpedances(damped)?.nearest.closed.share ?? NaN;
    expect(share).toBeLessThan(IMPEDANCE_SHARE);
    expect(found?.why).toContain(`comes to ${share.toFixed(2)} of its own,`);
    // No rating is stated: nothing is said of one.
    expect(found?.why).not.toContain('rating');
  });
  test('is none where nothing is stated before the stage, where its filter is damped, or where it damps itself', () => {
    expect(chosen(complete(), bulk('B1'))).toBeUndefined();
    const filter = { inductance: 2e-6, resistance: 0.01, damping: { capacitance: 100e-6, resistance: 0.2 } };
    expect(chosen(stage({ source: undefined, inputFilter: filter }), bulk('B1'))).toBeUndefined();
    expect(chosen(stage({ source: { inductance: 50e-9, resistance: 0.1 } }), bulk('B1'))).toBeUndefined();
  });
  test('is not of a kind without resistance, nor rated too low or far too high, nor far from the resistance that damps', () => {
    const offered = [
      bulk('ceramic', { kind: 'ceramic' }),
      bulk('low', { ratedVoltage: 14 }),
      bulk('high', { ratedVoltage: 100 }),
      bulk('stiff', { esr: 0.002 }),
      bulk('soft', { esr: 20 }),
    ];
    for (const one of offered) expect([one.name, chosen(stage(), one)]).toEqual([one.name, undefined]);
    expect(chosen(stage(), ...offered, bulk('right'))).toBe('right');
  });
  test('is none where what is on offer does not mend it', () => {
    const long = stage({ source: { inductance: 50e-6, resistance: 0.005 } });
    expect(chosen(long, bulk('weak', { esr: 4 }))).toBeUndefined();
    expect(chosen(long, bulk('weak', { esr: 4 }), bulk('right', { esr: 0.9 }))).toBe('right');
  });
  test('of those that mend as much the best by the objective is taken', () => {
    expect(chosen(stage(), bulk('dear', { price: 3 }), bulk('cheap', { price: 0.1 }))).toBe('cheap');
    expect(chosen(stage(), bulk('large', { length: 16e-3, width: 16e-3 }), bulk('small'))).toBe('small');
  });
  test('as many are put in parallel as the capacitance takes', () => {
    // Four times 22 µF, with a fifth of tolerance: 44 µF make 2.5 of them.
    expect(
      inputDamping(stage(), inventory(bulk('B1', { capacitance: 44e-6, esr: 0.6, tolerance: 0.2 })), NOTHING, 'size')[0]
        ?.bank.count,
    ).toBe(3);
  });
  test('before its loop is known a stage is taken as constant power, and that is said', () => {
    const open = complete({}, { scheme: 'voltage-mode' }, { source: { inductance: 5e-6, resistance: 0.005 } });
    const [found] = inputDamping(open, inventory(bulk('B1')), NOTHING, 'balanced');
    expect(found?.why).toMatch(/comes to 0\.\d\d of its own as constant power, not \d+\.\d\d/);
  });
});

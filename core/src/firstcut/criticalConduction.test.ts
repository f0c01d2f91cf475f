import { describe, expect, test } from '@jest/globals';
import { runNetlist } from '../../testing/ngspice.js';
import { criticalPeriod, criticalWaveform, negativeCurrent, type CriticalPhase } from './criticalConduction.js';

/** 24 to 5 V: half of the output does not reach the input, so that the ring by itself leaves 14 V. */
const BUCK: CriticalPhase = { inductance: 2.2e-6, capacitance: 400e-12, onVoltage: 19, offVoltage: 5, average: 6 };
/** 10 to 40 V: the ring gets there with current to spare. */
const BOOST: CriticalPhase = { inductance: 4.7e-6, capacitance: 250e-12, onVoltage: 10, offVoltage: 30, average: 3 };

const area = ({ time, current }: ReturnType<typeof criticalWaveform>): number =>
  time.reduce((sum, t, k) => {
    const before = time[k - 1];
    return before === undefined ? sum : sum + ((t - before) * ((current[k] ?? NaN) + (current[k - 1] ?? NaN))) / 2;
  }, 0);

describe('critical conduction', () => {
  test('without a ring to speak of the ripple is twice the mean: T = 2 L I (1/V_on + 1/V_off)', () => {
    const { peak, period } = criticalPeriod({ ...BUCK, capacitance: 1e-18 });
    expect(peak).toBeCloseTo(12, 4);
    expect(period / (2 * 2.2e-6 * 6 * (1 / 19 + 1 / 5))).toBeCloseTo(1, 4);
  });
  test.each([
    ['a valley', BUCK, 0],
    ['a current that just does', BUCK, negativeCurrent(BUCK)],
    ['more than needed', BUCK, 2 * negativeCurrent(BUCK)],
    ['a ring that gets there', BOOST, 0],
  ])('the mean of the waveform is the current asked for, and its voltages are in balance: %s', (_, phase, negative) => {
    const found = criticalPeriod(phase, negative);
    const waveform = criticalWaveform(phase, found);
    // The ring is drawn by chords: a thousandth of its area.
    expect(area(waveform) / found.period / phase.average).toBeCloseTo(1, 3);
    expect(waveform.time.at(-1)).toBeCloseTo(found.period, 15);
    // It ends where it began, and the switch closes at what is left.
    expect(waveform.current.at(-1)).toBeCloseTo(waveform.current[0] ?? NaN, 9);
    expect(waveform.voltage.at(-1)).toBeCloseTo(found.left, 9);
  });
  test('a valley leaves V_on − V_off, and the current of the energy balance nothing', () => {
    expect(criticalPeriod(BUCK).left).toBeCloseTo(14, 12);
    expect(criticalPeriod(BUCK).energyLeft).toBeCloseTo(0.5 * 400e-12 * 14 ** 2, 18);
    const needed = negativeCurrent(BUCK);
    // L I² = C (V_on² − V_off²)
    expect(2.2e-6 * needed ** 2).toBeCloseTo(400e-12 * (19 ** 2 - 5 ** 2), 15);
    expect(criticalPeriod(BUCK, needed).left).toBeCloseTo(0, 9);
    expect(criticalPeriod(BUCK, 0.9 * needed).left).toBeGreaterThan(0.5);
    expect(negativeCurrent(BOOST)).toBe(0);
    expect(criticalPeriod(BOOST).left).toBe(0);
  });
  test.each([
    ['valley', BUCK, 0],
    ['a current below nothing', BUCK, negativeCurrent(BUCK)],
    ['half of it', BUCK, 0.5 * negativeCurrent(BUCK)],
    ['free', BOOST, 0],
  ])('the ring is that of ngspice: %s', async (_, phase, negative) => {
    const { inductance, capacitance, onVoltage, offVoltage } = phase;
    const found = criticalPeriod(phase, negative);
    const step = found.ringTime / 4000;
    const measured = await runNetlist(
      [
        'ring of a switch node',
        `V1 in 0 ${String(onVoltage)}`,
        `L1 in sw ${String(inductance)} ic=${String(-negative)}`,
        `C1 sw 0 ${String(capacitance)} ic=${String(onVoltage + offVoltage)}`,
        `.tran ${String(step)} ${String(1.2 * found.ringTime)} 0 ${String(step)} uic`,
        `.meas tran least MIN v(sw) from=0 to=${String(found.ringTime)}`,
        `.meas tran there FIND v(sw) AT=${String(found.ringTime)}`,
        `.meas tran current FIND i(l1) AT=${String(found.ringTime)}`,
        '.end',
        '',
      ].join('\n'),
    );
    const swing = onVoltage + offVoltage;
    expect(Math.abs(measured('there') - found.left)).toBeLessThan(2e-3 * swing);
    expect(Math.abs(measured('least') - found.left)).toBeLessThan(2e-3 * swing);
    const { current } = criticalWaveform(phase, found);
    expect(Math.abs(measured('current') - (current.at(-1) ?? NaN))).toBeLessThan(
      5e-3 * Math.hypot(negative, offVoltage * Math.sqrt(capacitance / inductance)),
    );
  });
});

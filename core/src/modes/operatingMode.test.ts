import { describe, expect, test } from '@jest/globals';
import { boostPulseFrequency, buckPulseFrequency } from '../firstcut/pulseForms.js';
import { typicalMosfet } from '../library/typicalMosfet.js';
import { sizeStage } from '../sizing/size.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { efficiencyCurve, loadsOf } from '../survey/efficiency.js';
import { mapRows, mapsOf } from '../survey/efficiencyMap.js';
import { ABOVE_AUDIO, operatingPointIn, PULSE_SHARE, type OperatingMode } from './operatingMode.js';

function complete(part: object): CompleteStage {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...part });
  if (!read.ok) throw new Error('not valid');
  const sized = sizeStage(read.value);
  if (!sized.ok) throw new Error('not sized');
  return sized.value.complete;
}
const buck = complete({
  topology: 'buck',
  switchingFrequency: 500e3,
  deadTime: 15e-9,
  targets: { inputVoltage: { min: 11, max: 13 }, outputVoltage: 3.3, outputCurrent: { min: 0.001, max: 5 } },
  control: { supplyCurrent: 2e-3, sleepCurrent: 30e-6 },
});
const point = (mode: OperatingMode, share: number, stage = buck) => {
  const current = share * stage.stage.targets.outputCurrent.max;
  const found = operatingPointIn(mode, stage, { inputVoltage: 12, load: { kind: 'current', current } });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found.point;
};

describe('operating modes', () => {
  test('at full load pulse skipping and the audio limit are forced PWM', () => {
    const forced = point('forced-pwm', 1);
    expect(point('pulse-skipping', 1)).toEqual(forced);
    expect(point('ultrasonic', 1)).toEqual(forced);
  });
  test('at 1 % load forced PWM is clearly below pulse skipping, the audio limit between (common practice)', () => {
    const [forced, audio, skipping] = (['forced-pwm', 'ultrasonic', 'pulse-skipping'] as const).map(
      (mode) => point(mode, 0.002).efficiency,
    );
    const [forced1, , skipping1] = (['forced-pwm', 'ultrasonic', 'pulse-skipping'] as const).map(
      (mode) => point(mode, 0.01).efficiency,
    );
    expect((skipping1 ?? NaN) - (forced1 ?? NaN)).toBeGreaterThan(0.1);
    expect(audio).toBeGreaterThan((forced ?? NaN) + 0.1);
    expect(skipping).toBeGreaterThan((audio ?? NaN) + 0.001);
  });
  test('pulses that stand alone come as often as the charge of a triangle says', () => {
    const found = point('pulse-skipping', 0.004);
    const { peak } = found.inductorCurrent;
    const expected = buckPulseFrequency.compute({
      load: 0.02,
      inductance: buck.inductor.inductance,
      peak,
      vIn: 12,
      vOut: 3.3,
    });
    // Losses take a few per cent of the charge.
    expect(found.switchingFrequency / expected).toBeGreaterThan(0.95);
    expect(found.switchingFrequency / expected).toBeLessThan(1.1);
  });
  test('the same of a boost', () => {
    const boost = complete({
      topology: 'boost',
      switchingFrequency: 300e3,
      targets: { inputVoltage: { min: 11, max: 13 }, outputVoltage: 24, outputCurrent: { min: 0.001, max: 2 } },
    });
    const found = point('pulse-skipping', 0.005, boost);
    const expected = boostPulseFrequency.compute({
      load: 0.01,
      inductance: boost.inductor.inductance,
      peak: found.inductorCurrent.peak,
      vIn: 12,
      vOut: 24,
    });
    expect(Math.abs(found.switchingFrequency / expected - 1)).toBeLessThan(0.08);
  });
  test('the frequency falls with the load, never below the audio limit where there is one, never above the clock', () => {
    const frequencies = [1, 0.1, 0.03, 0.01, 0.003, 0.001].map(
      (share) => point('pulse-skipping', share).switchingFrequency,
    );
    for (const [k, f] of frequencies.entries())
      expect(f).toBeLessThanOrEqual((frequencies[k - 1] ?? 500e3) * (1 + 1e-9));
    expect(frequencies.at(-1)).toBeLessThan(20e3);
    expect(point('ultrasonic', 0.001).switchingFrequency).toBeCloseTo(ABOVE_AUDIO, 3);
  });
  test('critical conduction lets the current just reach zero, faster at lighter load', () => {
    for (const share of [1, 0.5]) {
      const { inductorCurrent } = point('critical-conduction', share);
      expect(Math.abs(inductorCurrent.valley) / inductorCurrent.peak).toBeLessThan(1e-3);
    }
    // The ripple is twice the average: half the load, twice the frequency, but for the losses in the duty ratio.
    const ratio =
      point('critical-conduction', 0.5).switchingFrequency / point('critical-conduction', 1).switchingFrequency;
    expect(ratio).toBeGreaterThan(1.8);
    expect(ratio).toBeLessThan(2.05);
  });
  test('a load that is next to nothing still has a point, in bounded time', () => {
    for (const mode of ['forced-pwm', 'pulse-skipping', 'ultrasonic'] as const)
      expect(point(mode, 1e-5).inputPower).toBeGreaterThan(0);
  });
});

describe('efficiency over load (checks marked common practice)', () => {
  const diodeBoost = (inputVoltage: number) => {
    const read = stageFromDocument({
      format: 'yundro-stage',
      version: 1,
      topology: 'boost',
      rectifier: 'diode',
      switchingFrequency: 300e3,
      targets: {
        inputVoltage: { min: inputVoltage, max: inputVoltage },
        outputVoltage: 24,
        outputCurrent: { min: 0.01, max: 2 },
      },
      parts: {
        inductor: { inductance: 22e-6, resistance: 0.04 },
        outputCapacitors: [{ capacitance: 47e-6, esr: 0.01 }],
        lowSide: typicalMosfet(40, 0.02),
        diode: { forwardVoltage: 0.4, dynamicResistance: 0.02, junctionCapacitance: 150e-12 },
      },
      control: { supplyCurrent: 4e-3 },
    });
    if (!read.ok) throw new Error('not valid');
    const made = completeStage(read.value);
    if (!made.ok) throw new Error('not complete');
    return efficiencyCurve(made.value, 'forced-pwm', inputVoltage, loadsOf(made.value, 24)).points;
  };
  test('a 12 V to 24 V diode boost improves when the input rises to 15 V at the same load', () => {
    expect(diodeBoost(15).at(-1)?.efficiency).toBeGreaterThan((diodeBoost(12).at(-1)?.efficiency ?? NaN) + 0.005);
  });
  test('its efficiency has its maximum inside the range of the load, not at full load', () => {
    const points = diodeBoost(12);
    const best = points.reduce((a, b) => (b.efficiency > a.efficiency ? b : a));
    expect(best.outputCurrent).toBeLessThan(0.9 * 2);
    expect(best.outputCurrent).toBeGreaterThan(0.02);
    expect(best.efficiency).toBeGreaterThan((points.at(-1)?.efficiency ?? NaN) + 0.002);
  });
  test('without load the input current is what the mode draws', () => {
    const idle = (mode: OperatingMode) => efficiencyCurve(buck, mode, 12, [0.05, 5]).noLoadCurrent ?? NaN;
    expect(idle('pulse-skipping')).toBeCloseTo(30e-6, 6);
    expect(idle('forced-pwm')).toBeGreaterThan(idle('ultrasonic'));
    expect(idle('ultrasonic')).toBeGreaterThan(idle('pulse-skipping'));
  });
});

describe('efficiency maps', () => {
  test('the lines drawn between lone pulses are those of the engine', () => {
    const modes = ['forced-pwm', 'pulse-skipping', 'ultrasonic'] as const;
    const grid = { loads: 12, inputs: 2 };
    // Two share the rows.
    const rows = [0, 1].flatMap((part) => [...mapRows(buck, modes, grid, part, 2)]);
    expect(rows.map(({ index }) => index)).toEqual([0, 1]);
    const maps = mapsOf(buck, modes, grid, rows);
    expect(maps.map(({ mode }) => mode)).toEqual(modes);
    for (const { mode, loads, inputVoltages, efficiency } of maps) {
      expect([loads.length, inputVoltages]).toEqual([12, [11, 13]]);
      for (const k of [0, 2, 4, 7, 11]) {
        const load = { kind: 'current' as const, current: loads[k] ?? NaN };
        const found = operatingPointIn(mode, buck, { inputVoltage: 13, load });
        const expected = found.kind === 'solved' ? found.point.efficiency : NaN;
        expect(Math.abs((efficiency[1]?.[k] ?? NaN) - expected)).toBeLessThan(1e-3);
      }
    }
  });
});

describe('how a mode finds its frequency', () => {
  const solvedIn = (mode: OperatingMode, current: number, near?: Parameters<typeof operatingPointIn>[3]) => {
    const found = operatingPointIn(mode, buck, { inputVoltage: 12, load: { kind: 'current', current } }, near);
    if (found.kind !== 'solved') throw new Error(found.reason);
    return found;
  };
  test('a known point at a like load leads to the same point', () => {
    for (const mode of ['pulse-skipping', 'ultrasonic'] as const)
      for (const [from, to] of [
        [0.02, 0.03],
        [0.03, 0.02],
        [0.02, 3],
        [3, 0.02],
        [0.001, 0.2],
      ] as const) {
        const cold = solvedIn(mode, to);
        const warm = solvedIn(mode, to, { near: { point: solvedIn(mode, from) } });
        expect(warm.point.switchingFrequency / cold.point.switchingFrequency).toBeCloseTo(1, 3);
        expect(warm.emulated).toBe(cold.emulated);
        expect(warm.point.efficiency).toBeCloseTo(cold.point.efficiency, 4);
      }
  });
  test('a pulse that stands alone lasts the set share of the continuous on-time, whatever the load', () => {
    for (const current of [0.002, 0.01, 0.05]) {
      const { solution, powerStage } = solvedIn('pulse-skipping', current);
      const pulse = solution.duty * solution.period;
      // The frequency settles to 1e-4: the on-time is off by half of it.
      expect(pulse / ((PULSE_SHARE * powerStage.idealDuty) / buck.clock)).toBeCloseTo(1, 3);
    }
  });
  test('pulses never come faster than the clock, nor slower than audio where that is asked', () => {
    for (const current of [0.001, 0.01, 0.1, 1, 5]) {
      expect(solvedIn('pulse-skipping', current).point.switchingFrequency).toBeLessThanOrEqual(buck.clock * (1 + 1e-9));
      expect(solvedIn('ultrasonic', current).point.switchingFrequency).toBeGreaterThanOrEqual(ABOVE_AUDIO * (1 - 1e-9));
    }
  });
  test('where the shortest pulse brings more than the load takes, pulses go below audio after all', () => {
    const slow = { ...buck, stage: { ...buck.stage, control: { ...buck.stage.control, minimumOnTime: 0.15e-6 } } };
    const found = operatingPointIn('ultrasonic', slow, { inputVoltage: 12, load: { kind: 'current', current: 1e-3 } });
    if (found.kind !== 'solved') throw new Error(found.reason);
    expect(found.point.switchingFrequency).toBeLessThan(ABOVE_AUDIO / 1.5);
    // Where only the clock is too fast for it, it stays above audio, and skips as often as it must.
    const skips = operatingPointIn('pulse-skipping', slow, {
      inputVoltage: 12,
      load: { kind: 'current', current: 1e-3 },
    });
    if (skips.kind !== 'solved') throw new Error(skips.reason);
    expect(skips.point.outputVoltage).toBeCloseTo(3.3, 3);
  });
  test('a mode that finds no point says why', () => {
    const condition = { inputVoltage: 3, load: { kind: 'current' as const, current: 1 } };
    for (const mode of ['pulse-skipping', 'critical-conduction'] as const)
      expect(operatingPointIn(mode, buck, condition)).toMatchObject({ kind: 'unsolved', why: 'out-of-reach' });
  });
  test('critical conduction lets the current just reach zero, and runs no faster than its limit', () => {
    const full = solvedIn('critical-conduction', 5);
    const { valley, ripple, average } = full.point.inductorCurrent;
    expect(Math.abs(valley) / ripple).toBeLessThan(1e-3);
    expect(ripple / (2 * average)).toBeCloseTo(1, 3);
    // Ripple goes with 1/f and the average with the load: f ~ 1/load.
    const half = solvedIn('critical-conduction', 2.5);
    // What the losses take of the voltage at full load makes it a little less than twice.
    expect(half.point.switchingFrequency / full.point.switchingFrequency).toBeGreaterThan(1.8);
    expect(half.point.switchingFrequency / full.point.switchingFrequency).toBeLessThan(2.05);
    const light = solvedIn('critical-conduction', 0.01);
    expect(light.point.switchingFrequency).toBeCloseTo(4 * buck.clock, 0);
    expect(light.emulated).toBe(true);
  });
});

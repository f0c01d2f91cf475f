import fc from 'fast-check';
import type { Scenario } from '../src/transient/scenario.js';
import { randomStages } from './randomStages.js';

/** Networks round the amplifier of a random stage: corner frequencies as shares of the switching frequency, good or poor. */
const networks = fc.record({
  network: fc.constantFrom('type-2', 'type-3', 'integrator'),
  amplifier: fc.constantFrom('op-amp', 'op-amp-slow', 'ota'),
  clamped: fc.boolean(),
  zero: fc.double({ min: 0.005, max: 0.05, noNaN: true }),
  gain: fc.double({ min: 0.05, max: 3, noNaN: true }),
});

const controls = fc.record({
  scheme: fc.constantFrom(
    'voltage-mode',
    'voltage-mode-feedforward',
    'peak-current-mode',
    'average-current-mode',
    'constant-on-time',
    'digital',
  ),
  networks,
  mode: fc.constantFrom(
    'forced-pwm',
    'forced-pwm',
    'forced-pwm',
    'pulse-skipping',
    'ultrasonic',
    'critical-conduction',
  ),
  limit: fc.constantFrom(0, 0, 1.1, 2),
  softStart: fc.constantFrom(0, 20, 100),
  minimumOn: fc.constantFrom(0, 0, 0.03),
  hiccup: fc.boolean(),
  saturates: fc.constantFrom(false, false, false, false, false, false, true),
  biased: fc.constantFrom(false, false, true),
});

const happenings = fc.record({
  kind: fc.constantFrom('start-up', 'load-up', 'load-down', 'line', 'short', 'sequence'),
  slew: fc.boolean(),
  share: fc.double({ min: 0.1, max: 0.95, noNaN: true }),
  cycles: fc.integer({ min: 8, max: 24 }),
});

/** Random stages of every topology and scheme, with a controller good or poor, and something that happens to them. */
export const randomScenarios = fc
  .record({ stage: randomStages, control: controls, happens: happenings })
  .map(({ stage, control, happens }) => {
    const { document, condition } = stage;
    const fs = document.switchingFrequency;
    const vOut = Math.abs(document.targets.outputVoltage);
    const reference = Math.min(0.8, vOut / 2);
    const phases = control.scheme === 'constant-on-time' ? 1 : document.phases;
    const load = document.targets.outputCurrent.max;
    const ratio = vOut / condition.vIn;
    const boosted = document.topology === 'buck' ? 1 : 1 + ratio;
    const current = (load * boosted) / phases;
    const rUpper = 10e3;
    const rLower = rUpper / (vOut / reference - 1);
    const { network, amplifier, clamped, zero, gain } = control.networks;
    const cZero = 1 / (2 * Math.PI * rUpper * zero * fs * gain);
    const limits = clamped ? { outputMin: 0, outputMax: 1.5 } : {};
    const compensator = {
      network,
      amplifier:
        amplifier === 'ota'
          ? { kind: 'ota', transconductance: 1e-3, outputResistance: 1e6, ...limits }
          : {
              kind: 'op-amp',
              ...limits,
              ...(amplifier === 'op-amp-slow' && { openLoopGain: 3e3, gainBandwidth: 30 * fs }),
            },
      components: {
        rUpper,
        rLower,
        rZero: 1 / (2 * Math.PI * zero * fs * cZero),
        cZero,
        cPole: cZero / 30,
        rFeedforward: 300,
        cFeedforward: 1 / (2 * Math.PI * zero * fs * rUpper),
      },
    };
    const step = load * happens.share;
    const slewRate = happens.slew ? step * fs : undefined;
    const line = 0.1 * condition.vIn;
    const scenarios: Record<typeof happens.kind, Scenario['happenings']> = {
      'start-up': [],
      'load-up': [{ kind: 'load', at: 0, by: step, slewRate }],
      'load-down': [{ kind: 'load', at: 0, by: -step, slewRate }],
      line: [{ kind: 'line', at: 0, by: line, within: happens.slew ? 3 / fs : undefined }],
      short: [{ kind: 'short', at: 0, resistance: (0.01 * vOut) / load }],
      sequence: [
        { kind: 'load', at: 0, by: step, slewRate },
        { kind: 'line', at: 7.3 / fs, by: line },
        { kind: 'load', at: 12.1 / fs, by: -step, slewRate },
      ],
    };
    return {
      condition: { inputVoltage: condition.vIn, load: condition.load },
      scenario: {
        start: happens.kind === 'start-up' ? ('zero' as const) : ('settled' as const),
        happenings: scenarios[happens.kind],
        cycles: happens.cycles,
      },
      document: {
        ...document,
        phases,
        ...(phases !== document.phases && { coupling: { kind: 'none' } }),
        operatingMode: control.mode,
        parts: {
          ...document.parts,
          ...(control.biased && {
            outputCapacitors: document.parts.outputCapacitors.map((bank) => ({
              ...bank,
              biasCurve: [
                [0, 1],
                [vOut, 0.5],
                [2 * vOut, 0.15],
              ],
            })),
          }),
          ...(control.saturates && {
            inductor: { ...document.parts.inductor, saturationCurrent: 1.5 * current, saturationDrop: 0.3 },
          }),
        },
        control: {
          ...document.control,
          scheme: control.scheme,
          reference,
          rampAmplitude: 1,
          currentSenseGain: 0.5 / current,
          slopeCompensation: 0.3 * fs,
          minimumOnTime: control.minimumOn / fs,
          ...(control.limit > 0 && { currentLimit: control.limit * current * 1.5 }),
          ...(control.softStart > 0 && { softStartTime: control.softStart / fs }),
          ...(control.hiccup && control.limit > 0 && { hiccup: { periods: 8, offTime: 10 / fs } }),
          compensator,
          currentAmplifier: { rInput: 10e3, rZero: 20e3, cZero: 10 / (20e3 * fs), cPole: 0.1 / (20e3 * fs) },
          digital: { proportional: 0.2 * gain, integral: 0.02 * gain, derivative: 0.2 },
        },
      },
    };
  });

import { describe, expect, test } from '@jest/globals';
import { complete, CURRENT, VOLTAGE } from '../../testing/loopStage.js';
import { decibels, degreesOf } from '../linalg/complex.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { averagedPlant } from './averaged.js';
import { plantResponse } from './plantResponse.js';

const BOOST = {
  topology: 'boost',
  targets: { inputVoltage: { min: 5, max: 5 }, outputVoltage: 12, outputCurrent: { max: 1 } },
};
const DIODE = { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } };

/** Averaged less exact, dB and degrees, at a share of the switching frequency of 500 kHz. */
function apart(over: object, control: object, inputVoltage: number, current: number, share: number, parts = {}) {
  const stage = complete(over, control, parts);
  const condition = { inputVoltage, load: { kind: 'current' as const, current } };
  const point = operatingPoint(stage, condition);
  if (point.kind !== 'solved') throw new Error(point.reason);
  const averaged = averagedPlant(stage, condition, point);
  const exact = plantResponse(stage, condition, point);
  if (!averaged || typeof exact === 'string') throw new Error('no model');
  const [a, e] = [averaged(share * 500e3), exact(share * 500e3)];
  const turned = degreesOf(a) - degreesOf(e);
  return { gain: Math.abs(decibels(a) - decibels(e)), phase: Math.abs(turned - 360 * Math.round(turned / 360)) };
}

/** The modulator alone: without a compensator the stage stands at its target, whatever that is. */
const undivided = (control: object): object => ({ ...control, compensator: undefined });

describe('the averaged model against the exact response', () => {
  // A naturally sampled buck answers its control voltage as its average does, at every frequency.
  test.each([
    ['one phase', {}],
    ['dead time', { deadTime: 20e-9 }],
    ['four phases', { phases: 4 }],
  ])('voltage mode buck, %s: the same up to a third of the switching frequency', (_, over) => {
    for (const share of [0.02, 0.1, 0.33]) {
      const { gain, phase } = apart(over, VOLTAGE, 12, 8, share);
      expect(gain).toBeLessThan(0.02);
      expect(phase).toBeLessThan(0.1);
    }
  });
  test('voltage mode boost: apart by some tenths of a decibel towards a third', () => {
    expect(apart(BOOST, undivided(VOLTAGE), 5, 1, 0.1).gain).toBeLessThan(0.05);
    expect(apart(BOOST, undivided(VOLTAGE), 5, 1, 0.33).gain).toBeGreaterThan(0.2);
    expect(apart(BOOST, undivided(VOLTAGE), 5, 1, 0.33).gain).toBeLessThan(0.6);
  });
  test.each([
    ['buck', {}, 12, 8],
    ['three-phase buck', { phases: 3 }, 12, 8],
    ['boost', BOOST, 5, 1],
  ])(
    'peak current mode %s with the sampling gain: within 0.1 dB and 1° up to a tenth',
    (_, over, inputVoltage, current) => {
      for (const share of [0.02, 0.1]) {
        const { gain, phase } = apart(over, undivided(CURRENT), inputVoltage, current, share);
        expect(gain).toBeLessThan(0.1);
        expect(phase).toBeLessThan(1);
      }
    },
  );
  test('discontinuous conduction: one pole, good to 0.1 dB and a few degrees at a hundredth', () => {
    const targets = { inputVoltage: { min: 12, max: 12 }, outputVoltage: -15, outputCurrent: { max: 1 } };
    const stage = { topology: 'inverting-buck-boost', rectifier: 'diode', targets };
    const { gain, phase } = apart(stage, VOLTAGE, 12, 0.05, 0.02, DIODE);
    expect(gain).toBeLessThan(0.1);
    expect(phase).toBeLessThan(3);
  });
  test('with an input filter and series inductance in its capacitors: the same at low frequency', () => {
    const parts = {
      inputCapacitors: [{ capacitance: 22e-6, esr: 0.003, esl: 1e-9 }],
      inputFilter: { inductance: 4.7e-6, resistance: 0.02, damping: { capacitance: 220e-6, resistance: 0.3 } },
    };
    for (const share of [1e-4, 0.02, 0.1]) expect(apart({}, VOLTAGE, 12, 8, share, parts).gain).toBeLessThan(0.2);
  });
  test('there is none for constant on-time', () => {
    const stage = complete({}, { scheme: 'constant-on-time', reference: 0.6 });
    const condition = { inputVoltage: 12, load: { kind: 'current' as const, current: 8 } };
    const point = operatingPoint(stage, condition);
    expect(point.kind === 'solved' && averagedPlant(stage, condition, point)).toBeUndefined();
  });
});

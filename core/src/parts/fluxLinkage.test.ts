import { describe, expect, test } from '@jest/globals';
import { extremes } from '../orbit/measures.js';
import { completeStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint, type SolvedPoint } from '../steady/operatingPoint.js';
import { fluxLinkage } from './fluxLinkage.js';

/** A nearly lossless 12 to 1.8 V buck at 500 kHz, its inductors coupled in some way. */
function solved(phases: number, coupling: object, inductor: object = {}): SolvedPoint {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases,
    coupling,
    switchingFrequency: 500e3,
    targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 1.8, outputCurrent: { max: 40 } },
    parts: {
      inductor: { inductance: 470e-9, resistance: 1e-6, ...inductor },
      outputCapacitors: [{ capacitance: 1e-3, esr: 1e-4 }],
      highSide: { onResistance: 1e-6 },
      lowSide: { onResistance: 1e-6 },
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('not complete');
  const found = operatingPoint(complete.value, { inputVoltage: 12, load: { kind: 'current', current: 40 } });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found;
}
const WAYS = [
  ['uncoupled', 2, { kind: 'none' }],
  ['a pair, inverse', 2, { kind: 'inverse', coefficient: 0.6 }],
  ['a pair, direct', 2, { kind: 'direct', coefficient: 0.6 }],
  ['three on one core', 3, { kind: 'inverse', coefficient: 0.6, core: 'all' }],
] as const;

describe('the flux linkage of a winding', () => {
  // Faraday's law: λ swings by ∫ v dt = V (1 − D) T while the rectifier conducts, whatever the other windings do.
  const swing = (1.8 * (1 - 1.8 / 12)) / 500e3;
  test.each(WAYS)('swings by its volt-seconds: %s', (_, phases, coupling) => {
    const { powerStage, solution, point } = solved(phases, coupling);
    const { peakToPeak } = extremes(solution, fluxLinkage(powerStage.circuit, 'inductor1'));
    expect(Math.abs(peakToPeak / swing - 1)).toBeLessThan(2e-3);
    const own = 470e-9 * point.inductorCurrent.ripple;
    if (coupling.kind === 'none') expect(own / peakToPeak).toBeCloseTo(1, 9);
    else expect(Math.abs(own / swing - 1)).toBeGreaterThan(0.03);
  });
  test('so the core loses the same, however it is coupled', () => {
    const core = { coreLossCoefficient: 0.02, coreLossFrequencyExponent: 1.4, coreLossFluxExponent: 2.6 };
    const [alone, ...coupled] = WAYS.slice(0, 3).map(
      ([, phases, coupling]) => solved(phases, coupling, core).point.losses['inductorCore'] ?? NaN,
    );
    expect(alone).toBeGreaterThan(0);
    for (const loss of coupled) expect(Math.abs(loss / (alone ?? NaN) - 1)).toBeLessThan(0.01);
  });
});

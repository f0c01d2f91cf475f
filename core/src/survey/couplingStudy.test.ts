import { describe, expect, test } from '@jest/globals';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { couplingStudy, couplingSweep, type CouplingStudy } from './couplingStudy.js';

/** 12 to 2.4 V, D = 0.2, windings of 470 nH at 500 kHz, hardly any loss. */
function stage(phases: number, targets: object = {}, inputVoltage: object = { min: 12, max: 12 }): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases,
    switchingFrequency: 500e3,
    targets: { inputVoltage, outputVoltage: 2.4, outputCurrent: { max: 20 * phases }, ...targets },
    parts: {
      inductor: { inductance: 470e-9, resistance: 1e-5 },
      outputCapacitors: [{ capacitance: 20e-3, esr: 1e-5, esl: 0 }],
      highSide: { onResistance: 1e-5 },
      lowSide: { onResistance: 1e-5 },
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('The stage is not complete.');
  return complete.value;
}
function study(phases: number, coefficient: number, targets: object = {}, core?: 'all'): CouplingStudy {
  const found = couplingStudy(stage(phases, targets), { kind: 'inverse', coefficient, core });
  if (typeof found === 'string') throw new Error(found);
  return found;
}
const STEP = { loadStep: { from: 4, to: 30, deviation: 0.1 } };

describe('coupling over the coefficient', () => {
  // Worked by hand from P.-L. Wong et al. (2001), and for the sum from the leakage alone: V D (1 − 2D) T / (L (1 ∓ k)).
  test('winding and summed ripple move in opposite directions, as the published formulas say', () => {
    const swept = couplingSweep(stage(2), 'pairs');
    if (typeof swept === 'string') throw new Error(swept);
    const { points, uncoupled } = swept;
    const at = (kind: string, k: number) => points.find((one) => one.kind === kind && one.coefficient === k);
    for (const [kind, k, winding, summed] of [
      ['inverse', 0.2, 8.09, 7.66],
      ['inverse', 0.8, 18.16, 30.64],
      ['direct', 0.2, 8.94, 5.11],
      ['direct', 0.8, 27.23, 3.4],
    ] as const) {
      expect((at(kind, k)?.winding ?? 0) / winding).toBeCloseTo(1, 2);
      expect((at(kind, k)?.summed ?? 0) / summed).toBeCloseTo(1, 2);
    }
    expect(uncoupled.winding).toBeCloseTo(8.17, 2);
    expect(uncoupled.summed).toBeCloseTo(6.13, 2);
  });
});

describe('three comparisons that give different answers', () => {
  const { comparisons } = study(2, 0.6, STEP);
  const [found] = comparisons;
  if (!found) throw new Error('nothing compared');
  const { coupled, uncoupled } = found;
  test('the same self-inductance: the winding ripples more coupled, and the sum by 1/(1 − k)', () => {
    const self = uncoupled['self-inductance'];
    expect(self?.inductance).toBe(470e-9);
    expect(coupled.winding).toBeGreaterThan(1.2 * (self?.winding ?? Infinity));
    expect(coupled.summed / (self?.summed ?? NaN)).toBeCloseTo(2.5, 2);
  });
  test('the same transient inductance: the winding ripples by (1 − kD/D′)/(1 + k) of it, the sum alike', () => {
    const transient = uncoupled['transient inductance'];
    expect(transient?.inductance).toBeCloseTo(188e-9, 15);
    expect(coupled.transient).toBeCloseTo(188e-9, 15);
    expect(coupled.winding / (transient?.winding ?? NaN)).toBeCloseTo(0.53125, 3);
    expect(coupled.summed / (transient?.summed ?? NaN)).toBeCloseTo(1, 3);
  });
  test('the same size: a choke that stores as much at its own peak as the leakage, and what unequal currents share, at that of a winding', () => {
    const [loose] = study(2, 0.1, STEP).comparisons;
    const size = loose?.uncoupled.size;
    if (!loose || !size) throw new Error('no choke of that size');
    const shared = (0.1 * 470e-9 * (0.15 * 20) ** 2) / 2;
    const stored = (0.9 * 470e-9 * loose.coupled.peak ** 2) / 2 + shared;
    expect((size.inductance * size.peak ** 2) / 2 / stored).toBeCloseTo(1, 2);
    // The least a choke can store that carries I with volt-seconds λ is I λ, where its current comes down to zero: more than this leaks.
    expect(uncoupled.size).toBeUndefined();
  });
  test('flux: what is shared swings with the difference of the currents, and with one that carries more', () => {
    // λ = k L (i₁ − i₂); within the on-time of one the difference swings by V T D / (L (1 + k)), half of it either way.
    const swing = ((12 * 2e-6 * 0.2) / (470e-9 * 1.6)) * 0.6 * 470e-9;
    expect(found.sharedFlux / (swing / 2)).toBeCloseTo(1, 2);
    expect(found.unbalancedFlux - found.sharedFlux).toBeCloseTo(0.6 * 470e-9 * 0.15 * 20, 9);
  });
});

describe('whether coupling is worth it here', () => {
  test('with a load step it is held against the same transient inductance, without one against the same winding', () => {
    const stepped = study(2, 0.6, STEP);
    expect(stepped.worth).toBe(true);
    expect(stepped.verdict).toMatch(/^Worth it here: the load step sets the inductance.*188.nH/);
    const quiet = study(2, 0.6);
    expect(quiet.worth).toBe(false);
    expect(quiet.verdict).toMatch(/^Not worth it here: no load step is asked for.*470.nH/);
  });
  test('it is judged at the input voltage where it gains least', () => {
    const found = couplingStudy(stage(2, STEP, { min: 6, max: 12 }), { kind: 'inverse', coefficient: 0.6 });
    if (typeof found === 'string') throw new Error(found);
    const ratios = found.comparisons.map(
      ({ coupled, uncoupled, inputVoltage }) =>
        [inputVoltage, coupled.winding / (uncoupled['transient inductance']?.winding ?? NaN)] as const,
    );
    const [worst] = [...ratios].sort((a, b) => b[1] - a[1]);
    expect(found.verdict).toContain(`${(worst?.[1] ?? 0).toFixed(2)} times`);
    // (1 − kD/D′)/(1 + k) falls as D rises to a half: the highest input gains least.
    expect(worst?.[0]).toBe(12);
  });
  test('all on one core is another thing than pairs, and an odd number or a single phase is told of', () => {
    expect(study(4, 0.6, {}, 'all').windings).toBe(4);
    expect(study(4, 0.6).windings).toBe(2);
    expect(couplingStudy(stage(3), { kind: 'inverse', coefficient: 0.5 })).toContain('cannot be joined in pairs');
    expect(couplingStudy(stage(1), { kind: 'inverse', coefficient: 0.5 })).toContain('single phase');
    expect(couplingSweep(stage(3), 'pairs')).toContain('cannot be joined in pairs');
    expect(couplingSweep(stage(1), 'all')).toContain('single phase');
  });
  test('an input voltage without an operating point is told of, not left out', () => {
    const limited = stage(2, {}, { min: 6, max: 12 });
    const cannot = { ...limited, stage: { ...limited.stage, control: { ...limited.stage.control, dutyMax: 0.3 } } };
    expect(couplingStudy(cannot, { kind: 'inverse', coefficient: 0.5 })).toMatch(/^At 6\.00.V input/);
    const swept = couplingSweep(cannot, 'pairs');
    if (typeof swept === 'string') throw new Error(swept);
    expect(swept.uncoupled.winding).toBeNaN();
  });
});

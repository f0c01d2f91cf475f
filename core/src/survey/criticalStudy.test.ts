import { describe, expect, test } from '@jest/globals';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPointIn } from '../modes/operatingMode.js';
import { criticalStudy, type CriticalStudy } from './criticalStudy.js';

const MOSFET = { onResistance: 5e-3, outputCharge: 10e-9, outputChargeVoltage: 20, drainSourceVoltageMax: 60 };

function stage(change: object = {}, parts: object = {}): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases: 2,
    operatingMode: 'critical-conduction',
    switchingFrequency: 500e3,
    targets: { inputVoltage: { min: 8, nominal: 24, max: 30 }, outputVoltage: 5, outputCurrent: { min: 1, max: 12 } },
    parts: {
      inductor: { inductance: 2.2e-6, resistance: 1e-3, tolerance: 0.1 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 1e-3 }],
      highSide: MOSFET,
      lowSide: MOSFET,
      ...parts,
    },
    ...change,
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('not complete');
  return complete.value;
}
function study(change: object = {}, parts: object = {}): CriticalStudy {
  const found = criticalStudy(stage(change, parts));
  if (typeof found === 'string') throw new Error(found);
  return found;
}

describe('critical conduction over load and input', () => {
  const found = study();
  test('the frequency falls with the load, and is that of the engine but for the ring and the losses', () => {
    const { frequencies } = found.inputs[1]?.ways.valley ?? { frequencies: [] };
    frequencies.forEach((value, k) => k > 0 && expect(value).toBeLessThan(frequencies[k - 1] ?? 0));
    const full = frequencies.at(-1) ?? NaN;
    const point = operatingPointIn('critical-conduction', stage(), {
      inputVoltage: 24,
      load: { kind: 'current', current: 12 },
    });
    if (point.kind !== 'solved') throw new Error(point.reason);
    // The engine has no ring: half a period of it, 2 % here, and a little charge.
    expect(full / point.point.switchingFrequency).toBeGreaterThan(0.93);
    expect(full / point.point.switchingFrequency).toBeLessThan(1);
  });
  test('below twice the output the ring gets there by itself, above it takes a current below nothing', () => {
    // Buck: the ring takes the node to 2 V_out at most.
    const [low, , high] = found.inputs;
    expect(low).toMatchObject({ inputVoltage: 8, negative: 0, left: 0, energyLeft: 0 });
    expect(high?.left).toBeCloseTo(20, 9);
    expect(high?.negative).toBeGreaterThan(0.1);
    expect(high?.ways.valley.lost).toBeGreaterThan(0);
    expect(high?.ways['no-voltage'].lost).toBeLessThan(1e-9);
    // The boost the other way about: free where the input is below half the output.
    const boost = study({
      topology: 'boost',
      targets: { inputVoltage: { min: 8, max: 18 }, outputVoltage: 24, outputCurrent: { max: 4 } },
    });
    expect(boost.inputs.at(0)?.negative).toBe(0);
    expect(boost.inputs.at(-1)?.left).toBeCloseTo(12, 9);
  });
  test('two phases half a period apart leave of the ripple what triangles do', () => {
    // D ≈ 5/24: (1 − 2 D)/(1 − D) of one ripple (standard), but for the rings.
    const { summed, winding } = found.shown.valley;
    expect(summed / winding).toBeCloseTo((1 - 10 / 24) / (1 - 5 / 24), 1);
    const one = study({ phases: 1 }).shown.valley;
    expect(one.summed / one.winding).toBeCloseTo(1, 2);
  });
  test('inverse coupling quickens it by what it leaves of the ripple of a winding; a single phase has none', () => {
    const { coupled } = study({ coupling: { kind: 'inverse', coefficient: 0.5 } });
    expect(coupled?.coupling.coefficient).toBe(0.5);
    // Wong et al. 2001: L_eq = (L² − M²)/(L − M D/(1 − D)) up to D = 0.5.
    const duty = 5 / 24;
    const equivalent = (1 - 0.25) / (1 - (0.5 * duty) / (1 - duty));
    expect(coupled?.factors[1]).toBeCloseTo(1 / equivalent, 3);
    expect(study({ phases: 1 }).coupled).toBeUndefined();
  });
  test('the period goes with the inductance: the phase with more of it must lead', () => {
    const [low, high] = found.spread ?? [NaN, NaN];
    expect(low).toBeGreaterThan(0.89);
    expect(low).toBeLessThan(0.92);
    expect(high).toBeGreaterThan(1.08);
    expect(high).toBeLessThan(1.11);
    expect(study({}, { inductor: { inductance: 2.2e-6 } }).spread).toBeUndefined();
  });
  test('without output charge, or with two legs, it says why there is nothing to study', () => {
    expect(criticalStudy(stage({}, { highSide: { onResistance: 5e-3 }, lowSide: { onResistance: 5e-3 } }))).toMatch(
      /no output charge/,
    );
    expect(
      criticalStudy(stage({ topology: 'four-switch-buck-boost' }, { outputHighSide: MOSFET, outputLowSide: MOSFET })),
    ).toMatch(/one half bridge/);
  });
});

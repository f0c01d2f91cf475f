import { describe, expect, test } from '@jest/globals';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { genericParts } from '../library/genericParts.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { filledFromClass } from './filledFromClass.js';

const records = genericParts();

function stage(parts: object, rest: object = {}): Stage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 400e3,
    deadTime: 30e-9,
    control: { supplyCurrent: 3e-3 },
    targets: { inputVoltage: { min: 40, max: 56 }, outputVoltage: 12, outputCurrent: { min: 1, max: 8 } },
    ...rest,
    parts: {
      inductor: { inductance: 6.8e-6, resistance: 6e-3 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 5e-3 }],
      highSide: { onResistance: 20e-3 },
      lowSide: { onResistance: 8e-3 },
      ...parts,
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
}
function worked(of: Stage): EvaluatedStage {
  const found = evaluateStage(of);
  if (!found.ok) throw new Error(JSON.stringify(found.problems));
  return found.value;
}

describe('what parts do not state, filled from their class', () => {
  const bare = stage({});
  const { stage: whole, filled } = filledFromClass(bare, records);
  const [before, after] = [worked(bare), worked(whole)];

  test('then nothing of them is left out any more, and no corner looks better', () => {
    expect(before.evaluation.notIncluded.length).toBeGreaterThan(5);
    expect(after.evaluation.notIncluded).toEqual([]);
    after.evaluation.operatingPoints.forEach((point, k) => {
      expect(point.efficiency).toBeLessThan((before.evaluation.operatingPoints[k]?.efficiency ?? 0) - 0.005);
    });
  });
  test('a part says in its notes what was filled, and each datum is told with its place and unit', () => {
    expect(whole.parts.inductor?.notes).toMatch(/^Typical of its class, not stated: .*core loss/);
    expect(whole.parts.highSide?.notes).toContain('total gate charge');
    expect(filled).toContainEqual({
      path: 'parts.highSide.gateCharge',
      quantity: 'high-side switch: total gate charge',
      unit: 'C',
      value: whole.parts.highSide?.gateCharge,
    });
  });
  test('the class is that of the voltage it blocks: from memory, 10 to 40 nC for 20 mΩ of 80 V at 10 V', () => {
    // R Qg of 105 to 180 mΩ nC from the best to the ordinary of the class.
    const product = 20e-3 * (whole.parts.highSide?.gateCharge ?? NaN);
    expect(product).toBeGreaterThan(100e-12);
    expect(product).toBeLessThan(200e-12);
    const low = filledFromClass(stage({}, { targets: { inputVoltage: { min: 5, max: 12 }, outputVoltage: 3.3, outputCurrent: { max: 8 } } }), records); // prettier-ignore
    expect(low.stage.parts.highSide?.gateCharge).toBeLessThan((whole.parts.highSide?.gateCharge ?? 0) / 2);
  });
  test('what is stated stands, the notes too', () => {
    const own = { onResistance: 20e-3, gateCharge: 99e-9, drainSourceVoltageMax: 150, notes: 'Measured.' };
    const found = filledFromClass(stage({ highSide: own }), records).stage.parts.highSide;
    expect(found).toMatchObject({ gateCharge: 99e-9, drainSourceVoltageMax: 150 });
    expect(found?.notes).toMatch(/^Measured\. Typical of its class, not stated: gate-drain charge/);
    // A core loss is one law: none of it is mixed in where a coefficient is stated.
    const core = { inductance: 6.8e-6, resistance: 6e-3, coreLossCoefficient: 1e-3, alternatingResistance: 0.1 };
    expect(filledFromClass(stage({ inductor: core }), records).stage.parts.inductor).toEqual(core);
  });
  test('a switch that is a rectifying diode is filled as one; nothing is added where nothing lacks', () => {
    const diode = stage(
      { diode: { forwardVoltage: 0.5, reverseVoltageMax: 100, currentMax: 10 } },
      { rectifier: 'diode' },
    );
    const found = filledFromClass(diode, records).stage.parts.diode;
    expect(found?.junctionCapacitance).toBeGreaterThan(0);
    expect(found?.junctionToAmbient).toBeGreaterThan(0);
    expect(filledFromClass(whole, records)).toEqual({ stage: whole, filled: [] });
  });
});

import { describe, expect, test } from '@jest/globals';
import { buckInputCapacitorRms, buckRipple, summedRipple } from '../firstcut/buckForms.js';
import { completeStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint, type OperatingPoint } from '../steady/operatingPoint.js';

const [VOLTS, PERIOD, INDUCTANCE, EACH] = [12, 2e-6, 1e-6, 10];

/** Phases with next to no loss, an output that hardly ripples and input capacitors that carry the whole alternating current. */
function ideal(phases: number, duty: number): OperatingPoint {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases,
    switchingFrequency: 1 / PERIOD,
    targets: {
      inputVoltage: { min: VOLTS, max: VOLTS },
      outputVoltage: VOLTS * duty,
      outputCurrent: { max: EACH * phases },
    },
    parts: {
      inductor: { inductance: INDUCTANCE, resistance: 1e-7 },
      outputCapacitors: [{ capacitance: 0.1, esr: 0, esl: 0 }],
      inputCapacitors: [{ capacitance: 0.1, esr: 1e-7, esl: 0 }],
      highSide: { onResistance: 1e-7 },
      lowSide: { onResistance: 1e-7 },
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('The stage is not complete.');
  const found = operatingPoint(complete.value, {
    inputVoltage: VOLTS,
    load: { kind: 'current', current: EACH * phases },
  });
  if (found.kind !== 'solved') throw new Error(`${String(phases)} phases, D = ${String(duty)}: ${found.reason}`);
  return found.point;
}

// Standard results, by summing the phase triangles and by integrating the input current.
describe('interleaving over a grid of phases and duty ratios, within 0.1 % of the published formulas', () => {
  const duties = Array.from({ length: 12 }, (_, k) => 0.043 + 0.079 * k);
  test.each([1, 2, 3, 4, 5, 6, 8, 12])('%i phases', (phases) => {
    for (const duty of duties) {
      const point = ideal(phases, duty);
      const ripple = buckRipple.compute({ vOut: VOLTS * duty, duty, fSw: 1 / PERIOD, inductance: INDUCTANCE });
      expect(point.inductorCurrent.ripple / ripple).toBeCloseTo(1, 3);
      const summed = summedRipple.compute({ ripple, duty, phases });
      // Near a null little is left: to 0.1 % of one phase there.
      expect(Math.abs(point.totalInductorRipple - summed)).toBeLessThan(1e-3 * Math.max(summed, 0.1 * ripple));
      const rms = buckInputCapacitorRms.compute({ loadCurrent: EACH * phases, duty, phases, ripple });
      expect(point.inputCapacitorRms / rms).toBeCloseTo(1, 3);
      const bare = buckInputCapacitorRms.compute({ loadCurrent: EACH * phases, duty, phases, ripple: 0 });
      expect(point.inputCapacitorRms).toBeGreaterThan(bare);
    }
  });
});

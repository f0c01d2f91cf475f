import { describe, expect, test } from '@jest/globals';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { stageSchema, type Stage } from '../stage/schema.js';
import { nearestOf } from './nearest.js';

const stage = (targets: object = {}, more: object = {}): Stage =>
  stageSchema.parse({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    rectifier: 'diode',
    switchingFrequency: 500e3,
    targets: {
      inputVoltage: { min: 20, max: 30 },
      outputVoltage: 12,
      outputCurrent: { min: 1, max: 4 },
      switchingFrequency: { min: 200e3, max: 500e3 },
      ...targets,
    },
    parts: {
      inductor: { inductance: 10e-6, resistance: 0 },
      outputCapacitors: [{ capacitance: 100e-6 }],
      highSide: { onResistance: 0 },
      diode: { forwardVoltage: 0.4 },
    },
    ...more,
  });
function worked(of: Stage): EvaluatedStage {
  const evaluated = evaluateStage(of);
  if (!evaluated.ok) throw new Error(JSON.stringify(evaluated.problems));
  return evaluated.value;
}
const given = (of: Stage, lacksRecord: boolean, holds: (one: Stage) => boolean): readonly string[] =>
  nearestOf(of, worked(of), lacksRecord, holds).map(
    ({ target, from, to }) => `${target}: ${String(from)} to ${String(to)}`,
  );
const never = (): boolean => false;

describe('what would have to be given', () => {
  test('nothing, and nothing is looked for, where every target holds', () => {
    expect(
      given(stage(), false, () => {
        throw new Error('looked for');
      }),
    ).toEqual([]);
  });
  test('the target that is missed, to what is reached', () => {
    // (30.4 V − 12.4 V)/10 µH · 0.41/500 kHz over 4 A: a ratio of about 0.37.
    const [ripple, ...rest] = given(stage({ inductorRippleRatio: 0.2 }), false, never);
    expect(ripple).toMatch(/^inductorRippleRatio: 0\.2 to 0\.3\d+$/);
    expect(rest).toEqual([]);
  });
  test('and the choices made otherwise with which a draft holds: rectifier, a phase more, a frequency outside the range', () => {
    const failing = stage({ inductorRippleRatio: 0.2 });
    expect(given(failing, false, ({ rectifier }) => rectifier === 'synchronous')).toContain(
      'rectifier: diode to synchronous',
    );
    expect(given(failing, false, ({ phases }) => phases === 2)).toContain('phases: 1 to 2');
    expect(given(failing, false, ({ targets }) => targets.switchingFrequency?.max === 1e6)).toContain(
      'targets.switchingFrequency.max: 500000 to 1000000',
    );
    expect(given(failing, false, ({ switchingFrequency }) => switchingFrequency === 100e3)).toContain(
      'targets.switchingFrequency.min: 200000 to 100000',
    );
  });
  test('where no record does: the largest share of the load that one carries', () => {
    expect(given(stage(), true, ({ targets }) => targets.outputCurrent.max < 2.5)).toEqual([
      'targets.outputCurrent.max: 4 to 2',
    ]);
  });
  test('and where no choice does alone, a switch for the diode and as many phases as it takes', () => {
    const together = ({ rectifier, phases }: Stage): boolean => rectifier === 'synchronous' && phases === 3;
    expect(given(stage(), true, together)).toEqual(['rectifier and phases: diode, 1 to synchronous, 3']);
    expect(given(stage(), true, never)).toEqual([]);
  });
});

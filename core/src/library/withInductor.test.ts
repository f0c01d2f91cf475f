import { describe, expect, test } from '@jest/globals';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import type { PartOf } from './libraryPart.js';
import { windingsMismatch, withInductor } from './withInductor.js';

const PAIR: PartOf<'inductor'> = { name: 'pair', inductance: 250e-9, resistance: 2e-4, couplingCoefficient: 0.6 };
const ALONE: PartOf<'inductor'> = { name: 'alone', inductance: 250e-9, resistance: 2e-4 };

function stage(phases: number, coupling: object): Stage {
  const targets = { inputVoltage: { min: 11, max: 13 }, outputVoltage: 1, outputCurrent: { max: 40 } };
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, topology: 'buck', phases, coupling, targets });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
}
const inverse = (coefficient: number, core = 'pairs') => ({ kind: 'inverse', coefficient, core });

describe('an inductor of the library in a stage', () => {
  test('a pair brings its coefficient along, and leaves it out of the part', () => {
    const found = withInductor(stage(2, inverse(0.5)), PAIR);
    expect(found.coupling).toEqual({ kind: 'inverse', coefficient: 0.6, core: 'pairs' });
    expect(found.parts.inductor).toEqual({ name: 'pair', inductance: 250e-9, resistance: 2e-4 });
    expect(stageFromDocument(found).ok).toBe(true);
  });
  test('one winding alone changes nothing else', () => {
    const before = stage(2, inverse(0.5));
    expect(withInductor(before, ALONE)).toEqual({ ...before, parts: { ...before.parts, inductor: ALONE } });
  });
  test.each([
    ['alone in an uncoupled stage', stage(2, { kind: 'none' }), ALONE, undefined],
    ['a pair in an uncoupled stage', stage(2, { kind: 'none' }), PAIR, /not coupled/],
    ['alone in a coupled stage', stage(2, inverse(0.5)), ALONE, /one winding alone/],
    ['a pair in pairs', stage(4, inverse(0.5)), PAIR, undefined],
    ['a pair where all of two share a core', stage(2, inverse(0.65, 'all')), PAIR, undefined],
    ['a pair just a tenth away', stage(2, inverse(0.5)), { ...PAIR, couplingCoefficient: 0.4 }, undefined],
    [
      'a pair just a tenth away, where it rounds up',
      stage(2, inverse(0.7)),
      { ...PAIR, couplingCoefficient: 0.8 },
      undefined,
    ],
    ['a pair where all of four do', stage(4, inverse(0.6, 'all')), PAIR, /4 share a core/],
    ['a pair where the windings are to be alike', stage(2, { kind: 'direct', coefficient: 0.6 }), PAIR, /cancel/],
    ['a pair of quite another coefficient', stage(2, inverse(0.49)), PAIR, /0\.6 is further than 0\.1 from the 0\.49/],
  ])('%s', (_, of, part, words) => {
    const found = windingsMismatch(of, part);
    if (words === undefined) expect(found).toBeUndefined();
    else expect(found).toMatch(words);
  });
});

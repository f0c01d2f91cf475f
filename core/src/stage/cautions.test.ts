import { describe, expect, test } from '@jest/globals';
import { cautionsOf } from './cautions.js';
import { stageSchema } from './schema.js';

const cautions = (part: object): string =>
  cautionsOf(
    stageSchema.parse({
      format: 'yundro-stage',
      version: 1,
      topology: 'buck',
      targets: { inputVoltage: { min: 20, max: 30 }, outputVoltage: 12, outputCurrent: { max: 1 } },
      ...part,
    }),
  ).join(' ');

describe('cautions', () => {
  test('a low-voltage buck with ceramics needs none', () => {
    expect(cautions({ parts: { outputCapacitors: [{ capacitance: 1e-5 }] } })).toBe('');
  });
  test('above 60 V, at the input or the output', () => {
    expect(
      cautions({ targets: { inputVoltage: { min: 50, max: 80 }, outputVoltage: 12, outputCurrent: { max: 1 } } }),
    ).toContain('more than 60 V DC');
  });
  test('a boost that can run away', () => {
    const part = {
      topology: 'boost',
      targets: { inputVoltage: { min: 9, max: 15 }, outputVoltage: 48, outputCurrent: { max: 1 } },
    };
    expect(cautions(part)).toContain('Without feedback or without load');
    expect(cautions(part)).not.toContain('60 V');
  });
  test('capacitors with a temper', () => {
    const bank = (kind: string) => ({ parts: { outputCapacitors: [{ kind, capacitance: 1e-5 }] } });
    expect(cautions(bank('tantalum'))).toContain('surge');
    expect(cautions(bank('electrolytic'))).toContain('polarity');
  });
});

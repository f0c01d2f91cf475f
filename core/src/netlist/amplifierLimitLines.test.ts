import { describe, expect, test } from '@jest/globals';
import { idealAmplifier, transconductor, type Element } from '../circuit/elements.js';
import { amplifierLimitLines } from './amplifierLimitLines.js';

const CLAMP = { node: 'control', min: 0.2, max: 1.5 };
const OP_AMP: readonly Element[] = [idealAmplifier('amplifier', 'control', ['reference', 'feedback'])];
const OTA: readonly Element[] = [transconductor('amplifier', ['0', 'control'], ['reference', 'feedback'], 1e-3)];

describe('limits of an amplifier in a netlist', () => {
  test('an ideal one is a source that stops at them, in place of its own lines', () => {
    expect(amplifierLimitLines(OP_AMP, CLAMP, 1)).toEqual({
      replaces: 'amplifier',
      lines: [
        'blimit control 0 V = max(2.000000000e-1, min(1.500000000e+0, 1.000000000e+7*(v(reference)-v(feedback))))',
      ],
    });
  });
  test('a negative output mirrors them', () => {
    expect(amplifierLimitLines(OP_AMP, CLAMP, -1)?.lines[0]).toContain('max(-1.500000000e+0, min(-2.000000000e-1,');
  });
  test('beside a transconductance what is too much is carried off, and its own lines stay', () => {
    const found = amplifierLimitLines(OTA, CLAMP, 1);
    expect(found?.replaces).toBeUndefined();
    expect(found?.lines).toEqual([
      'blimit control 0 I = 1.000000000e+3*(max(0, v(control) - 1.500000000e+0) + min(0, v(control) - 2.000000000e-1))',
    ]);
  });
  test('behind a follower it is the node that is followed', () => {
    const followed: readonly Element[] = [
      transconductor('amplifier', ['0', 'inner'], ['reference', 'feedback'], 1e-3),
      idealAmplifier('follower', 'control', ['inner', 'control']),
    ];
    expect(amplifierLimitLines(followed, CLAMP, 1)?.lines[0]).toMatch(/^blimit inner 0 I = /);
  });
  test('without an amplifier there is nothing to limit', () => {
    expect(amplifierLimitLines([], CLAMP, 1)).toBeUndefined();
  });
});

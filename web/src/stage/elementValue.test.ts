import { describe, expect, test } from '@jest/globals';
import type { Element } from '@yundro/core';
import { elementDetails, elementValue } from './elementValue';

const between = { name: 'x', a: 'a', b: 'b' };
const plain = (text: string): string => text.replace(/[\u2009\u202f\u00a0]/g, ' ');
const cases: readonly [Element, string, string][] = [
  [{ ...between, kind: 'resistor', resistance: 0.005 }, '5 mΩ', '5 mΩ'],
  [{ ...between, kind: 'inductor', inductance: 6.8e-6, resistance: 0.008 }, '6.8 µH', '6.8 µH, 8 mΩ in series'],
  [
    { ...between, kind: 'capacitor', capacitance: 22e-6, esr: 0.003, esl: 0.5e-9 },
    '22 µF',
    '22 µF at its bias, ESR 3 mΩ, ESL 500 pH',
  ],
  [{ ...between, kind: 'voltageSource', voltage: 12 }, '12 V', '12 V'],
  [{ ...between, kind: 'currentSource', current: -0.6 }, '600 mA', 'draws 600 mA'],
  [{ ...between, kind: 'switch', onResistance: 0.004 }, '4 mΩ', '4 mΩ when closed'],
  [
    { ...between, kind: 'diode', forwardVoltage: 0.45, dynamicResistance: 0.02 },
    '450 mV',
    '450 mV and 20 mΩ when it conducts',
  ],
  [{ ...between, kind: 'transconductor', plus: 'p', minus: 'm', transconductance: 1e-3 }, '1 mS', '1 mS'],
  [{ ...between, kind: 'idealAmplifier', plus: 'p', minus: 'm' }, '', ''],
  [{ ...between, kind: 'currentSense', inductor: 'inductor1', gain: 0.05 }, '', ''],
];

describe('what an element is worth', () => {
  test.each(cases)('%j', (element, value, details) => {
    // The drawing prints three digits; trailing zeros are the formatter's matter.
    const trimmed = (text: string): string =>
      plain(text)
        .replace(/(\.\d*?)0+(?=\D|$)/g, '$1')
        .replace(/\.(?=\D|$)/g, '');
    expect(trimmed(elementValue(element))).toBe(value);
    expect(trimmed(elementDetails(element))).toBe(details);
  });
});

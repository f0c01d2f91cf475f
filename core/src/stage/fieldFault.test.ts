import { describe, expect, test } from '@jest/globals';
import { fieldFault } from './fieldFault.js';
import { pathKey, withValue, type StagePath } from './place.js';
import { stageFromDocument } from './readStage.js';

const LABELS: Readonly<Record<string, string>> = {
  'targets.inputVoltage.min': 'Lowest input voltage',
  'targets.inputVoltage.nominal': 'Nominal',
  'targets.inputVoltage.max': 'Highest',
  'targets.outputVoltage': 'Output voltage',
  'parts.inductor.inductance': 'Inductance',
};
const stage = {
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  targets: {
    inputVoltage: { min: 10, nominal: 12, max: 14 },
    outputVoltage: 5,
    outputCurrent: { min: 0.1, max: 3 },
  },
};

/** The sentence at a field with this text and value in it. */
function fault(path: StagePath, text: string, value: unknown, before: unknown = stage): string {
  const read = stageFromDocument(withValue(before, path, value));
  if (read.ok) throw new Error('taken');
  const [problem] = read.problems;
  if (!problem) throw new Error('no problem');
  return fieldFault(problem, path, {
    labelOf: (place) => LABELS[pathKey(place)],
    textOf: (place) => (pathKey(place) === pathKey(path) ? text : undefined),
    document: before,
  });
}
const IN = ['targets', 'inputVoltage'];

describe('a fault names what is on the screen, at the field that was typed into, with the way out', () => {
  test.each<[StagePath, string, unknown, string]>([
    [[...IN, 'min'], '20', 20, 'Lowest input voltage, 20, is above Highest, 14 V: write 14 V or less, or raise Highest.'],
    [[...IN, 'max'], '4', 4, 'Highest, 4, is below Lowest input voltage, 10 V: write 10 V or more, or lower Lowest input voltage.'],
    [[...IN, 'nominal'], '15', 15, 'Nominal, 15, is above Highest, 14 V: write 14 V or less, or raise Highest.'],
    [[...IN, 'nominal'], '9', 9, 'Nominal, 9, is below Lowest input voltage, 10 V: write 10 V or more, or lower Lowest input voltage.'],
    [['targets', 'outputVoltage'], '12', 12, 'Output voltage, 12, is not below Lowest input voltage, 10 V, as a buck stage only steps down: write less than 10 V, or raise Lowest input voltage.'],
    [['topology'], 'boost', 'boost', 'Highest, 14 V, is not below Output voltage, 5 V, as a boost stage only steps up: lower Highest, or raise Output voltage.'],
    [['parts', 'inductor', 'inductance'], '2', 2, 'Inductance is 2, but must be at least 1 pH and at most 1 H.'],
  ])('%j: %s', (path, text, value, sentence) => {
    expect(fault(path, text, value).replace(/\u2009/g, ' ')).toBe(sentence);
  }); // prettier-ignore
});

import { describe, expect, test } from '@jest/globals';
import { problemsSentence } from './problemSentence.js';
import { migrated } from './migrate.js';
import { readStage, stageFromDocument, writeStage } from './readStage.js';
import { stageJsonSchema } from './jsonSchema.js';
import { stageField, type StageInput } from './schema.js';

const bare: StageInput = {
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  targets: { inputVoltage: { min: 20, max: 29.2 }, outputVoltage: 12, outputCurrent: { min: 0.1, max: 8 } },
};

const sentence = (text: string): string => {
  const read = readStage(text);
  return read.ok ? 'read' : problemsSentence(read.problems);
};
const changed = (part: object): string => sentence(JSON.stringify({ ...bare, ...part }));

describe('stage files that are refused, each with one sentence', () => {
  test.each<[string, string, string]>([
    [
      'unknown key',
      changed({ colour: 1 }),
      'At colour: the key “colour” is not known here; remove it or check its spelling.',
    ],
    [
      'unknown key deep inside',
      changed({ parts: { inductor: { inductance: 1e-6, colour: 'red' } } }),
      'At parts.inductor.colour: the key “colour” is not known here; remove it or check its spelling.',
    ],
    [
      'negative inductance',
      changed({ parts: { inductor: { inductance: -3e-6 } } }),
      'At parts.inductor.inductance: the inductance is -3\u2009µH, but must be at least 1\u2009pH and at most 1\u2009H.',
    ],
    [
      'minimum above maximum',
      changed({ targets: { ...bare.targets, inputVoltage: { min: 30, max: 29.2 } } }),
      'At targets.inputVoltage.min: 30\u2009V does not fit; needed here is a minimum input voltage that is not above the maximum.',
    ],
    [
      'text for a number',
      changed({ targets: { ...bare.targets, outputVoltage: 'twelve' } }),
      'At targets.outputVoltage: the output voltage is the text “twelve”, but must be a number in V.',
    ],
    [
      'two megabytes of zeros',
      sentence('0'.repeat(2e6)),
      'At the top level: the file is 2.0 MB; a stage file holds at most 1 MB.',
    ],
    [
      'truncated JSON',
      sentence(JSON.stringify(bare).slice(0, 60)),
      'At the top level: the file is not readable as JSON: it ends in the middle, after 60 characters.',
    ],
    [
      'a stray comma',
      sentence('{"a":1,,}'),
      'At the top level: the file is not readable as JSON: it cannot be understood from line 1, character 8 on.',
    ],
    ['an empty file', sentence(''), 'At the top level: the file is not readable as JSON: it is empty.'],
    ['a list', sentence('[]'), 'At the top level: the file is [], but must be an object in braces.'],
    [
      'a newer version',
      changed({ version: 2 }),
      'At version: the file is of version 2, newer than this program reads (version 1); update Yundro to open it.',
    ],
    [
      'an unknown topology',
      changed({ topology: 'sideways' }),
      'At topology: the text “sideways” is not allowed; choose "buck", "boost", "inverting-buck-boost" or "four-switch-buck-boost".',
    ],
    [
      'a missing target',
      changed({ targets: { ...bare.targets, outputVoltage: undefined } }),
      'At targets.outputVoltage: the output voltage is missing; give a number in V.',
    ],
    [
      'a positive output of the inverting stage',
      changed({ topology: 'inverting-buck-boost' }),
      'At targets.outputVoltage: 12\u2009V does not fit; needed here is a negative output voltage, as that of the inverting stage is.',
    ],
    ['half a phase', changed({ phases: 1.5 }), 'At phases: the number of phases is 1.5, but must be a whole number.'],
    [
      'coupling without its coefficient',
      changed({ phases: 2, coupling: { kind: 'direct' } }),
      'At coupling.coefficient: the coupling coefficient is missing; give a number.',
    ],
    [
      'an unknown coupling',
      changed({ coupling: { kind: 'loose' } }),
      'At coupling.kind: the text “loose” is not allowed; choose "none", "inverse" or "direct".',
    ],
    [
      'an unordered bias curve',
      changed({ parts: { outputCapacitors: [{ capacitance: 1e-6, biasCurve: [[3, 1], [2, 0.5]] }] } }), // prettier-ignore
      'At parts.outputCapacitors[0].biasCurve: needed here is the points of the bias curve in rising order.',
    ],
    [
      'an on-resistance below what physics needs',
      changed({ parts: { highSide: { onResistance: 5e-324 } } }),
      'At parts.highSide.onResistance: the on-resistance is 5e-324\u2009Ω, but must be at least 1\u2009pΩ, or 0.',
    ],
    [
      'a temperature coefficient next to nothing',
      changed({ parts: { highSide: { onResistance: 0.01, onResistanceTemperatureCoefficient: -1e-12 } } }),
      'At parts.highSide.onResistanceTemperatureCoefficient: the on-resistance temperature coefficient is -1e-12, but must be of a magnitude of at least 1e-9, or 0.',
    ],
    [
      'a zero byte in a text',
      changed({ name: 'a\u0000b' }),
      'At name: the text “a␀b” does not fit; needed here is a text without zero bytes and broken characters.',
    ],
    [
      'half a character in a text',
      changed({ notes: 'a\ud800b' }),
      'At notes: the text “a�b” does not fit; needed here is a text without zero bytes and broken characters.',
    ],
    [
      'a figure with more digits than inform',
      changed({ parts: { inductor: { inductance: 3.14159265 } } }),
      'At parts.inductor.inductance: the inductance is 3.142\u2009H, but must be at least 1\u2009pH and at most 1\u2009H.',
    ],
    [
      'an absurd number',
      changed({ targets: { ...bare.targets, outputRipple: 1e21 } }),
      'At targets.outputRipple: the output ripple is 1e21\u2009V, but must be at least 1\u2009µV and at most 10\u2009kV.',
    ],
  ])('%s', (_, given, expected) => {
    expect(given).toBe(expected);
  });

  test('a document nested a hundred thousand deep is refused, not a stack that overflows', () => {
    const deep = '['.repeat(100_000) + ']'.repeat(100_000);
    expect(sentence(`{"a":${deep}}`)).toMatch(/^At the top level: brackets and braces stand deeper .* than 32 levels/);
  });

  test('of many unknown keys a few are named; a hundred thousand are counted', () => {
    const unknown = (count: number) => ({
      ...bare,
      ...Object.fromEntries(Array.from({ length: count }, (_, k) => [`k${String(k)}`, 1])),
    });
    const some = stageFromDocument(unknown(400));
    expect(some.ok ? 0 : some.problems.length).toBe(20);
    const many = stageFromDocument(unknown(100_000));
    expect(many.ok ? '' : problemsSentence(many.problems)).toMatch(
      /^At the top level: the file is holding one object of 1000\d\d members; a stage file holds at most 500\.$/,
    );
  });

  test('several faults: the first in full, the others by place', () => {
    expect(changed({ colour: 1, phases: 0 })).toMatch(/^At phases: .* \(and 1 more to mend, at colour\)\.$/);
  });
});

describe('reading and writing', () => {
  test('writing what was read from written text gives the same bytes', () => {
    const first = readStage(
      JSON.stringify({
        ...bare,
        pinned: ['parts.inductor'],
        parts: { inductor: { resistance: 0.01, inductance: 4.7e-6 } },
      }),
    );
    if (!first.ok) throw new Error('refused');
    const text = writeStage(first.value);
    const second = readStage(text);
    if (!second.ok) throw new Error('refused');
    expect(writeStage(second.value)).toBe(text);
  });
  test('defaults are filled in', () => {
    const read = readStage(JSON.stringify(bare));
    expect(
      read.ok && [read.value.phases, read.value.rectifier, read.value.control.dutyMax, read.value.deadTime],
    ).toEqual([1, 'synchronous', 1, 0]);
  });
  test('an older version is taken through every migration in turn', () => {
    const steps = { 1: (d: object) => ({ ...d, a: 1 }), 2: (d: object) => ({ ...d, b: 2 }) };
    expect(migrated({ version: 1 }, steps, 3)).toEqual({ ok: true, value: { version: 3, a: 1, b: 2 } });
  });
  test('the schema tells the interface unit and range of a field', () => {
    expect(stageField(['parts', 'outputCapacitors', 0, 'esr'])).toMatchObject({
      quantity: 'equivalent series resistance',
      unit: 'ohm',
      min: 0,
      max: 1000,
    });
    expect(stageField(['targets', 'nothing'])).toBeUndefined();
  });
  test('the JSON Schema forbids unknown keys and carries the units', () => {
    const text = JSON.stringify(stageJsonSchema());
    expect(text).toContain('"additionalProperties":false');
    expect(text).toContain('"unit":"A/s"');
  });
});

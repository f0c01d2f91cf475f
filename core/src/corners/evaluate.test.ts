import { expect, test } from '@jest/globals';
import { stageFromDocument } from '../stage/readStage.js';
import { evaluateStage } from './evaluate.js';

const mosfet = (onResistance: number, count = 1) => ({ onResistance, count, bodyDiodeVoltage: 0.8 });

// Each corner begins with the waveforms of one that is solved; from the transition region of a four-switch stage they lead nowhere.
test('no corner is lost for the sake of its neighbour: a four-switch stage from below to above its output', () => {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'four-switch-buck-boost',
    switchingFrequency: 300e3,
    deadTime: 20e-9,
    targets: {
      inputVoltage: { min: 9, nominal: 24, max: 36 },
      outputVoltage: 24,
      outputCurrent: { min: 0.2, max: 4 },
    },
    parts: {
      inductor: { inductance: 22e-6, resistance: 0.0142, saturationCurrent: 23.8, saturationDrop: 0.3 },
      highSide: { ...mosfet(0.002), bodyDiodeResistance: 0.002 },
      lowSide: { ...mosfet(0.02), bodyDiodeResistance: 0.02 },
      outputLowSide: { ...mosfet(0.015, 2), bodyDiodeResistance: 0.015 },
      outputHighSide: { ...mosfet(0.0051), bodyDiodeResistance: 0.0051 },
      outputCapacitors: [
        { capacitance: 3e-6, esr: 0.006, esl: 0.75e-9, count: 16 },
        { kind: 'electrolytic', capacitance: 560e-6, esr: 0.06, esl: 12e-9 },
      ],
      inputCapacitors: [{ capacitance: 0.5e-6, esr: 0.02, esl: 0.5e-9, count: 8 }],
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const worked = evaluateStage(read.value);
  if (!worked.ok) throw new Error(JSON.stringify(worked.problems));
  const { corners } = worked.value;
  expect(corners).toHaveLength(15);
  expect(corners.filter(({ result }) => result.kind !== 'solved')).toEqual([]);
});

test('features that a controller must offer are not judged without its record, and it is said', () => {
  const document = {
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 300e3,
    targets: {
      inputVoltage: { min: 10, max: 14 },
      outputVoltage: 5,
      outputCurrent: { max: 2 },
      features: ['power-good'],
    },
    parts: {
      inductor: { inductance: 10e-6, resistance: 0.01 },
      outputCapacitors: [{ capacitance: 50e-6 }],
      highSide: { onResistance: 0.01 },
      lowSide: { onResistance: 0.01 },
    },
  };
  const unjudged = (control: object): readonly string[] => {
    const read = stageFromDocument({ ...document, control });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const evaluated = evaluateStage(read.value);
    if (!evaluated.ok) throw new Error('not evaluated');
    return evaluated.value.evaluation.notJudged;
  };
  for (const control of [{}, { controller: 'CA28-4' }])
    expect(unjudged(control)).toEqual(['features asked of the controller']);
});

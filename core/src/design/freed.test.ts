import { expect, test } from '@jest/globals';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { freed, standsOnRecords } from './freed.js';

function stage(over: object = {}): Stage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 300e3,
    deadTime: 20e-9,
    targets: {
      inputVoltage: { min: 10, max: 14 },
      outputVoltage: 5,
      outputCurrent: { max: 2 },
      switchingFrequency: { min: 200e3, max: 400e3 },
    },
    parts: {
      inductor: { inductance: 10e-6, resistance: 0.01 },
      outputCapacitors: [{ capacitance: 50e-6 }],
      highSide: { onResistance: 0.01 },
      source: { inductance: 1e-6, resistance: 0.01 },
    },
    control: {
      currentLimit: 4,
      softStartTime: 1e-3,
      compensator: { network: 'type-2', components: { rUpper: 10e3, rLower: 10e3, rZero: 1e3, cZero: 1e-9 } },
    },
    pinned: ['parts.highSide'],
    ...over,
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
}

test('what is pinned stays, and what surrounds the stage; parts, network and frequency are left to be chosen', () => {
  const bare = freed(stage());
  expect(Object.keys(bare.parts).sort()).toEqual(['highSide', 'source']);
  expect(bare.switchingFrequency).toBeUndefined();
  expect(bare.control.compensator).toMatchObject({ network: 'type-2', components: {} });
  expect([bare.deadTime, bare.control.currentLimit, bare.control.softStartTime]).toEqual([20e-9, 4, 1e-3]);
});
test('a frequency without an allowed range is meant', () => {
  const { inputVoltage, outputVoltage, outputCurrent } = stage().targets;
  const targets = { inputVoltage, outputVoltage, outputCurrent };
  expect(freed(stage({ targets })).switchingFrequency).toBe(300e3);
});
test('values of the control that were chosen are chosen anew', () => {
  const bare = freed(stage(), (path) => path !== 'control.softStartTime');
  expect([bare.deadTime, bare.control.currentLimit, bare.control.softStartTime]).toEqual([0, undefined, 1e-3]);
});
test('parts with a name came from records, unless they are pinned', () => {
  expect(standsOnRecords(stage())).toBe(false);
  const named = { ...stage().parts, inductor: { name: 'LX1', inductance: 10e-6, resistance: 0.01 } };
  expect(standsOnRecords(stage({ parts: named }))).toBe(true);
  expect(standsOnRecords(stage({ parts: named, pinned: ['parts.inductor'] }))).toBe(false);
});

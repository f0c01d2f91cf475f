import { expect, test } from '@jest/globals';
import { AVERAGE, complete, VOLTAGE } from '../../testing/loopStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { partsCsv, partsList, priceOf } from './partsList.js';

const MOSFET = {
  name: 'NX40-4R0',
  onResistance: 0.004,
  drainSourceVoltageMax: 40,
  price: 0.6,
  length: 5e-3,
  width: 6e-3,
};

/** Key, count and value of each line. */
const lines = (stage: Parameters<typeof partsList>[0], chosen = {}) =>
  partsList(stage, chosen).map(({ key, count, value }) => [key, count, value.replace(/\u2009/g, ' ')] as const);

test('every part of the file stands on it as often as it stands on the board, and nothing else', () => {
  const parts = {
    highSide: { ...MOSFET, count: 2 },
    lowSide: MOSFET,
    // Left from before the rectifier was changed: on no board.
    diode: { forwardVoltage: 0.5 },
    outputCapacitors: [{ kind: 'ceramic', capacitance: 22e-6, esr: 0.003, count: 4, ratedVoltage: 25 }],
    fuse: { resistance: 0.01, ratedCurrent: 8 },
    reversePolarity: { forwardVoltage: 0.5, resistance: 0.004 },
    suppressor: { clampingVoltage: 32 },
    precharge: { resistance: 47 },
    preload: { resistance: 330 },
    inputFilter: { inductance: 1e-6, damping: { capacitance: 100e-6, resistance: 0.15 } },
  };
  const { stage } = complete({ phases: 4 }, { ...VOLTAGE, senseResistance: 0.002 }, parts);
  expect(lines(stage)).toEqual([
    ['inductor', 4, '2.20 µH, 5.00 mΩ'],
    ['highSide', 8, '4.00 mΩ, 40.0 V'],
    ['lowSide', 4, '4.00 mΩ, 40.0 V'],
    ['outputCapacitor1', 4, '22.0 µF, 25.0 V, ceramic'],
    ['inputCapacitor1', 1, '22.0 µF, ceramic'],
    ['fuse', 1, '8.00 A, 10.0 mΩ'],
    ['reversePolarity', 1, 'drops 500 mV, 4.00 mΩ'],
    ['suppressor', 1, 'clamps at 32.0 V'],
    ['precharge', 1, '47.0 Ω'],
    ['inputFilter', 1, '1.00 µH'],
    ['inputDamping', 1, '100 µF, 150 mΩ'],
    ['preload', 1, '330 Ω'],
    ['control.senseResistance', 4, '2.000 mΩ'],
    ['control.compensator.components.rUpper', 1, '10.00 kΩ'],
    ['control.compensator.components.rLower', 1, '2.220 kΩ'],
    ['control.compensator.components.rFeedforward', 1, '250.0 Ω'],
    ['control.compensator.components.cFeedforward', 1, '1.590 nF'],
    ['control.compensator.components.rZero', 1, '3.190 kΩ'],
    ['control.compensator.components.cZero', 1, '8.320 nF'],
    ['control.compensator.components.cPole', 1, '200.0 pF'],
  ]);
});

test('each phase has a current amplifier of its own, all of them one voltage loop', () => {
  const found = partsList(complete({ phases: 2 }, AVERAGE).stage);
  const count = (end: string) => found.find(({ key }) => key.endsWith(end))?.count;
  expect([count('currentAmplifier.rInput'), count('components.rUpper')]).toEqual([2, 1]);
});

test('phases on one core share a choke, and a diode stands in every leg', () => {
  const shared = complete({ phases: 2, coupling: { kind: 'inverse', coefficient: 0.5 } }).stage;
  expect(lines(shared)[0]).toEqual(['inductor', 1, '2.20 µH, 5.00 mΩ']);
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'four-switch-buck-boost',
    rectifier: 'diode',
    targets: { inputVoltage: { min: 8, max: 18 }, outputVoltage: 12, outputCurrent: { max: 3 } },
    parts: {
      highSide: MOSFET,
      lowSide: MOSFET,
      outputLowSide: MOSFET,
      outputHighSide: MOSFET,
      diode: { forwardVoltage: 0.5 },
    },
  });
  if (!read.ok) throw new Error('not valid');
  expect(lines(read.value).map(([key, count]) => [key, count])).toEqual([
    ['highSide', 1],
    ['outputLowSide', 1],
    ['diode', 2],
  ]);
});

test('what was chosen around the controller is on it; a trimmer takes the place of the divider', () => {
  const { stage } = complete();
  const chosen = {
    oscillator: { k: 1.443, resistance: 7500, capacitance: 470e-12, discharge: 1e-7 },
    chokeSense: { inductance: 10e-6, resistance: 0.01, capacitance: 100e-9 },
    trimmer: { reference: 0.6, upper: 9100, trimmer: 500, lower: 2000 },
    // It has a place in the stage file, and is no line of its own.
    preload: { vOut: 3.3, resistance: 330, current: 12 },
  };
  const found = lines(stage, chosen);
  expect(found.slice(-7)).toEqual([
    ['oscillator.resistance', 1, '7.500 kΩ'],
    ['oscillator.capacitance', 1, '470.0 pF'],
    ['trimmer.upper', 1, '9.100 kΩ'],
    ['trimmer.trimmer', 1, '500.0 Ω'],
    ['trimmer.lower', 1, '2.000 kΩ'],
    // L/(R C), a result of its working.
    ['chokeSense.0', 1, '10.00 kΩ'],
    ['chokeSense.capacitance', 1, '100.0 nF'],
  ]);
  expect(found.some(([key]) => key.endsWith('rUpper') || key.endsWith('rLower'))).toBe(false);
  expect(lines(stage).some(([key]) => key.endsWith('rUpper'))).toBe(true);
});

test('the sum says what it leaves out, and CSV keeps a name from being a formula', () => {
  const { stage } = complete({}, VOLTAGE, {
    highSide: { ...MOSFET, count: 3 },
    lowSide: { ...MOSFET, name: '=1+1', price: 0.5 },
  });
  const list = partsList(stage);
  const { stated, unstated } = priceOf(list);
  expect(stated).toBeCloseTo(3 * 0.6 + 0.5, 12);
  expect(unstated).toBe(list.length - 2);
  const rows = partsCsv(list).split('\r\n');
  expect(rows[1]).toBe('inductor,power,1,"2.20 µH, 5.00 mΩ",,,,');
  expect(rows[2]).toBe('high-side switch,power,3,"4.00 mΩ, 40.0 V",NX40-4R0,0.6,0.005,0.006');
  expect(rows[3]).toContain(",'=1+1,");
});

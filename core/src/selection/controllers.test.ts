import { describe, expect, test } from '@jest/globals';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { LIBRARY_SCHEMAS, type PartOf } from '../library/libraryPart.js';
import { withController } from '../library/withController.js';
import { stageSchema, type Stage } from '../stage/schema.js';
import { controllersSettle, selectControllers } from './controllers.js';

const record = (more: object = {}): PartOf<'controller'> =>
  LIBRARY_SCHEMAS.controller.parse({
    name: 'X1',
    scheme: 'voltage-mode',
    topologies: ['buck', 'boost'],
    rectifier: 'either',
    modes: ['forced-pwm'],
    features: [],
    inputMin: 4.5,
    inputMax: 40,
    phasesMax: 2,
    reference: 0.6,
    referenceTolerance: 0.01,
    frequencyMin: 200e3,
    frequencyMax: 1e6,
    minimumOnTime: 80e-9,
    minimumOffTime: 200e-9,
    gateDriveVoltage: 5,
    turnOnResistance: 2,
    turnOffResistance: 1,
    amplifier: 'op-amp',
    rampAmplitude: 1,
    supplyCurrent: 3e-3,
    price: 1,
    ...more,
  });

const stage = (targets: object = {}, more: object = {}): Stage =>
  stageSchema.parse({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 500e3,
    control: { scheme: 'voltage-mode' },
    parts: {
      inductor: { inductance: 10e-6, resistance: 0 },
      outputCapacitors: [{ capacitance: 100e-6 }],
      highSide: { onResistance: 0 },
      lowSide: { onResistance: 0 },
    },
    ...more,
    targets: { inputVoltage: { min: 20, max: 30 }, outputVoltage: 12, outputCurrent: { min: 1, max: 4 }, ...targets },
  });
function worked(of: Stage): EvaluatedStage {
  const evaluated = evaluateStage(of);
  if (!evaluated.ok) throw new Error(JSON.stringify(evaluated.problems));
  return evaluated.value;
}
const against = (of: Stage, more: object = {}): string =>
  selectControllers(worked(of), [record(more)])
    .flatMap(({ reasons }) => reasons)
    .join(' ')
    .replace(/\u2009/g, ' ');

describe('a controller against a stage', () => {
  test('nothing speaks against one that does all that is asked', () => {
    expect(against(stage())).toBe('');
  });
  test.each([
    ['another topology', { topologies: ['boost'] }, 'does not drive this topology, but boost'],
    ['a diode only', { rectifier: 'diode' }, 'a switch beside a diode'],
    ['another scheme', { scheme: 'peak-current-mode' }, 'Its control scheme is peak-current-mode'],
    ['another mode', { modes: ['pulse-skipping'] }, 'does not offer forced-pwm'],
    ['an input too high', { inputMax: 29 }, 'works from 4.50 V to 29.0 V; this stage spans 20.0 V to 30.0 V'],
    ['an input too low', { inputMin: 21 }, 'works from 21.0 V'],
    ['a reference above the output', { reference: 13 }, 'reference of 13.0 V is above the output'],
    ['a frequency too low', { frequencyMin: 600e3 }, 'switches at 600 kHz'],
    ['a frequency too high', { frequencyMax: 400e3 }, 'switches at 200 kHz to 400 kHz'],
    // D = 12 V/30 V at 500 kHz: 0.8 µs.
    ['too long an on-time', { minimumOnTime: 0.81e-6 }, 'on-time is 810 ns; this stage needs 800 ns'],
    // D = 12 V/20 V = 0.6 against 1 − 0.81 µs 500 kHz = 0.595.
    ['too long an off-time', { minimumOffTime: 0.81e-6 }, 'a duty ratio of 0.595; this stage needs 0.600'],
  ])('%s is a reason, with the figures', (_, more, reason) => {
    expect(against(stage(), more)).toContain(reason);
  });
  test('its limits themselves do', () => {
    for (const more of [{ minimumOnTime: 0.79e-6 }, { minimumOffTime: 0.79e-6 }, { inputMax: 30 }, { inputMin: 20 }])
      expect(against(stage(), more)).toBe('');
  });
  test('more phases than it has', () => {
    expect(against(stage({}, { phases: 3 }))).toContain('drives 2 of 3 phases');
  });
  test('features that it lacks are named; with one controller among those judged they are settled', () => {
    const asks = { features: ['power-good', 'tracking'] };
    expect(against(stage(asks), { features: ['power-good'] })).toContain('lacks tracking.');
    const named = worked(stage(asks, { control: { scheme: 'voltage-mode', controller: 'X1' } }));
    const [words] = named.evaluation.notJudged;
    expect(words).toBe('features asked of the controller');
    expect(controllersSettle(named, selectControllers(named, [record()]))).toEqual([words]);
    expect(controllersSettle(named, selectControllers(named, [record({ name: 'X2' })]))).toEqual([]);
  });
  test('100 % duty ratio counts where a switch that stays on shorts nothing: in a buck, not in a boost', () => {
    const full = { features: ['full-duty'], minimumOffTime: 0.81e-6 };
    expect(against(stage(), full)).toBe('');
    // D = 1 − 12 V/30 V = 0.6.
    const boost = stage({ inputVoltage: { min: 12, max: 20 }, outputVoltage: 30 }, { topology: 'boost' });
    expect(against(boost, full)).toContain('a duty ratio of 0.595; this stage needs 0.600');
    const dutyOf = (of: Stage): number => withController(of, record(full)).control.dutyMax;
    expect([dutyOf(stage()), dutyOf(boost)]).toEqual([1, 0.595]);
  });
  test('an inverting stage spans input and output together', () => {
    const inverting = stage({ outputVoltage: -12 }, { topology: 'inverting-buck-boost' });
    const more = { topologies: ['inverting-buck-boost'] };
    expect(against(inverting, { ...more, inputMax: 42 })).toBe('');
    expect(against(inverting, { ...more, inputMax: 41 })).toContain('this stage spans 20.0 V to 42.0 V');
  });
  test('its drive must do for some switch on offer that blocks enough', () => {
    const mosfet = (drainSourceVoltageMax: number, gateDriveVoltage: number): PartOf<'mosfet'> =>
      LIBRARY_SCHEMAS.mosfet.parse({ name: 'M', onResistance: 0.01, drainSourceVoltageMax, gateDriveVoltage });
    const reasons = (offered: readonly PartOf<'mosfet'>[]) =>
      selectControllers(worked(stage()), [record()], offered)[0]?.reasons ?? [];
    // A quarter above the 30 V that a buck's switches block.
    expect(reasons([mosfet(40, 5)])).toEqual([]);
    expect(reasons([mosfet(30, 5), mosfet(40, 10)]).join()).toContain('No switch on offer');
    // One that wants a driver made for it is none that a controller drives.
    expect(reasons([{ ...mosfet(100, 5), bodyDiodeVoltage: 2.2 }]).join()).toContain('No switch on offer');
  });
});

test('those that qualify come first, the cheapest first; what is made for something else comes last', () => {
  const offered = [
    record({ name: 'other', topologies: ['boost'], price: 0.1 }),
    record({ name: 'short', inputMax: 25, phasesMax: 1, price: 0.2 }),
    record({ name: 'dear', price: 3 }),
    record({ name: 'cheap', price: 2 }),
  ];
  const names = selectControllers(worked(stage()), offered).map(({ part }) => part.name);
  expect(names).toEqual(['cheap', 'dear', 'short', 'other']);
});

describe('what it makes of a peak', () => {
  test('at the low end of its tolerance the limit is 1.2 times the peak, but for the series of resistors', () => {
    const sensing = record({ limitVoltage: 50e-3, limitTolerance: 0.1, senseGain: 20 });
    const { senseResistance = NaN, currentLimit = NaN } = withController(stage(), sensing, { peak: 5 }).control;
    // 50 mV · 0.9/(1.2 · 5 A) = 7.5 mΩ, which E24 has.
    expect([senseResistance, currentLimit]).toEqual([7.5e-3, Number((50 / 7.5).toPrecision(4))]);
    expect((currentLimit * 0.9) / 5).toBeCloseTo(1.2, 3);
  });
  test('the duty limit is that at the highest frequency where none is chosen yet', () => {
    const { switchingFrequency, ...free } = stage();
    expect(switchingFrequency).toBe(500e3);
    expect(withController(free, record(), { frequency: 1e6 }).control.dutyMax).toBe(0.8);
    expect(withController(stage(), record(), { frequency: 1e6 }).control.dutyMax).toBe(0.9);
  });
});

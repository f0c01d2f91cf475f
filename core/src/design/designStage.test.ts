import { describe, expect, test } from '@jest/globals';
import { cautionsOf } from '../advice/cautions.js';
import { genericParts } from '../library/genericParts.js';
import { recordsOf } from '../library/inventory.js';
import { formatQuantity } from '../quantity/engineering.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { randomTargets } from '../../testing/randomTargets.js';
import { designStage, type Designed } from './designStage.js';

const inventory = genericParts();
const records = new Map(recordsOf(inventory).map((record) => [record.name, record]));

function designed(document: object): Designed {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...document });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const found = designStage(read.value, inventory);
  if (!found.ok) throw new Error(JSON.stringify(found.problems));
  return found.value;
}
const stageOf = ({ design }: Designed): Stage => design.evaluated.complete.stage;
const failing = ({ design }: Designed): readonly string[] =>
  design.evaluated.evaluation.verdicts.filter(({ pass }) => !pass).map(({ target }) => target);

/** Names of the parts of a stage, each of which is to be a record with just its values. */
function expectRecords({ parts }: Stage): void {
  const all = [
    parts.inductor,
    parts.highSide,
    parts.lowSide,
    parts.outputHighSide,
    parts.outputLowSide,
    parts.diode,
    ...(parts.outputCapacitors ?? []),
    ...(parts.inputCapacitors ?? []),
  ];
  for (const part of all) {
    if (!part) continue;
    // How many are in parallel is the design's own.
    const own = Object.fromEntries(Object.entries(part).filter(([key]) => key !== 'count'));
    const record = records.get(part.name ?? '');
    expect([part.name, record !== undefined]).toEqual([part.name, true]);
    expect(record).toMatchObject(own);
  }
}

const buck = {
  topology: 'buck',
  control: { scheme: 'voltage-mode' },
  targets: {
    inputVoltage: { min: 40, nominal: 48, max: 56 },
    outputVoltage: 12,
    outputVoltageTolerance: 0.02,
    outputCurrent: { min: 0.5, max: 15 },
    outputRipple: 0.06,
    inputRipple: 0.5,
    inductorRippleRatio: 0.4,
    loadStep: { from: 4, to: 11, slewRate: 2e6, deviation: 0.4, recoveryTime: 200e-6 },
    phaseMargin: 50,
    gainMargin: 8,
    ambientTemperature: { min: -20, max: 55 },
    junctionTemperatureMax: 125,
    switchingFrequency: { min: 150e3, max: 500e3 },
  },
};

describe('a stage of 48 to 12 V, 15 A, from bare targets', () => {
  const found = designed(buck);
  const stage = stageOf(found);
  test('is made of records, and every target holds, the simulated load step among them', () => {
    expectRecords(stage);
    expect(failing(found)).toEqual([]);
    expect(found.nearest).toEqual([]);
    expect(found.design.evaluated.evaluation.verdicts.map(({ target }) => target)).toEqual(
      expect.arrayContaining([
        'loadStepDeviation',
        'loadStepRecovery',
        'phaseMargin',
        'outputRipple',
        'highSideJunction',
      ]),
    );
  });
  test('loses what such stages lose: recovery, core and dead time are counted (by hand 4 to 9 W)', () => {
    const point = found.design.evaluated.corners.find(
      ({ corner }) => corner.inputVoltage === 48 && corner.outputCurrent === 15,
    )?.result;
    const losses = point?.kind === 'solved' ? point.point.losses : {};
    expect(losses['total']).toBeGreaterThan(4);
    expect(losses['total']).toBeLessThan(9);
    expect(losses['inductorCore']).toBeGreaterThan(0);
    expect(Object.entries(losses).some(([key, watts]) => /Recovery/.test(key) && watts > 0)).toBe(true);
    expect(stage.deadTime).toBeGreaterThanOrEqual(20e-9);
  });
  test('can be built: no bank of parts that are not made, no network of a few picofarads or of megohms', () => {
    for (const { count } of [...(stage.parts.outputCapacitors ?? []), ...(stage.parts.inputCapacitors ?? [])])
      expect(count).toBeLessThanOrEqual(24);
    const {
      rZero = 0,
      rFeedforward = 1e3,
      cZero = 0,
      cPole = 0,
      cFeedforward = 0,
    } = stage.control.compensator?.components ?? {};
    for (const farads of [cZero, cPole, cFeedforward]) expect(farads).toBeGreaterThanOrEqual(22e-12);
    for (const ohms of [rZero, rFeedforward]) {
      expect(ohms).toBeGreaterThanOrEqual(100);
      expect(ohms).toBeLessThanOrEqual(1e6);
    }
  });
  test('says why: a choice for each part, and what two rivals would gain and cost', () => {
    const paths = found.design.choices.map(({ path }) => path);
    expect(paths).toEqual(
      expect.arrayContaining([
        'switchingFrequency',
        'parts.inductor.inductance',
        'parts.highSide.onResistance',
        'parts.outputCapacitors[0].count',
        'deadTime',
      ]),
    );
    expect(found.rivals).toHaveLength(2);
    for (const { words } of found.rivals) expect(words).toMatch(/kHz with L.*(less|more) loss/);
  });
  test('designed again, nothing is chosen anew: what is present stays', () => {
    expect(stageOf(designed(stage))).toEqual(stage);
  });
});

describe('what decides', () => {
  test('windings on one core: the choke is chosen with its coupling, and the ripple stays within its ratio', () => {
    const found = designed({
      topology: 'buck',
      phases: 2,
      coupling: { kind: 'inverse', coefficient: 0.5 },
      control: { scheme: 'voltage-mode' },
      targets: {
        inputVoltage: { min: 10.8, nominal: 12, max: 13.2 },
        outputVoltage: 1.8,
        outputCurrent: { min: 2, max: 40 },
        outputRipple: 0.02,
        inductorRippleRatio: 0.35,
        switchingFrequency: { min: 300e3, max: 600e3 },
      },
    });
    const { coupling, parts } = stageOf(found);
    expectRecords(stageOf(found));
    expect(failing(found)).not.toContain('inductorRippleRatio');
    // A pair that is made, with the coefficient it has.
    const record = inventory.inductor.find(({ name }) => name === parts.inductor?.name);
    expect(record?.couplingCoefficient).toBeDefined();
    if (coupling.kind === 'none') throw new Error('uncoupled');
    expect(coupling.coefficient).toBe(record?.couplingCoefficient);
    expect(Math.abs(coupling.coefficient - 0.5)).toBeLessThanOrEqual(0.1 + 1e-9);
    expect(found.design.choices).toContainEqual(
      expect.objectContaining({ path: 'coupling.coefficient', value: coupling.coefficient }),
    );
  });
  test('where voltage mode has no loop, peak current mode is named as what would do', () => {
    const inductor = { inductance: 10e-6, resistance: 0.01 };
    const found = designed({ ...randomTargets(155), switchingFrequency: 600e3, parts: { inductor } });
    expect(found.design.noLoop).toMatch(/^no type-3 network was found/);
    expect(found.nearest).toEqual([{ target: 'control.scheme', from: 'voltage-mode', to: 'peak-current-mode' }]);
  });
  test('the draft that is ahead is told of from the first on, with the share that is done', () => {
    const { loadStep, ...targets } = (randomTargets(7) as { readonly targets: Stage['targets'] }).targets;
    expect(loadStep).toBeDefined();
    const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...randomTargets(7), targets });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const told: (readonly [number, string | undefined])[] = [];
    const found = designStage(read.value, inventory, 'balanced', (...one) => told.push(one));
    if (!found.ok) throw new Error(JSON.stringify(found.problems));
    const shares = told.map(([share]) => share);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    for (const [share, ahead] of told) {
      expect(share).toBeLessThan(1);
      expect(ahead).toMatch(/Hz with L[A-Z]\d.*, .*W lost$/);
    }
    const { switchingFrequency } = stageOf(found.value);
    expect(told.at(-1)?.[1]).toContain(formatQuantity(switchingFrequency ?? NaN, 'Hz', 3));
  });
  test('a recovery that is asked for keeps the zeros of the compensator quick: none below 3/(2π t)', () => {
    const { targets, ...rest } = randomTargets(20) as { readonly targets: Stage['targets'] };
    const lowestZero = (recoveryTime?: number): number => {
      const loadStep = { ...targets.loadStep, ...(recoveryTime && { recoveryTime }) };
      const found = designed({ ...rest, targets: { ...targets, loadStep } });
      expect(failing(found)).toEqual([]);
      const { rZero = NaN, cZero = NaN } = stageOf(found).control.compensator?.components ?? {};
      return 1 / (2 * Math.PI * rZero * cZero);
    };
    const bound = 3 / (2 * Math.PI * 400e-6);
    expect(lowestZero()).toBeLessThan(bound);
    expect(lowestZero(400e-6)).toBeGreaterThan(bound);
  });
  test('where no choke keeps the usual ripple, one is taken that the targets allow', () => {
    // 40 mA at 100 V: some 7 mH for the usual ripple, of which there is no record.
    const found = designed(randomTargets(24));
    expect(stageOf(found).parts.inductor?.name).toMatch(/^L/);
    expectRecords(stageOf(found));
    expect(failing(found)).toEqual([]);
    const rule = found.design.choices.find(({ path }) => path === 'parts.inductor.inductance')?.rule;
    expect(rule).toContain('records that ripple more than 0.5 of the load, as none does less');
  });
  test('leads that would oscillate with it are damped by bulk of a record beside its ceramics', () => {
    const targets = {
      inputVoltage: { min: 20, max: 30 },
      outputVoltage: 12,
      outputCurrent: { min: 0.2, max: 5 },
      outputRipple: 0.06,
      inputRipple: 0.5,
      phaseMargin: 50,
    };
    const behindLeads = (inductance: number, resistance: number): Designed =>
      designed({
        ...{ topology: 'buck', control: { scheme: 'voltage-mode' }, switchingFrequency: 400e3, targets },
        parts: { source: { inductance, resistance } },
      });
    const damped = behindLeads(5e-6, 0.02);
    const [ceramic, bulk] = stageOf(damped).parts.inputCapacitors ?? [];
    expect([ceramic?.kind, bulk?.kind]).toEqual(['ceramic', 'electrolytic']);
    expect(bulk?.ratedVoltage).toBeLessThanOrEqual(120);
    expectRecords(stageOf(damped));
    expect(failing(damped)).toEqual([]);
    const { evaluated, choices } = damped.design;
    const codes = cautionsOf(stageOf(damped), evaluated).map(({ code }) => code);
    expect(codes).not.toContain('input-oscillation');
    const said = choices.find(({ path }) => path === 'parts.inputCapacitors[1].count');
    expect(said?.rule).toMatch(/damps 5\.0.µH before it: the impedance before the stage comes to 0\.\d\d of its own/);
    // Bulk that would carry more of the ripple than it is rated for is passed over.
    const frail = inventory.capacitor.map((part) =>
      part.kind === 'electrolytic' || part.kind === 'polymer' ? { ...part, rippleCurrentRating: 1e-3 } : part,
    );
    const only = designStage(
      { ...stageOf(damped), parts: { ...stageOf(damped).parts, inputCapacitors: undefined } },
      { ...inventory, capacitor: frail },
    );
    if (!only.ok) throw new Error(JSON.stringify(only.problems));
    expect(stageOf(only.value).parts.inputCapacitors).toHaveLength(1);
    // What damps itself asks for none.
    expect(stageOf(behindLeads(50e-9, 0.1)).parts.inputCapacitors).toHaveLength(1);
  });
  test('an efficiency that a high frequency misses is met at a lower one that is allowed', () => {
    const targets = { ...buck.targets, efficiency: { outputCurrent: 15, min: 0.972 } };
    const found = designed({ ...buck, targets });
    expect(failing(found)).not.toContain('efficiency');
    const held = designed({ ...buck, targets: { ...targets, switchingFrequency: { min: 499e3, max: 500e3 } } });
    expect(failing(held)).toContain('efficiency');
    expect(held.nearest.map(({ target }) => target)).toContain('efficiency');
  });
});

describe('a stage that states what its controller must offer', () => {
  const targets = {
    inputVoltage: { min: 18, nominal: 24, max: 32 },
    outputVoltage: 5,
    outputCurrent: { min: 0.2, max: 6 },
    outputRipple: 0.04,
    phaseMargin: 50,
    switchingFrequency: { min: 300e3, max: 700e3 },
    features: ['power-good', 'synchronisation'],
  };
  const found = designed({ topology: 'buck', control: { scheme: 'peak-current-mode' }, targets });
  const stage = stageOf(found);
  test('has the cheapest of those that qualify, with what it fixes; of the others it is said why not', () => {
    const qualifying = found.controllers.filter(({ fits }) => fits).map(({ part }) => part);
    const taken = inventory.controller.find(({ name }) => name === stage.control.controller);
    expect(taken?.features).toEqual(expect.arrayContaining(targets.features));
    expect(taken?.price).toBe(Math.min(...qualifying.map(({ price = NaN }) => price)));
    expect(stage.control).toMatchObject({
      reference: taken?.reference,
      referenceTolerance: taken?.referenceTolerance,
      minimumOnTime: taken?.minimumOnTime,
      gateDriver: { voltage: taken?.gateDriveVoltage },
    });
    // D_max = 1 − t_off f at the highest frequency it may switch at.
    expect(stage.control.dutyMax).toBeLessThan(1);
    for (const { fits, reasons } of found.controllers) expect(reasons.length === 0).toBe(fits);
    expect(found.controllers.find(({ part }) => part.topologies[0] === 'boost')?.reasons.join(' ')).toContain(
      'does not drive this topology',
    );
  });
  test('its limit comes of the sensed voltage, and lets the highest peak pass at the low end of its tolerance', () => {
    const taken = inventory.controller.find(({ name }) => name === stage.control.controller);
    const { senseResistance = NaN, currentLimit = NaN, currentSenseGain } = stage.control;
    expect(currentLimit).toBeCloseTo((taken?.limitVoltage ?? NaN) / senseResistance, 2);
    expect(currentSenseGain).toBeCloseTo((taken?.senseGain ?? NaN) * senseResistance, 4);
    const peaks = found.design.evaluated.evaluation.operatingPoints.map(({ inductorCurrent }) => inductorCurrent.peak);
    expect(currentLimit * (1 - (taken?.limitTolerance ?? NaN))).toBeGreaterThan(Math.max(...peaks));
  });
  test('targets stay as they were asked, and every target holds', () => {
    expect(stage.targets.switchingFrequency).toEqual(targets.switchingFrequency);
    expect(failing(found)).toEqual([]);
    expectRecords(stage);
  });
  test('where none qualifies it is said, with the nearest; a name that no record has is said too', () => {
    const none = designed({
      topology: 'buck',
      control: { scheme: 'peak-current-mode' },
      targets: { ...targets, features: ['full-duty'] },
    });
    expect(stageOf(none).control.controller).toBeUndefined();
    expect(none.noController).toContain('It lacks full-duty');
    const unknown = designed({ topology: 'buck', control: { controller: 'ZZ1' }, targets });
    expect(unknown.noController).toContain('ZZ1');
  });
});

describe('what no record can do', () => {
  const found = designed({
    topology: 'boost',
    rectifier: 'diode',
    control: { scheme: 'peak-current-mode' },
    targets: {
      inputVoltage: { min: 10, nominal: 12, max: 14 },
      outputVoltage: 24,
      outputCurrent: { min: 0.5, max: 8 },
      outputRipple: 0.3,
      switchingFrequency: { min: 150e3, max: 400e3 },
    },
  });
  test('says the load it carries, and that a switch in place of the diode would do', () => {
    expect(failing(found)).toContain('highSideJunction');
    const load = found.nearest.find(({ target }) => target === 'targets.outputCurrent.max');
    expect(load?.from).toBe(8);
    expect(load?.to).toBeLessThan(8);
    expect(found.nearest).toContainEqual({ target: 'rectifier', from: 'diode', to: 'synchronous' });
  });
});

describe('random targets (fixed seeds)', () => {
  test.each([1, 2, 3, 4, 5, 6, 7, 8])('seed %i ends in records within their ratings, or in what to give up', (seed) => {
    const found = designed(randomTargets(seed));
    const { parts, targets } = stageOf(found);
    const missing = failing(found);
    const known = found.design.evaluated.evaluation.verdicts.map(({ target }) => target);
    if (missing.length === 0 && found.design.noLoop === undefined) expectRecords(stageOf(found));
    else expect(found.nearest.length + (found.design.noLoop === undefined ? 0 : 1)).toBeGreaterThan(0);
    // What is to be given is a target that is missed, or another choice.
    for (const { target } of found.nearest) if (known.includes(target)) expect(missing).toContain(target);
    for (const { ratedVoltage } of parts.outputCapacitors ?? [])
      expect(ratedVoltage).toBeGreaterThan(Math.abs(targets.outputVoltage));
    for (const { ratedVoltage } of parts.inputCapacitors ?? [])
      expect(ratedVoltage).toBeGreaterThan(targets.inputVoltage.max);
    const points = found.design.evaluated.evaluation.operatingPoints;
    for (const place of ['highSide', 'lowSide', 'outputHighSide', 'outputLowSide'] as const)
      for (const { switchStress } of points)
        if (parts[place]) expect(parts[place].drainSourceVoltageMax).toBeGreaterThan(switchStress[place]?.voltage ?? 0);
    // No two choices of one value: a first cut's words do not stand beside those of a record.
    const paths = found.design.choices.map(({ path }) => path);
    expect(new Set(paths).size).toBe(paths.length);
  });
});

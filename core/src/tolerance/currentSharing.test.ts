import { describe, expect, jest, test } from '@jest/globals';
import { runNetlist } from '../../testing/ngspice.js';
import { spiceNetlist } from '../netlist/spiceNetlist.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import {
  NO_ERROR,
  sharingStudy,
  unequalPhases,
  type PhaseError,
  type SharingSample,
  type SharingStudy,
  type UnequalPhases,
} from './currentSharing.js';

jest.setTimeout(120_000);

/** 12 to 1.8 V at 400 kHz, 20 A a phase. */
function stage(phases: number, over: object = {}): CompleteStage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases,
    switchingFrequency: 400e3,
    targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 1.8, outputCurrent: { max: 20 * phases } },
    parts: {
      inductor: { inductance: 500e-9, resistance: 2e-3, saturationCurrent: 30 },
      outputCapacitors: [{ capacitance: 2e-3, esr: 1e-3, esl: 0 }],
      highSide: { onResistance: 6e-3 },
      lowSide: { onResistance: 3e-3 },
    },
    ...over,
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('The stage is not complete.');
  return complete.value;
}
const FULL = (phases: number) => ({
  inputVoltage: 12,
  load: { kind: 'current' as const, current: 20 * phases },
});
function solved(complete: CompleteStage, errors: readonly Partial<PhaseError>[]): UnequalPhases {
  const found = unequalPhases(
    complete,
    FULL(complete.stage.phases),
    errors.map((one) => ({ ...NO_ERROR, ...one })),
  );
  if (typeof found === 'string') throw new Error(found);
  return found;
}
const averages = ({ phases }: UnequalPhases): readonly number[] => phases.map((one) => one.average);

describe('unequal phases under one duty ratio', () => {
  test('equal ones are as the engine has them by its rotation', () => {
    const complete = stage(3);
    const { phases, summedRipple, residue } = solved(complete, [{}, {}, {}]);
    const found = operatingPoint(complete, FULL(3));
    if (found.kind !== 'solved') throw new Error(found.reason);
    // The point follows the saturation of the inductor; the comparison here does not.
    for (const { average } of phases) expect(average / 20).toBeCloseTo(1, 6);
    expect(summedRipple).toBeGreaterThan(0);
    expect(residue / summedRipple).toBeLessThan(1e-6);
  });
  // All switch nodes have the same average and all phases the same output: I_k R_k is alike, with R = R_w + D R_hs + (1 − D) R_ls.
  test('the current goes with one over the resistance in its way', () => {
    const found = solved(stage(3), [{ windingResistance: 1.3 }, { onResistance: 1.2 }, {}]);
    const { duty } = found.solved.solution;
    const on = duty * 6e-3 + (1 - duty) * 3e-3;
    const resistances = [2.6e-3 + on, 2e-3 + 1.2 * on, 2e-3 + on];
    const products = averages(found).map((current, k) => current * (resistances[k] ?? NaN));
    for (const product of products) expect(product / (products[0] ?? NaN)).toBeCloseTo(1, 3);
    expect(averages(found).reduce((sum, one) => sum + one, 0)).toBeCloseTo(60, 6);
  });
  // A command that lasts dt longer puts V dt f more across the resistance of its phase.
  test('a command that lasts longer carries more, by V dt f / R', () => {
    const found = solved(stage(2), [{ longer: 2e-9 }, {}]);
    const { duty } = found.solved.solution;
    const resistance = 2e-3 + duty * 6e-3 + (1 - duty) * 3e-3;
    const [more = 0, less = 0] = averages(found);
    expect((more - less) / ((12 * 2e-9 * 400e3) / resistance)).toBeCloseTo(1, 1);
  });
  // Fundamental of the triangle of phase k: V sin(πD) / (π² f L_k), turned by 2πk/N.
  test('unequal inductances leave a residue at the switching frequency, the sum of their turned fundamentals', () => {
    const inductances = [0.9, 1.1, 1, 1.05];
    const found = solved(
      stage(4),
      inductances.map((inductance) => ({ inductance })),
    );
    const { duty } = found.solved.solution;
    const amplitude = (factor: number): number =>
      (12 * Math.sin(Math.PI * duty)) / (Math.PI ** 2 * 400e3 * 500e-9 * factor);
    let [re, im] = [0, 0];
    inductances.forEach((factor, k) => {
      re += amplitude(factor) * Math.cos((-2 * Math.PI * k) / 4);
      im += amplitude(factor) * Math.sin((-2 * Math.PI * k) / 4);
    });
    expect(found.residue / Math.hypot(re, im)).toBeCloseTo(1, 2);
  });
  test('a late clock moves the residue too', () => {
    const complete = stage(2);
    expect(solved(complete, [{}, {}]).residue).toBeLessThan(1e-6);
    expect(solved(complete, [{ late: 0.02 }, {}]).residue).toBeGreaterThan(0.1);
  });
  test('ngspice agrees on the current, peak and ripple of every phase of a stage with 10 % of spread', async () => {
    const complete = stage(3, { deadTime: 15e-9 });
    const found = solved(complete, [
      { windingResistance: 1.1, onResistance: 1.1, inductance: 0.9 },
      { windingResistance: 0.9, onResistance: 0.9, inductance: 1.1, longer: 1e-9 },
      { late: 0.01 },
    ]);
    const point = operatingPoint(complete, FULL(3));
    if (point.kind !== 'solved') throw new Error(point.reason);
    const { powerStage, solution } = found.solved;
    const netlist = spiceNetlist('unequal phases', { ...point, powerStage, solution });
    const { inductors } = powerStage.elements;
    const period = 1 / 400e3;
    const run = /\.tran \S+ (\S+)/.exec(netlist)?.[1] ?? '';
    const window = `FROM=${String(Number(run) - 4 * period)} TO=${run}`;
    const measures = inductors.flatMap((name, k) => [
      `.meas tran average_${String(k)} AVG i(l_${name}) ${window}`,
      `.meas tran peak_${String(k)} MAX i(l_${name}) ${window}`,
      `.meas tran ripple_${String(k)} PP i(l_${name}) ${window}`,
    ]);
    const measured = await runNetlist(netlist.replace('\n.end', `\n${measures.join('\n')}\n.end`));
    found.phases.forEach(({ average, peak, ripple }, k) => {
      expect(measured(`average_${String(k)}`) / average).toBeCloseTo(1, 2);
      expect(Math.abs(measured(`peak_${String(k)}`) / peak - 1)).toBeLessThan(0.01);
      expect(Math.abs(measured(`ripple_${String(k)}`) / ripple - 1)).toBeLessThan(0.01);
    });
    // Against equal ones they differ by far more than that.
    expect(Math.max(...averages(found)) / Math.min(...averages(found))).toBeGreaterThan(1.05);
  });
});

describe('boards of unequal phases', () => {
  test('a loop of its own for each phase leaves the error of its sense gain; one duty ratio leaves more', () => {
    const found = sharingStudy(stage(4), 40);
    if (typeof found === 'string') throw new Error(found);
    expect(found.samples).toHaveLength(40);
    for (const { open, shared, openPeak } of found.samples) {
      expect(open).toBeGreaterThanOrEqual(1);
      expect(shared).toBeGreaterThanOrEqual(1);
      // 1/(1 − 0.1) over 1/(1 + 0.1) of the others, at the very most.
      expect(shared).toBeLessThan(1.2);
      expect(openPeak).toBeGreaterThan(found.equalPeak * 0.98);
    }
    const mean = (of: (sample: SharingSample) => number): number =>
      found.samples.reduce((sum, one) => sum + of(one), 0) / found.samples.length;
    expect(mean(({ open }) => open)).toBeGreaterThan(1.02);
    expect(found.saturation).toBe(30);
    expect(found.spread).toContain('inductance 20 %');
  });
  test('what there is is told of on the way, and boards without a duty ratio are counted, not left out', () => {
    const told: SharingStudy[] = [];
    const found = sharingStudy(stage(2), 45, 1, (sofar) => told.push(sofar));
    if (typeof found === 'string') throw new Error(found);
    expect(told.map(({ tried, samples }) => [tried, samples.length])).toEqual([
      [20, 20],
      [40, 40],
    ]);
    expect([found.tried, found.unsolved]).toEqual([45, 0]);
    // With as much duty ratio as equal phases need, those that need more have none.
    const complete = stage(2);
    const { solution } = solved(complete, [{}, {}]).solved;
    const tight = { ...complete.stage.control, dutyMax: solution.duty + 1e-9 };
    const limited = sharingStudy({ ...complete, stage: { ...complete.stage, control: tight } }, 40);
    if (typeof limited === 'string') throw new Error(limited);
    expect(limited.unsolved).toBeGreaterThan(5);
    expect(limited.unsolved + limited.samples.length).toBe(40);
  });
  test('the same seed gives the same boards, another others; a single phase shares with nobody', () => {
    const complete = stage(2);
    expect(sharingStudy(complete, 3, 7)).toEqual(sharingStudy(complete, 3, 7));
    expect(sharingStudy(complete, 3, 8)).not.toEqual(sharingStudy(complete, 3, 7));
    expect(sharingStudy(stage(1), 3)).toContain('nobody');
  });
});

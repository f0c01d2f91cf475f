import { describe, expect, test } from '@jest/globals';
import { stageSchema, type Stage } from '@yundro/core';
import { engine } from './engine';
import { survey } from './survey';

const bare = stageSchema.parse({
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  targets: {
    inputVoltage: { min: 10, max: 14 },
    outputVoltage: 5,
    outputCurrent: { min: 0.1, max: 3 },
    inductorRippleRatio: 0.35,
    phaseMargin: 50,
  },
});
const worked = engine.work(1, bare, true);
const { stage } = worked;
const changed: Stage = { ...stage, targets: { ...stage.targets, outputVoltage: 3.3 } };

describe('the engine’s worker', () => {
  test('works a stage at every corner under the number it is given, and chooses what is free', () => {
    expect(worked).toMatchObject({ work: 1, problems: [] });
    expect(stage.parts.inductor?.inductance).toBeGreaterThan(0);
    expect(worked.corners.every(({ point, reason }) => point !== undefined && reason === undefined)).toBe(true);
    expect(engine.work(2, stage, false).stage).toEqual(stage);
  });
  test('answers a question about the work it names, not about the latest', () => {
    engine.work(3, stage, false);
    engine.work(4, changed, false);
    const average = (work: number) => engine.waveforms(work, 0, ['node:out'])?.traces[0]?.measures.average;
    expect(average(3)).toBeCloseTo(5, 1);
    expect(average(4)).toBeCloseTo(3.3, 1);
  });
  test('has no answer about a work it keeps no longer, but keeps the one that is held', async () => {
    engine.work(5, stage, false);
    engine.hold([5]);
    for (const work of [6, 7, 8]) engine.work(work, changed, false);
    expect(await engine.working(5, 0, 'outputRipple')).toBeDefined();
    expect(await engine.working(6, 0, 'outputRipple')).toBeUndefined();
    expect(engine.schematic(8, 0, 0)).toBeDefined();
    engine.hold([]);
    engine.work(9, changed, false);
    expect(await engine.working(5, 0, 'outputRipple')).toBeUndefined();
  });
  test('says of a stage that lacks parts what is missing, and what losses leave out of one that has them', () => {
    const { evaluation, problems, corners } = engine.work(10, bare, false);
    expect([evaluation, corners]).toEqual([undefined, []]);
    expect(problems.length).toBeGreaterThan(0);
    expect(worked.evaluation?.notIncluded.join(' ')).toContain('current the controller itself draws');
    expect(worked.corners[0]?.leftOut).toContain('current the controller itself draws');
  });
});

describe('the survey’s worker', () => {
  test('answers about the stage and corner it is given', async () => {
    const { inputVoltage } = stage.targets;
    expect((await survey.conversionRatio(stage, inputVoltage.max, 3))?.inputVoltage).toBe(inputVoltage.max);
    expect(survey.ledger(stage)?.map(({ target }) => target)).toContain('inductorRippleRatio');
    expect((await survey.loopAt(stage, 12, 3))?.loop).toMatchObject({ kind: 'unsolved' });
  });
  test('has nothing to say of a stage that lacks parts, and does not break down over it', async () => {
    expect(await survey.conversionRatio(bare, 12, 3)).toBeUndefined();
    expect(survey.ledger(bare)).toBeUndefined();
    expect(survey.judgeLoop(bare)).toBeUndefined();
    expect(await survey.loopGains(bare)).toEqual([]);
    expect(await survey.inputImpedances(bare, 12, 3)).toBe('the stage still lacks a part');
  });
});

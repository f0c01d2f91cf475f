import { evaluateStage, ledgerOf } from '@yundro/core';
import type { Command } from '../command.js';
import { commandLine, stageFrom, valueOrSentence } from '../input.js';
import { driversReport, evaluationReport, jsonText } from '../report.js';

export const evaluate: Command = {
  summary: 'every corner of a complete stage, and a verdict per target with what drives it',
  run: async (words) => {
    const { file, values } = commandLine(words, {});
    const evaluated = valueOrSentence(evaluateStage(await stageFrom(file)));
    const report = { ...evaluated.evaluation, verdicts: ledgerOf(evaluated) };
    return values['json'] === true ? jsonText(report) : `${evaluationReport(report)}${driversReport(report.verdicts)}`;
  },
};

import { evaluateStage } from '@yundro/core';
import type { Command } from '../command.js';
import { commandLine, stageFrom, valueOrSentence } from '../input.js';
import { evaluationReport, jsonText } from '../report.js';

export const evaluate: Command = {
  summary: 'every corner of a complete stage, and a verdict per target',
  run: async (words) => {
    const { file, values } = commandLine(words, {});
    const { evaluation } = valueOrSentence(evaluateStage(await stageFrom(file)));
    return values['json'] === true ? jsonText(evaluation) : evaluationReport(evaluation);
  },
};

import { sizeLoop, sizeStage, writeStage } from '@yundro/core';
import type { Command } from '../command.js';
import { commandLine, stageFrom, valueOrSentence, writeTo } from '../input.js';
import { choicesReport, evaluationReport, jsonText } from '../report.js';

export const size: Command = {
  summary:
    'from targets to a complete stage: duty, frequency, parts, compensation, verdicts  (--output FILE writes it)',
  run: async (words) => {
    const { file, values } = commandLine(words, { output: { type: 'string' } });
    const sized = sizeLoop(valueOrSentence(sizeStage(await stageFrom(file))));
    const output = values['output'];
    if (typeof output === 'string') await writeTo(output, writeStage(sized.evaluation.stage));
    const { evaluation, choices, noLoop } = sized;
    return values['json'] === true
      ? jsonText({ ...evaluation, choices, ...(noLoop !== undefined && { noLoop }) })
      : choicesReport(choices) +
          evaluationReport(evaluation) +
          (noLoop === undefined ? '' : `\nNo compensation is proposed: ${noLoop}.\n`);
  },
};

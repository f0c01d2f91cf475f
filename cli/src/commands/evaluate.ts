import {
  cautionsOf,
  evaluateStage,
  judgeLoop,
  judgeTransient,
  transientSettles,
  wholeLedger,
  withLoop,
  withRecords,
} from '@yundro/core';
import type { Command } from '../command.js';
import { commandLine, stageFrom, valueOrSentence } from '../input.js';
import { inventoryFrom } from '../inventory.js';
import { cautionsReport, driversReport, evaluationReport, jsonText, remediesReport } from '../report.js';

export const evaluate: Command = {
  summary:
    'every corner of a complete stage, and a verdict per target with what drives it  (--library FILE fills up the parts that are named after its records)',
  run: async (words) => {
    const { file, values } = commandLine(words, { library: { type: 'string' } });
    const stated = await stageFrom(file);
    const named = typeof values['library'] === 'string';
    const stage = named ? withRecords(stated, await inventoryFrom(values['library'])) : stated;
    const evaluated = valueOrSentence(evaluateStage(stage));
    const loop = judgeLoop(evaluated);
    const transient = judgeTransient(evaluated.complete);
    const settled = transientSettles(transient);
    const { evaluation } = withLoop(evaluated, loop);
    const report = {
      ...evaluation,
      verdicts: [...wholeLedger(evaluated, loop, transient)],
      cautions: cautionsOf(evaluation.stage, evaluated),
      notJudged: evaluation.notJudged.filter((words) => !settled.includes(words)),
    };
    return values['json'] === true
      ? jsonText(report)
      : `${evaluationReport(report)}${driversReport(report.verdicts)}${remediesReport(report.verdicts)}${cautionsReport(report.cautions)}`;
  },
};

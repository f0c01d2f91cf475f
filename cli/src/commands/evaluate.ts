import {
  cautionsOf,
  evaluateStage,
  filledFromClass,
  judgeLoop,
  selectControllers,
  judgeTransient,
  controllersSettle,
  transientSettles,
  wholeLedger,
  withLoop,
  withRecords,
  type EvaluatedStage,
  type Inventory,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { timeLeft } from '../patience.js';
import { commandLine, stageFrom, valueOrSentence } from '../input.js';
import { inventoryFrom } from '../inventory.js';
import {
  cautionsReport,
  controllersReport,
  driversReport,
  evaluationReport,
  judgedController,
  jsonText,
  remediesReport,
  typicalReport,
} from '../report.js';

/** The controller of a stage, and why it does not qualify where it does not. */
const controllersOf = (evaluated: EvaluatedStage, { controller }: Inventory, named: string) =>
  selectControllers(
    evaluated,
    controller.filter(({ name }) => name === named),
  );

export const evaluate: Command = {
  summary:
    'every corner of a complete stage, and a verdict per target with what drives it  (--library FILE fills up the parts that are named after its records, --typical what the others do not state from their class)',
  run: async (words) => {
    const { file, values } = commandLine(words, { library: { type: 'string' }, typical: { type: 'boolean' } });
    const stated = await stageFrom(file);
    const { controller } = stated.control;
    const filled = typeof values['library'] === 'string' || controller !== undefined;
    const inventory = filled ? await inventoryFrom(values['library']) : undefined;
    if (controller !== undefined && !inventory?.controller.some(({ name }) => name === controller))
      throw new CommandError(
        `No record of a controller is called “${controller}”: correct control.controller, leave it out, or name your own records with --library.`,
      );
    const known = inventory ? withRecords(stated, inventory) : stated;
    const typical =
      values['typical'] === true ? filledFromClass(known, inventory ?? (await inventoryFrom(undefined))) : undefined;
    const stage = typical?.stage ?? known;
    const evaluated = valueOrSentence(evaluateStage(stage));
    const loop = judgeLoop(evaluated);
    const transient = judgeTransient(evaluated.complete);
    const { evaluation } = withLoop(evaluated, loop);
    const candidates =
      inventory && controller !== undefined ? controllersOf(evaluated, inventory, controller) : undefined;
    const settled = [...transientSettles(transient), ...controllersSettle(evaluated, candidates ?? [])];
    const report = {
      ...evaluation,
      verdicts: [...wholeLedger(evaluated, loop, transient, timeLeft)],
      ...(typical && { typical: typical.filled }),
      ...(candidates && { controllers: candidates.map(judgedController) }),
      cautions: cautionsOf(evaluation.stage, evaluated),
      notJudged: evaluation.notJudged.filter((words) => !settled.includes(words)),
    };
    return values['json'] === true
      ? jsonText(report)
      : `${evaluationReport(report)}${driversReport(report.verdicts)}${remediesReport(report.verdicts)}${controllersReport(report.controllers)}${typicalReport(typical?.filled ?? [])}${cautionsReport(report.cautions)}`;
  },
};

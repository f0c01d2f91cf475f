import {
  cautionsOf,
  designStage,
  OBJECTIVES,
  withRemedies,
  writeStage,
  type Designed,
  type Objective,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { commandLine, stageFrom, valueOrSentence, writeTo } from '../input.js';
import { inventoryFrom } from '../inventory.js';
import { timeLeft } from '../patience.js';
import {
  cautionsReport,
  choicesReport,
  evaluationReport,
  jsonText,
  judgedController,
  remediesReport,
} from '../report.js';

function objectiveFrom(text: unknown): Objective {
  const found = OBJECTIVES.find((one) => one === (text ?? 'balanced'));
  if (!found)
    throw new CommandError(`--objective is ${OBJECTIVES.slice(0, -1).join(', ')} or ${OBJECTIVES.at(-1) ?? ''}.`);
  return found;
}

/** The nearest rivals, and what would have to be given up. */
function besides({ rivals, nearest, design }: Designed): string {
  const against = rivals.length > 0 ? `\nRivals\n${rivals.map(({ words }) => `  ${words}.\n`).join('')}` : '';
  const { verdicts } = design.evaluated.evaluation;
  const names = new Map(verdicts.map(({ target, quantity }) => [target, quantity]));
  const missed = nearest.map(({ target, from, to }) => {
    const name = names.get(target);
    return name === undefined
      ? `  or ${target}: ${String(to)} in place of ${String(from)}\n`
      : `  ${name}: ${String(from)} asked, ${String(to)} reached\n`;
  });
  const unreached = verdicts.flatMap(({ pass, worst, quantity, reason }) =>
    pass || worst !== null ? [] : [`  ${quantity}: nothing is reached${reason === undefined ? '' : `, ${reason}`}\n`],
  );
  const given = `\nNo design was found that meets every target; the nearest gives up, in SI units\n${[...missed, ...unreached].join('')}`;
  return against + (missed.length + unreached.length > 0 ? given : '');
}

export const size: Command = {
  summary:
    'from targets to a complete stage of records: frequency, parts, compensation, verdicts  (--output FILE writes it, --library FILE an inventory of your own, --objective balanced|efficiency|size|cost)',
  run: async (words) => {
    const { file, values } = commandLine(words, {
      output: { type: 'string' },
      library: { type: 'string' },
      objective: { type: 'string' },
    });
    const objective = objectiveFrom(values['objective']);
    const inventory = await inventoryFrom(values['library']);
    const designed = valueOrSentence(designStage(await stageFrom(file), inventory, objective));
    const { design, rivals, nearest, controllers, noController } = designed;
    const { evaluation: judged } = design.evaluated;
    const evaluation = { ...judged, verdicts: [...withRemedies(design.evaluated, timeLeft)] };
    const cautions = cautionsOf(evaluation.stage, design.evaluated);
    const output = values['output'];
    if (typeof output === 'string') await writeTo(output, writeStage(evaluation.stage));
    const { choices, figures, noLoop } = design;
    return values['json'] === true
      ? jsonText({
          ...evaluation,
          choices,
          objective,
          figures,
          rivals,
          nearest,
          controllers: controllers.map(judgedController),
          ...(noController !== undefined && { noController }),
          cautions,
          ...(noLoop !== undefined && { noLoop }),
        })
      : choicesReport(choices) +
          evaluationReport(evaluation) +
          besides(designed) +
          remediesReport(evaluation.verdicts) +
          (noController === undefined ? '' : `\nController: ${noController}\n`) +
          cautionsReport(cautions) +
          (noLoop === undefined ? '' : `\nNo compensation is proposed: ${noLoop}.\n`);
  },
};

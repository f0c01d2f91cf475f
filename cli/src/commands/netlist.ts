import {
  closedLoopNetlist,
  closeLoop,
  completeStage,
  operatingPoint,
  spiceNetlist,
  type CompleteStage,
  type OperatingCondition,
  type SolvedPoint,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { CONDITION_OPTIONS, conditionFrom } from '../condition.js';
import { commandLine, stageFrom, valueOrSentence } from '../input.js';
import { jsonText } from '../report.js';

function closed(complete: CompleteStage, condition: OperatingCondition, point: SolvedPoint): string {
  const found = closeLoop(complete, condition, point);
  if (found.kind !== 'closed') throw new CommandError(`There is no loop to draw: ${found.reason}.`);
  const written = closedLoopNetlist(complete.stage.name, found.loop, complete.stage.deadTime);
  if (!written.ok) throw new CommandError(`There is no such netlist: ${written.reason}.`);
  return written.text;
}

export const netlist: Command = {
  summary:
    'plain SPICE netlist of the stage at one point  (--vin V, --iout A, --rload OHM or --pload W, --closed-loop)',
  run: async (words) => {
    const { file, values } = commandLine(words, { ...CONDITION_OPTIONS, 'closed-loop': { type: 'boolean' } });
    const stage = await stageFrom(file);
    const complete = valueOrSentence(completeStage(stage));
    const condition = conditionFrom(values, stage);
    const found = operatingPoint(complete, condition);
    if (found.kind === 'unsolved') throw new CommandError(`There is no operating point to draw: ${found.reason}.`);
    const text = values['closed-loop'] === true ? closed(complete, condition, found) : spiceNetlist(stage.name, found);
    return values['json'] === true ? jsonText({ netlist: text }) : text;
  },
};

import { completeStage, operatingPoint, spiceNetlist } from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { CONDITION_OPTIONS, conditionFrom } from '../condition.js';
import { commandLine, stageFrom, valueOrSentence } from '../input.js';
import { jsonText } from '../report.js';

export const netlist: Command = {
  summary: 'plain SPICE netlist of the stage at one point, open loop  (--vin V, --iout A, --rload OHM or --pload W)',
  run: async (words) => {
    const { file, values } = commandLine(words, CONDITION_OPTIONS);
    const stage = await stageFrom(file);
    const found = operatingPoint(valueOrSentence(completeStage(stage)), conditionFrom(values, stage));
    if (found.kind === 'unsolved') throw new CommandError(`There is no operating point to draw: ${found.reason}.`);
    const text = spiceNetlist(stage.name, found);
    return values['json'] === true ? jsonText({ netlist: text }) : text;
  },
};

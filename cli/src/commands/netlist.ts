import {
  closedLoopNetlist,
  closeLoop,
  completeStage,
  edgeNetlist,
  operatingPoint,
  ROOM_TEMPERATURE,
  spiceNetlist,
  worstLoops,
  type CompleteStage,
  type NetlistStep,
  type OperatingCondition,
  type SolvedPoint,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { CONDITION_OPTIONS, conditionFrom } from '../condition.js';
import { commandLine, numberOption, stageFrom, valueOrSentence } from '../input.js';
import { jsonText } from '../report.js';

/** Clock periods run after a step where none are asked for. */
const CYCLES = 200;

/** The step of the load that is asked for; undefined where none is. */
function stepFrom(
  values: Readonly<Record<string, unknown>>,
  { stage, inductor }: CompleteStage,
  solved: SolvedPoint,
): NetlistStep | undefined {
  const by = numberOption(values, 'step', 'A', { min: -1e4, max: 1e4 });
  const slewRate = numberOption(values, 'slew', 'A/s', { above: 0, max: 1e12 });
  const cycles = Math.round(numberOption(values, 'cycles', 'count', { min: 1, max: 1e5 }) ?? CYCLES);
  if (by === undefined) return undefined;
  const { dutyMax, currentLimit } = stage.control;
  return {
    by: stage.targets.outputVoltage < 0 ? -by : by,
    slewRate,
    cycles,
    limits: { dutyMax, currentLimit },
    saturates: { solved, part: inductor },
  };
}

function closed(
  complete: CompleteStage,
  condition: OperatingCondition,
  point: SolvedPoint,
  step: NetlistStep | undefined,
): string {
  const found = closeLoop(complete, condition, point);
  if (found.kind !== 'closed') throw new CommandError(`There is no loop to draw: ${found.reason}.`);
  const written = closedLoopNetlist(complete.stage.name, found.loop, complete.stage.deadTime, step);
  if (!written.ok) throw new CommandError(`There is no such netlist: ${written.reason}.`);
  return written.text;
}

/** The edge of a main switch, with the inductance of its hot loop: the first of the stage where none is named. */
function edge(
  complete: CompleteStage,
  condition: OperatingCondition,
  solved: SolvedPoint,
  inductance: number,
  device: string | undefined,
): string {
  const corner = {
    inputVoltage: condition.inputVoltage,
    outputCurrent: solved.point.outputCurrent,
    temperature: condition.ambient ?? complete.stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE,
  };
  const loops = worstLoops({ complete, corners: [{ corner, result: solved }] });
  const loop = device === undefined ? loops[0] : loops.find(({ main }) => main === device);
  if (!loop)
    throw new CommandError(
      `No hot loop is closed by ${device ?? 'a switch'}: ${loops.length === 0 ? 'at this point no current turns over' : `name one of ${loops.map(({ main }) => main ?? '').join(', ')} as --edge`}.`,
    );
  return valueOrSentence(edgeNetlist(complete.stage.name, solved, loop, inductance));
}

export const netlist: Command = {
  summary:
    'plain SPICE netlist of the stage at one point  (--vin V, --iout A, --rload OHM or --pload W, --closed-loop and with it --step A, --slew A/s, --cycles N; --loop-inductance H for one edge with the parasitics of its hot loop, --edge SWITCH which)',
  run: async (words) => {
    const { file, values } = commandLine(words, {
      ...CONDITION_OPTIONS,
      'closed-loop': { type: 'boolean' },
      step: { type: 'string' },
      slew: { type: 'string' },
      cycles: { type: 'string' },
      'loop-inductance': { type: 'string' },
      edge: { type: 'string' },
    });
    const stage = await stageFrom(file);
    const complete = valueOrSentence(completeStage(stage));
    const condition = conditionFrom(values, stage);
    const found = operatingPoint(complete, condition);
    if (found.kind === 'unsolved') throw new CommandError(`There is no operating point to draw: ${found.reason}.`);
    const step = stepFrom(values, complete, found);
    const loopClosed = values['closed-loop'] === true;
    if (step && !loopClosed) throw new CommandError('A step of the load is answered by the loop: add --closed-loop.');
    const inductance = numberOption(values, 'loop-inductance', 'H', { above: 0, max: 1e-5 });
    if (inductance !== undefined && loopClosed)
      throw new CommandError('An edge is drawn open loop: leave --closed-loop out, or --loop-inductance.');
    if (inductance === undefined && values['edge'] !== undefined)
      throw new CommandError('An edge rings with the inductance of its loop: add --loop-inductance.');
    const text = loopClosed
      ? closed(complete, condition, found, step)
      : inductance === undefined
        ? spiceNetlist(stage.name, found, complete.inductor)
        : edge(complete, condition, found, inductance, values['edge'] as string | undefined);
    return values['json'] === true ? jsonText({ netlist: text }) : text;
  },
};

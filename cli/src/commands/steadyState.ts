import {
  completeStage,
  currentOf,
  nodeVoltage,
  operatingPoint,
  points,
  nominalInput,
  type OperatingCondition,
  type SolvedPoint,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { commandLine, numberOption, stageFrom, valueOrSentence, writeTo } from '../input.js';
import { jsonText, pointReport } from '../report.js';

/** The traces as CSV: time, then a column each, one period, both sides of every edge. */
function traces({ solution, powerStage }: SolvedPoint): string {
  const columns = [
    ...powerStage.elements.inductors.map((name) => ({ name: `i(${name})`, of: points(solution, currentOf(name)) })),
    { name: 'v(switch node)', of: points(solution, nodeVoltage(powerStage.switchNode)) },
    { name: 'v(output)', of: points(solution, nodeVoltage(powerStage.outputNode)) },
  ];
  const time = columns[0]?.of.time ?? [];
  const rows = time.map((t, i) => [t, ...columns.map(({ of }) => of.value[i] ?? 0)].join(','));
  return `${['time', ...columns.map(({ name }) => name)].join(',')}\n${rows.join('\n')}\n`;
}

export const steadyState: Command = {
  summary: 'exact periodic steady state at one point  (--vin V, --iout A or --rload OHM, --duty D, --csv FILE)',
  run: async (words) => {
    const { file, values } = commandLine(words, {
      vin: { type: 'string' },
      iout: { type: 'string' },
      rload: { type: 'string' },
      duty: { type: 'string' },
      csv: { type: 'string' },
    });
    const stage = await stageFrom(file);
    const complete = valueOrSentence(completeStage(stage));
    const inputVoltage = numberOption(values, 'vin', 'V', { above: 0, max: 1e4 }) ?? nominalInput(stage);
    const resistance = numberOption(values, 'rload', 'ohm', { above: 0, max: 1e9 });
    const current = numberOption(values, 'iout', 'A', { min: 0, max: 1e4 });
    if (resistance !== undefined && current !== undefined)
      throw new CommandError('Give the load as --iout or as --rload, not both.');
    const fixedDuty = numberOption(values, 'duty', 'ratio', { above: 0, max: 1 });
    const load: OperatingCondition['load'] =
      resistance === undefined
        ? { kind: 'current', current: current ?? stage.targets.outputCurrent.max }
        : { kind: 'resistance', resistance };
    const found = operatingPoint(complete, { inputVoltage, load }, { fixedDuty });
    if (found.kind === 'unsolved') {
      if (values['json'] === true)
        return jsonText({
          operatingPoint: null,
          reason: found.reason,
          duty: found.duty,
          highestOutput: found.highestOutput ?? null,
          solver: { iterations: found.iterations },
        });
      return `No operating point: ${found.reason}.\n`;
    }
    const csv = values['csv'];
    if (typeof csv === 'string') await writeTo(csv, traces(found));
    return values['json'] === true
      ? jsonText({ operatingPoint: found.point, solver: { iterations: found.solution.iterations } })
      : pointReport(found.point);
  },
};

import {
  completeStage,
  currentOf,
  nodeVoltage,
  operatingPoint,
  operatingPointIn,
  points,
  type SolvedPoint,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CONDITION_OPTIONS, conditionFrom } from '../condition.js';
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
  summary:
    'exact periodic steady state at one point  (--vin V, --iout A, --rload OHM or --pload W, --duty D, --csv FILE)',
  run: async (words) => {
    const { file, values } = commandLine(words, {
      ...CONDITION_OPTIONS,
      duty: { type: 'string' },
      csv: { type: 'string' },
    });
    const stage = await stageFrom(file);
    const complete = valueOrSentence(completeStage(stage));
    const fixedDuty = numberOption(values, 'duty', 'ratio', { above: 0, max: 1 });
    const condition = conditionFrom(values, stage);
    const found =
      fixedDuty === undefined
        ? operatingPointIn(stage.operatingMode, complete, condition)
        : operatingPoint(complete, condition, { fixedDuty });
    if (found.kind === 'unsolved') {
      if (values['json'] === true)
        return jsonText({
          operatingPoint: null,
          why: found.why,
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

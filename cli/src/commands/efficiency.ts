import {
  completeStage,
  efficiencyCurve,
  formatQuantity,
  leftOutSentences,
  loadsOf,
  nominalInput,
  operatingPointIn,
  type EfficiencyCurve,
} from '@yundro/core';
import type { Command } from '../command.js';
import { commandLine, numberOption, stageFrom, valueOrSentence } from '../input.js';
import { jsonText } from '../report.js';

const DEFAULT_POINTS = 20;
const MOST_POINTS = 400;

/** The curve as a table: efficiency, frequency and total loss by load, the lightest first. */
function efficiencyReport({ mode, inputVoltage, points, noLoadCurrent }: EfficiencyCurve): string {
  const rows = points.map(({ outputCurrent, efficiency, switchingFrequency, losses }) =>
    [
      formatQuantity(outputCurrent, 'A', 4).padEnd(12),
      `${(100 * efficiency).toFixed(2)} %`.padEnd(11),
      formatQuantity(switchingFrequency, 'Hz', 4).padEnd(12),
      formatQuantity(losses['total'] ?? 0, 'W', 4),
    ].join(''),
  );
  const idle = noLoadCurrent === undefined ? '' : `No-load input current ${formatQuantity(noLoadCurrent, 'A', 3)}\n`;
  return `Efficiency at ${formatQuantity(inputVoltage, 'V', 4)} input, ${mode}\nload        efficiency frequency   loss\n${rows.join('\n')}\n${idle}`;
}

export const efficiency: Command = {
  summary: 'efficiency and losses against load  (--vin V, --points N)',
  run: async (words) => {
    const { file, values } = commandLine(words, { vin: { type: 'string' }, points: { type: 'string' } });
    const stage = await stageFrom(file);
    const complete = valueOrSentence(completeStage(stage));
    const inputVoltage = numberOption(values, 'vin', 'V', { above: 0, max: 1e4 }) ?? nominalInput(stage);
    const count = Math.round(numberOption(values, 'points', 'count', { min: 1, max: MOST_POINTS }) ?? DEFAULT_POINTS);
    const curve = efficiencyCurve(complete, stage.operatingMode, inputVoltage, loadsOf(complete, count));
    // What the heaviest load leaves out, the lighter ones do too.
    const load = { kind: 'current' as const, current: stage.targets.outputCurrent.max };
    const full = operatingPointIn(stage.operatingMode, complete, { inputVoltage, load });
    const notIncluded = leftOutSentences(full.kind === 'solved' ? full.heat.unknown : []);
    return values['json'] === true
      ? jsonText({ ...curve, noLoadCurrent: curve.noLoadCurrent ?? null, notIncluded })
      : `${efficiencyReport(curve)}${notIncluded.map((sentence) => `${sentence}\n`).join('')}`;
  },
};

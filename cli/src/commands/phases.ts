import {
  byInterest,
  completeStage,
  couplingLookedAt,
  couplingStudy,
  formatQuantity,
  MOST_STUDIED,
  OBJECTIVES,
  phaseCounts,
  recommendedCount,
  shedding,
  type CouplingStudy,
  type PhaseCount,
  type PhaseStep,
  type Shedding,
  type Stage,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { commandLine, numberOption, stageFrom } from '../input.js';
import { inventoryFrom } from '../inventory.js';
import { timeLeft } from '../patience.js';
import { jsonText, table } from '../report.js';

function countsReport(counts: readonly PhaseCount[], steps: readonly PhaseStep[]): string {
  const amps = (value: number): string => formatQuantity(value, 'A', 3);
  const rows = counts.map(({ phases, inductor, winding, summed, inputRms, figures, misses }) => {
    const step = steps.find((one) => one.phases === phases);
    return [
      String(phases),
      inductor.name ?? formatQuantity(inductor.inductance, 'H', 3),
      amps(winding),
      amps(summed),
      amps(inputRms),
      step?.deviation === undefined ? '–' : formatQuantity(step.deviation, 'V', 3),
      formatQuantity(figures.loss, 'W', 3),
      `${(1e4 * figures.area).toFixed(1)} cm²`,
      figures.price.toFixed(2),
      misses.join(', '),
    ];
  });
  const head = [
    'phases',
    'inductor',
    'ripple',
    'of the sum',
    'input RMS',
    'load step',
    'loss',
    'board',
    'price',
    'misses',
  ];
  return table([head, ...rows]);
}

/** Which load steps the table lacks, and why. */
function notSimulated({ targets }: Stage, counts: readonly PhaseCount[], steps: readonly PhaseStep[]): string {
  if (targets.loadStep?.deviation === undefined) return '';
  const lacking = steps.flatMap(({ phases, reason }) =>
    reason === undefined ? [] : [`Load step of ${String(phases)}: none, ${reason}.\n`],
  );
  const left = counts.length - steps.length;
  const late =
    left > 0 ? [`Load steps of ${String(left)} numbers were left out for want of time: --patience gives more.\n`] : [];
  return [...lacking, ...late].join('');
}

const couplingReport = (found: CouplingStudy | string): string =>
  typeof found === 'string' ? `${found}\n` : `${found.verdict}\n`;

function sheddingReport(found: Shedding | string): string {
  if (typeof found === 'string') return `${found}\n`;
  if (found.thresholds.length === 0) return 'The same number of phases loses least at every load.\n';
  return table([
    ['phases at work', 'added above', 'dropped below'],
    ...found.thresholds.map(({ from, to, add, drop }) => [
      `${String(from)} to ${String(to)}`,
      formatQuantity(add, 'A', 3),
      formatQuantity(drop, 'A', 3),
    ]),
  ]);
}

export const phases: Command = {
  summary:
    'how many phases, coupled or not, and how many of them at work  (--most N, --library FILE, --objective balanced|efficiency|size|cost)',
  run: async (words) => {
    const { file, values } = commandLine(words, {
      most: { type: 'string' },
      library: { type: 'string' },
      objective: { type: 'string' },
    });
    const objective = OBJECTIVES.find((one) => one === (values['objective'] ?? 'balanced'));
    if (!objective) throw new CommandError(`--objective is one of ${OBJECTIVES.join(', ')}.`);
    const most = Math.round(numberOption(values, 'most', 'count', { min: 1, max: MOST_STUDIED }) ?? MOST_STUDIED);
    const stage = await stageFrom(file);
    const studied = [...phaseCounts(stage, await inventoryFrom(values['library']), objective, most)];
    const counts = studied.map(({ count }) => count);
    // Simulated as far as the patience of the command reaches.
    const steps = byInterest(studied, objective, stage.phases).flatMap(({ step }) =>
      timeLeft() ? (step() ?? []) : [],
    );
    const recommended = recommendedCount(counts, objective, steps);
    // Where the stage has no parts yet, those of the draft with as many phases.
    const own = completeStage(stage);
    const drafted = counts.find((one) => one.phases === stage.phases)?.stage;
    const complete = own.ok || !drafted ? own : completeStage({ ...drafted, coupling: stage.coupling });
    const coupled = complete.ok
      ? couplingStudy(complete.value, couplingLookedAt(stage))
      : 'The stage has no inductor yet to be coupled.';
    const shed = complete.ok ? shedding(complete.value) : 'The stage has no parts yet: size it first.';
    return values['json'] === true
      ? jsonText({ counts, steps, recommended: recommended ?? null, coupling: coupled, shedding: shed })
      : `${countsReport(counts, steps)}\n${notSimulated(stage, counts, steps)}${recommended?.words ?? 'No number of phases makes a stage of it.'}\n\nCoupling\n${couplingReport(coupled)}\nShedding\n${sheddingReport(shed)}`;
  },
};

import {
  completeStage,
  formatQuantity,
  lineStep,
  loadStep,
  oneWayStart,
  shortCircuit,
  simulate as simulated,
  startUp,
  waveformsCsv,
  type OperatingCondition,
  type Scenario,
  type SimulatedRun,
  type Stage,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { CONDITION_OPTIONS, conditionFrom } from '../condition.js';
import { commandLine, numberOption, stageFrom, valueOrSentence, writeTo } from '../input.js';
import { jsonText } from '../report.js';

const SCENARIOS = ['start-up', 'load-step', 'line-step', 'short-circuit'] as const;
type Kind = (typeof SCENARIOS)[number];

/** Clock periods of a run where none are asked for; a start-up lasts twice its soft start at least. */
const CYCLES = 400;
const AFTER_SOFT_START = 2;
/** A short where none is given, ohm: a screwdriver across the terminals. */
const SHORT = 0.01;

type Values = Readonly<Record<string, unknown>>;

function kindFrom(text: unknown): Kind {
  const found = SCENARIOS.find((one) => one === (text ?? 'load-step'));
  if (!found)
    throw new CommandError(`--scenario is ${SCENARIOS.slice(0, -1).join(', ')} or ${SCENARIOS.at(-1) ?? ''}.`);
  return found;
}

/** What happens, and from which load: the targets' load step where no step is given. */
function scenarioFrom(
  values: Values,
  stage: Stage,
  kind: Kind,
): { readonly condition: OperatingCondition; readonly scenario: Scenario } {
  const condition = conditionFrom(values, stage);
  const { softStartTime = 0 } = stage.control;
  const longest = AFTER_SOFT_START * softStartTime * (stage.switchingFrequency ?? 0);
  const least = kind === 'start-up' ? Math.ceil(Math.max(CYCLES, longest)) : CYCLES;
  const cycles = Math.round(numberOption(values, 'cycles', 'count', { min: 1, max: 1e6 }) ?? least);
  const fixedDuty = numberOption(values, 'duty', 'ratio', { above: 0, max: 1 });
  const held = (scenario: Scenario): Scenario => (fixedDuty === undefined ? scenario : { ...scenario, fixedDuty });
  const slewRate = numberOption(values, 'slew', 'A/s', { above: 0, max: 1e12 });
  switch (kind) {
    case 'start-up':
      return { condition, scenario: held(values['one-way-source'] === true ? oneWayStart(cycles) : startUp(cycles)) };
    case 'short-circuit': {
      const resistance = numberOption(values, 'short', 'ohm', { min: 0, max: 1e9 }) ?? SHORT;
      return { condition, scenario: held(shortCircuit(resistance, cycles)) };
    }
    case 'line-step': {
      const step = numberOption(values, 'step', 'V', { min: -1e4, max: 1e4 });
      if (step === undefined) throw new CommandError('A line step needs --step, the volts added to the input.');
      if (condition.inputVoltage + step <= 0)
        throw new CommandError('--step takes the input voltage to zero or below; a stage needs an input.');
      return { condition, scenario: held(lineStep(step, cycles)) };
    }
    case 'load-step': {
      const step = numberOption(values, 'step', 'A', { min: -1e4, max: 1e4 });
      if (step !== undefined) return { condition, scenario: held(loadStep(step, slewRate, cycles)) };
      const target = stage.targets.loadStep;
      if (!target) throw new CommandError('The stage states no load step; give one with --step.');
      const given = ['iout', 'rload', 'pload'].some((name) => typeof values[name] === 'string');
      return {
        condition: given ? condition : { ...condition, load: { kind: 'current', current: target.from } },
        scenario: held(loadStep(target.to - target.from, slewRate ?? target.slewRate, cycles)),
      };
    }
  }
}

function text({ measures, energy, settled, notIncluded }: SimulatedRun): string {
  const rows: readonly (readonly [string, string])[] = [
    ['undershoot', formatQuantity(measures.undershoot, 'V', 4)],
    ['overshoot', formatQuantity(measures.overshoot, 'V', 4)],
    ['recovery time', formatQuantity(measures.recoveryTime, 's', 4)],
    ['peak inductor current', formatQuantity(measures.peakInductorCurrent, 'A', 4)],
    ['final output voltage', formatQuantity(measures.finalOutputVoltage, 'V', 5)],
    ['peak output voltage', formatQuantity(measures.peakOutputVoltage, 'V', 5)],
    [
      'rise time',
      measures.riseTime === null
        ? 'none: the output did not rise through it'
        : formatQuantity(measures.riseTime, 's', 4),
    ],
    ['average output current', formatQuantity(measures.averageOutputCurrent, 'A', 4)],
    ['average switching frequency', formatQuantity(measures.averageSwitchingFrequency, 'Hz', 5)],
    ['ripple of the second half', formatQuantity(measures.steadyOutputRipple, 'V', 4)],
    ['inrush', `${measures.inrushIntegral.toPrecision(4)} A² s`],
    ['peak switch voltage', formatQuantity(measures.peakSwitchVoltage, 'V', 4)],
    ['energy out of the source', formatQuantity(energy.source, 'J', 4)],
    ['unaccounted for', `${((100 * energy.residual) / (energy.source || 1)).toExponential(1)} %`],
  ];
  const note = settled ? '' : '\nBefore time 0 the stage did not repeat itself from clock to clock.\n';
  const without = notIncluded.map((sentence) => `\n${sentence}\n`).join('');
  return `${rows.map(([words, value]) => `${words.padEnd(30)}${value}`).join('\n')}\n${note}${without}`;
}

export const simulate: Command = {
  summary:
    'switched time simulation  (--scenario start-up|load-step|line-step|short-circuit, --vin V, --iout A or --rload OHM, --step, --slew, --short, --duty D, --cycles N, --one-way-source for a start on a supply that cannot sink, --csv FILE)',
  run: async (words) => {
    const { file, values } = commandLine(words, {
      ...CONDITION_OPTIONS,
      scenario: { type: 'string' },
      step: { type: 'string' },
      slew: { type: 'string' },
      short: { type: 'string' },
      duty: { type: 'string' },
      cycles: { type: 'string' },
      'one-way-source': { type: 'boolean' },
      csv: { type: 'string' },
    });
    const stage = await stageFrom(file);
    const complete = valueOrSentence(completeStage(stage));
    const { condition, scenario } = scenarioFrom(values, stage, kindFrom(values['scenario']));
    const run = simulated(complete, condition, scenario);
    if (run.kind === 'failed') {
      if (values['json'] === true) return jsonText({ failed: run.reason });
      return `No run: ${run.reason}.\n`;
    }
    if (typeof values['csv'] === 'string') await writeTo(values['csv'], waveformsCsv(run.waveforms));
    return values['json'] === true
      ? jsonText({
          ...run.measures,
          energy: run.energy,
          settled: run.settled,
          notIncluded: run.notIncluded,
          changes: run.changes,
        })
      : text(run);
  },
};

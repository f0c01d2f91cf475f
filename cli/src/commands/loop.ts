import {
  completeStage,
  crossingsSentence,
  decibels,
  LOOP_BREAK_WORDS,
  type LoopBreak,
  formatQuantity,
  loopAt,
  loopCsv,
  loopFrequencies,
  parseQuantity,
  problemsSentence,
  unwrapped,
  type LoopPoint,
  type LoopReport,
  type Margin,
} from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { CONDITION_OPTIONS, conditionFrom } from '../condition.js';
import { commandLine, stageFrom, valueOrSentence, writeTo } from '../input.js';
import { jsonText } from '../report.js';

/** The frequencies of `--frequencies f1,f2,…`, typed as engineers type them. */
function frequenciesFrom(text: unknown): readonly number[] | undefined {
  if (typeof text !== 'string') return undefined;
  return text.split(',').map((one) => {
    const read = parseQuantity(one.trim(), 'Hz');
    if (!read.ok) throw new CommandError(problemsSentence(read.problems));
    if (!(read.value > 0)) throw new CommandError(`A frequency is above 0 Hz; ${one.trim()} is not.`);
    return read.value;
  });
}

/** Where `--break` has the loop looked at. */
function breakFrom(text: unknown): LoopBreak | undefined {
  if (text === undefined || text === 'output' || text === 'divider') return text;
  throw new CommandError('--break is output (all that hangs on it) or divider (its top alone).');
}

interface Written {
  readonly db: number;
  readonly degrees: number;
}

const RESPONSES = ['plant', 'compensator', 'loop', 'outputImpedance', 'line', 'inductorCurrent'] as const;

/** Gain and phase of each response, the phases without jumps where the frequencies ascend. */
function written(points: readonly LoopPoint[]) {
  const phases = RESPONSES.map((which) => unwrapped(points.map((point) => point[which])));
  return points.map((point, i) => ({
    frequency: point.frequency,
    ...Object.fromEntries(
      RESPONSES.map((which, k): readonly [string, Written] => [
        which,
        { db: decibels(point[which]), degrees: phases[k]?.[i] ?? NaN },
      ]),
    ),
  }));
}

/** A margin as it stands in JSON: a number, or why there is none. */
const marginJson = (margin: Margin) => (margin.kind === 'found' ? margin.value : { none: margin.reason });

const loopJson = (report: LoopReport): string =>
  jsonText({
    loopBreak: report.loopBreak,
    crossoverFrequency: marginJson(report.crossover),
    crossings: report.crossings,
    phaseMargin: marginJson(report.phaseMargin),
    gainMargin: marginJson(report.gainMargin),
    gainMarginFrequency:
      report.gainMargin.kind === 'found' ? report.gainMargin.frequency : { none: report.gainMargin.reason },
    subharmonicMargin: report.subharmonicMargin ?? { none: 'no rise of the gain leads to alternating pulses' },
    stable: report.stable,
    floquetMultipliers: report.floquetMultipliers,
    outputImpedancePeak: report.outputImpedancePeak.impedance,
    outputImpedancePeakFrequency: report.outputImpedancePeak.frequency,
    points: written(report.points),
  });

/** Where the loop is looked at, and what that means where another place shows another loop. */
function breakText({ loopBreak, otherBreak }: LoopReport): string {
  if (otherBreak === undefined) return LOOP_BREAK_WORDS[loopBreak];
  return loopBreak === 'output'
    ? `${LOOP_BREAK_WORDS.output}, divider and ripple network alike (--break divider shows the divider alone)`
    : `${LOOP_BREAK_WORDS.divider}: how the average is corrected; its crossover is not the bandwidth of the stage (--break output shows that)`;
}

function loopText({ crossover, phaseMargin, gainMargin, ...report }: LoopReport): string {
  const line = (words: string, margin: Margin, text: (value: number) => string): string =>
    `${words.padEnd(24)}${margin.kind === 'found' ? text(margin.value) : `none: ${margin.reason}`}`;
  const [largest] = report.floquetMultipliers;
  const { impedance, frequency } = report.outputImpedancePeak;
  const crossings = crossingsSentence(report.crossings);
  return `${[
    `${'loop broken'.padEnd(24)}${breakText({ ...report, crossover, phaseMargin, gainMargin })}`,
    line('crossover', crossover, (hz) => formatQuantity(hz, 'Hz', 4)),
    line('phase margin', phaseMargin, (degrees) => `${degrees.toFixed(1)}°`),
    line('gain margin', gainMargin, (db) => `${db.toFixed(1)} dB`),
    `${'subharmonic margin'.padEnd(24)}${report.subharmonicMargin === undefined ? 'none: no rise of the gain leads to alternating pulses' : `${report.subharmonicMargin.toFixed(1)} dB`}`,
    `${'stable'.padEnd(24)}${report.stable ? 'yes' : 'NO'}, largest multiplier ${largest ? Math.hypot(largest.re, largest.im).toFixed(4) : '–'}`,
    `${'output impedance'.padEnd(24)}${formatQuantity(impedance, 'ohm', 4)} at ${formatQuantity(frequency, 'Hz', 3)}, its largest`,
    ...(crossings === undefined ? [] : [crossings]),
  ].join('\n')}\n`;
}

export const loop: Command = {
  summary:
    'loop gain, margins, stability  (--vin V, --iout A, --rload OHM or --pload W, --frequencies F1,F2, --break output|divider, --csv FILE)',
  run: async (words) => {
    const { file, values } = commandLine(words, {
      ...CONDITION_OPTIONS,
      frequencies: { type: 'string' },
      csv: { type: 'string' },
      break: { type: 'string' },
    });
    const stage = await stageFrom(file);
    const complete = valueOrSentence(completeStage(stage));
    const frequencies = frequenciesFrom(values['frequencies']) ?? loopFrequencies(complete.switchingFrequency);
    const report = loopAt(complete, conditionFrom(values, stage), frequencies, {
      loopBreak: breakFrom(values['break']),
    });
    if (report.kind === 'unsolved') {
      if (values['json'] === true) return jsonText({ stable: null, why: report.why, reason: report.reason });
      return `No loop: ${report.reason}.\n`;
    }
    if (typeof values['csv'] === 'string') await writeTo(values['csv'], loopCsv(report.points));
    return values['json'] === true ? loopJson(report) : loopText(report);
  },
};

import type { Unit } from '../quantity/unit.js';
import { elementWords, nodeWords } from '../powerstage/elementWords.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import { alternatingRms, average, charge, extremes, rms, withoutMean } from '../orbit/measures.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { currentOf, nodeVoltage, sumOf, voltageOf, type Signal } from '../orbit/signal.js';
import { harmonics, type Harmonic } from '../orbit/spectrum.js';

/** A waveform of the stage that can be looked at. @public */
export interface StageSignal {
  /** `current:highSide1`, `voltage:load`, `node:sw1`, `ripple:out`, `sum:inductors`. */
  readonly key: string;
  readonly words: string;
  readonly unit: Unit;
  readonly signal: Signal;
}

/** Every waveform of a stage: ripples (without their average), node voltages, sums over phases and banks, current and voltage of every element. @public */
export function stageSignals(
  { circuit, elements, switchNode, outputNode }: PowerStage,
  solution: PeriodicSolution,
): readonly StageSignal[] {
  const nodes = new Set(circuit.elements.flatMap(({ a, b }) => [a, b]));
  nodes.delete('0');
  const first = new Set([switchNode, outputNode]);
  const ordered = [...first, ...[...nodes].filter((node) => !first.has(node))];
  const sum = (key: string, words: string, names: readonly string[]): readonly StageSignal[] =>
    names.length > 1 ? [{ key: `sum:${key}`, words, unit: 'A', signal: sumOf(names.map(currentOf)) }] : [];
  const ripple = (node: string, words: string): StageSignal => ({
    key: `ripple:${node}`,
    words,
    unit: 'V',
    signal: withoutMean(solution, nodeVoltage(node)),
  });
  return [
    ripple(outputNode, 'output ripple'),
    ripple('in', 'input ripple'),
    ...ordered.map((node): StageSignal => ({
      key: `node:${node}`,
      words: `voltage, ${nodeWords(node)}`,
      unit: 'V',
      signal: nodeVoltage(node),
    })),
    ...sum('inductors', 'current, all inductors', elements.inductors),
    ...sum('outputBanks', 'current, all output capacitors', elements.outputBanks),
    ...sum('inputBanks', 'current, all input capacitors', elements.inputBanks),
    ...circuit.elements.flatMap(({ name }): readonly StageSignal[] => {
      const { words } = elementWords(name);
      return [
        { key: `current:${name}`, words: `current, ${words}`, unit: 'A', signal: currentOf(name) },
        { key: `voltage:${name}`, words: `voltage across, ${words}`, unit: 'V', signal: voltageOf(name) },
      ];
    }),
  ];
}

/** What can be read off a waveform, exact from the piecewise solution. @public */
export interface WaveformMeasures {
  readonly average: number;
  readonly rms: number;
  /** RMS without the average. */
  readonly alternatingRms: number;
  readonly peak: number;
  readonly valley: number;
  /** Peak to peak. */
  readonly ripple: number;
  /** Charge (A s) or flux (V s) moved per period in the positive direction, by the waveform without its average. */
  readonly charge: number;
  readonly harmonics: readonly Harmonic[];
}

/** Harmonics read off a waveform. */
const HARMONICS = 10;

/** The measures of a waveform. @public */
export function waveformMeasures(solution: PeriodicSolution, signal: Signal): WaveformMeasures {
  const { max, min, peakToPeak } = extremes(solution, signal);
  return {
    average: average(solution, signal),
    rms: rms(solution, signal),
    alternatingRms: alternatingRms(solution, signal),
    peak: max,
    valley: min,
    ripple: peakToPeak,
    charge: charge(solution, withoutMean(solution, signal)),
    harmonics: harmonics(solution, signal, HARMONICS),
  };
}

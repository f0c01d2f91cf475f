import { formatQuantity, type CriticalStudy } from '@yundro/core';
import type { Curve } from '../charts/curves';
import type { PhaseChart } from './phaseCharts';

type Turned = keyof CriticalStudy['shown'];

/** Frequency over load, a curve for each input voltage looked at. */
export function criticalFrequencyChart({ loads, inputs }: CriticalStudy, turned: Turned): PhaseChart {
  const all = inputs.flatMap(({ ways }) => ways[turned].frequencies);
  const [least = 1, most = 10] = [loads[0], loads.at(-1)];
  return {
    x: { words: 'load', unit: 'A', min: least, max: most, logarithmic: true },
    y: { words: 'frequency', unit: 'Hz', min: Math.min(...all) / 1.2, max: Math.max(...all) * 1.2, logarithmic: true },
    curves: inputs.map(({ inputVoltage, ways }, k): Curve => ({
      words: formatQuantity(inputVoltage, 'V', 3),
      x: loads,
      y: ways[turned].frequencies,
      colour: `--trace-${String(k + 1)}`,
      dash: k === 0 ? [] : k === 1 ? [6, 3] : [2, 2],
      labelAt: least * (most / least) ** (0.3 + 0.2 * k),
      labelAbove: k !== 0,
    })),
    marks: [],
  };
}

/** Points of a waveform over one period, moved by a share of it: it goes round. */
export function moved(
  time: readonly number[],
  values: readonly number[],
  period: number,
  share: number,
): Pick<Curve, 'x' | 'y'> {
  const points = time.map((t, k) => ({ t: t + share * period, value: values[k] ?? NaN }));
  const round = [-1, 0, 1].flatMap((turn) => points.map(({ t, value }) => ({ t: t + turn * period, value })));
  // The lines that cross the ends of the picture are cut there; a jump just there belongs to what follows at the beginning.
  const between = (k: number, at: number): { readonly t: number; readonly value: number }[] => {
    const [before, after] = [round[k], round[k + 1]];
    if (!before || !after) return [];
    const share = after.t === before.t ? 0 : (at - before.t) / (after.t - before.t);
    return [{ t: at, value: before.value + share * (after.value - before.value) }];
  };
  const within = [
    ...between(
      round.findLastIndex(({ t }) => t <= 0),
      0,
    ),
    ...round.filter(({ t }) => t > 0 && t < period),
    ...between(round.findIndex(({ t }) => t >= period) - 1, period),
  ];
  return { x: within.map(({ t }) => t), y: within.map(({ value }) => value) };
}

/** Currents of the phases, and voltages across their main switches, over one period at nominal input and full load. */
export function criticalWaveformCharts(
  { shown }: CriticalStudy,
  turned: Turned,
  phases: number,
): readonly [PhaseChart, PhaseChart] {
  const { period, waveform } = shown[turned];
  const ofPhase = (values: readonly number[], k: number): Curve => ({
    words: `phase ${String(k + 1)}`,
    ...moved(waveform.time, values, period.period, k / phases),
    colour: `--trace-${String((k % 4) + 1)}`,
    dash: k === 0 ? [] : [5, 3],
    labelAt: ((k + 0.45) / phases) * period.period,
    labelAbove: true,
  });
  const drawn = (values: readonly number[]): readonly Curve[] =>
    Array.from({ length: Math.min(phases, 4) }, (_, k) => ofPhase(values, k));
  const x = { words: 'time', unit: 's', min: 0, max: period.period } as const;
  const axis = (values: readonly number[], words: string, unit: 'A' | 'V') => {
    const [low, high] = [Math.min(...values), Math.max(...values)];
    return { words, unit, min: low - 0.08 * (high - low), max: high + 0.12 * (high - low) };
  };
  return [
    { x, y: axis(waveform.current, 'inductor current', 'A'), curves: drawn(waveform.current), marks: [] },
    { x, y: axis(waveform.voltage, 'across the switch', 'V'), curves: drawn(waveform.voltage), marks: [] },
  ];
}

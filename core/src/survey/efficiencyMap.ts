import { inputCorners } from '../corners/corners.js';
import { ABOVE_AUDIO, type OperatingMode } from '../modes/operatingMode.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { ambientOf, LoadSweep, loadsOf } from './efficiency.js';

/** Efficiency over load and input voltage in one mode; undefined where there is no operating point. @public */
export interface EfficiencyMap {
  readonly mode: OperatingMode;
  /** A, ascending. */
  readonly loads: readonly number[];
  /** V, ascending. */
  readonly inputVoltages: readonly number[];
  /** By input voltage, then load. */
  readonly efficiency: readonly (readonly (number | undefined)[])[];
}

/** Numbers of loads and inputs of a map: the coarse one is there at once, the fine one replaces it. */
export interface MapGrid {
  readonly loads: number;
  readonly inputs: number;
}
/** @public */
export const COARSE_GRID: MapGrid = { loads: 6, inputs: 2 };
/** @public */
export const FINE_GRID: MapGrid = { loads: 40, inputs: 10 };

/** One input voltage of a map, in each mode. @public */
export interface MapRow {
  /** Place among the input voltages. */
  readonly index: number;
  /** By mode, then load. */
  readonly efficiency: readonly (readonly (number | undefined)[])[];
}

const inputsOf = ({ stage }: CompleteStage, count: number): readonly number[] => {
  const corners = inputCorners(stage);
  const [min = 0] = corners;
  const max = corners.at(-1) ?? min;
  if (max === min) return [min];
  return Array.from({ length: count }, (_, i) => min + ((max - min) * i) / (count - 1));
};

/** What a map keeps of a point while it is worked. */
interface Cell {
  readonly load: number;
  readonly loss: number;
  readonly output: number;
  /** Hz */
  readonly frequency: number;
  /** Whether the current never stops nor turns round: all modes are alike there. */
  readonly continuous: boolean;
}
type Cells = (Cell | undefined)[];

const cellOf = ({ point }: SolvedPoint): Cell => ({
  load: point.outputCurrent,
  loss: point.losses['total'] ?? 0,
  output: point.outputPower,
  frequency: point.switchingFrequency,
  continuous: point.conductionMode === 'CCM' && point.inductorCurrent.valley >= 0,
});
const efficiencyOf = (cell: Cell | undefined): number | undefined => cell && cell.output / (cell.output + cell.loss);

/** Share by which the frequency of lone pulses may miss the straight line through no load. */
const STRAIGHT = 0.02;

/** A cell between two in which pulses stand alone: they are all alike, so that loss and frequency go in a straight line. */
function between(from: Cell, to: Cell, load: number): Cell {
  const share = (load - from.load) / (to.load - from.load);
  const mix = (a: number, b: number): number => a + share * (b - a);
  return {
    load,
    loss: mix(from.loss, to.loss),
    output: mix(from.output, to.output),
    frequency: mix(from.frequency, to.frequency),
    continuous: false,
  };
}

/** Pulse skipping below the loads at which all modes are alike: point by point to where pulses stand alone, then a line. */
function skippingRow(sweep: LoadSweep, forced: Cells, loads: readonly number[], clock: number): Cells {
  const cells = [...forced];
  const below = loads.findLastIndex((_, k) => forced[k]?.continuous !== true);
  for (let k = below; k >= 0; k -= 1) {
    const found = sweep.at(loads[k] ?? 0);
    cells[k] = found && cellOf(found);
    const here = cells[k];
    if (!here || k === 0 || here.frequency > (1 - STRAIGHT) * clock) continue;
    const last = sweep.at(loads[0] ?? 0);
    const lightest = last && cellOf(last);
    const straight =
      lightest !== undefined &&
      Math.abs((lightest.frequency * here.load) / (here.frequency * lightest.load) - 1) < STRAIGHT;
    if (!straight) continue;
    for (let j = 0; j < k; j += 1) cells[j] = j === 0 ? lightest : between(lightest, here, loads[j] ?? 0);
    break;
  }
  return cells;
}

/** One row of a map in several modes, by mode and load. */
function row(
  complete: CompleteStage,
  modes: readonly OperatingMode[],
  inputVoltage: number,
  loads: readonly number[],
): readonly (readonly (number | undefined)[])[] {
  const ambient = ambientOf(complete);
  const sweepOf = (mode: OperatingMode): LoadSweep => new LoadSweep(complete, mode, inputVoltage, ambient);
  const all = (mode: OperatingMode, known: (k: number) => Cell | undefined): Cells => {
    const sweep = sweepOf(mode);
    const cells: Cells = loads.map(() => undefined);
    for (let k = loads.length - 1; k >= 0; k -= 1) {
      const before = known(k);
      const found = before ? undefined : sweep.at(loads[k] ?? 0);
      cells[k] = before ?? (found && cellOf(found));
    }
    return cells;
  };
  const none = (): undefined => undefined;
  const forced = all('forced-pwm', none);
  const skipping = skippingRow(sweepOf('pulse-skipping'), forced, loads, complete.clock);
  const byMode = (mode: OperatingMode): Cells => {
    switch (mode) {
      case 'forced-pwm':
        return forced;
      case 'pulse-skipping':
        return skipping;
      case 'ultrasonic':
        // As pulse skipping, until its pulses would be heard.
        return all(mode, (k) => ((skipping[k]?.frequency ?? 0) > ABOVE_AUDIO ? skipping[k] : undefined));
      case 'critical-conduction':
        return all(mode, none);
    }
  };
  return modes.map((mode) => byMode(mode).map(efficiencyOf));
}

/**
 * The rows of efficiency maps of a stage, input voltage by input voltage: whoever reads them may stop at any time.
 *
 * @param part, of every `of`-th row from the `part`-th on, so that several may share the work.
 */
export function* mapRows(
  complete: CompleteStage,
  modes: readonly OperatingMode[],
  grid: MapGrid,
  part = 0,
  of = 1,
): Generator<MapRow> {
  const loads = loadsOf(complete, grid.loads);
  const inputVoltages = inputsOf(complete, grid.inputs);
  for (let index = part; index < inputVoltages.length; index += of)
    yield { index, efficiency: row(complete, modes, inputVoltages[index] ?? 0, loads) };
}

/** Maps from their rows; what has no row yet is without points. @public */
export function mapsOf(
  complete: CompleteStage,
  modes: readonly OperatingMode[],
  grid: MapGrid,
  rows: readonly MapRow[],
): readonly EfficiencyMap[] {
  const inputVoltages = inputsOf(complete, grid.inputs);
  return modes.map((mode, m) => ({
    mode,
    loads: loadsOf(complete, grid.loads),
    inputVoltages,
    efficiency: inputVoltages.map((_, i) => rows.find(({ index }) => index === i)?.efficiency[m] ?? []),
  }));
}

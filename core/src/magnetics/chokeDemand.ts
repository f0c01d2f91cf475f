import type { EvaluatedStage } from '../corners/evaluate.js';
import { piecesOf } from '../losses/waveformShape.js';
import { extremes } from '../orbit/measures.js';
import { harmonics } from '../orbit/spectrum.js';
import { fluxLinkage } from '../parts/fluxLinkage.js';
import { inductanceCurveOf } from '../parts/inductanceCurve.js';
import { LIMIT_OVER_PEAK, TYPICAL_LIMIT_TOLERANCE } from '../rules/currentLimit.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';
import type { ChokeDemand, CornerDemand } from './figures.js';

/** Harmonics whose eddy currents are counted. */
const HARMONICS = 15;

/**
 * What a stage asks of its choke: the average current and the waveform of the flux linkage at every corner, which hardly depend on the
 * choke; the inductance it has now at full load; and the current limit at the high end of its tolerance.
 *
 * @returns a sentence where the stage has no operating point, or where its windings share cores.
 * @public
 */
export function chokeDemand({ complete, corners, evaluation }: EvaluatedStage): ChokeDemand | string {
  const { stage, inductor } = complete;
  if (stage.coupling.kind !== 'none')
    return 'The phases of this stage share cores: a pair of windings on one core is designed under “Two on one core”.';
  const ambient = stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
  const filled: string[] = [];
  const demands = corners.flatMap(({ corner, result }): CornerDemand[] => {
    if (result.kind !== 'solved') return [];
    const { point, powerStage, solution } = result;
    const [first = ''] = powerStage.elements.inductors;
    const linkage = fluxLinkage(powerStage.circuit, first);
    const swing = extremes(solution, linkage).peakToPeak;
    if (!(swing > 0)) return [];
    return [
      {
        inputVoltage: corner.inputVoltage,
        outputCurrent: corner.outputCurrent,
        average: Math.abs(point.inductorCurrent.average),
        swing,
        stopped: point.conductionMode === 'DCM',
        frequency: 1 / solution.period,
        pieces: piecesOf(solution, linkage, swing),
        harmonics: harmonics(solution, linkage, HARMONICS).map(({ frequency, amplitude }) => ({
          frequency,
          amplitude,
        })),
      },
    ];
  });
  const unsolved = corners.length - demands.length;
  if (demands.length === 0)
    return 'The stage has no operating point at any corner: what the choke carries is not known.';
  const full = Math.max(...demands.map(({ average }) => average));
  const peak = Math.max(
    ...corners.flatMap(({ result }) => (result.kind === 'solved' ? [Math.abs(result.point.inductorCurrent.peak)] : [])),
  );
  const { currentLimit } = evaluation.stage.control;
  if (currentLimit === undefined)
    filled.push(
      `the current limit, 1.2 times the highest peak and ${String(100 * TYPICAL_LIMIT_TOLERANCE)} % above (common practice)`,
    );
  else filled.push(`the tolerance of the current limit, ${String(100 * TYPICAL_LIMIT_TOLERANCE)} % (common practice)`);
  if (stage.targets.ambientTemperature === undefined) filled.push('the warmest surroundings, 25 °C');
  return {
    corners: demands,
    inductance: inductanceCurveOf(inductor)?.inductance(full) ?? inductor.inductance,
    full,
    limit: (currentLimit ?? LIMIT_OVER_PEAK * peak) * (1 + TYPICAL_LIMIT_TOLERANCE),
    ambient,
    filled,
    unsolved,
  };
}

/** The corners that decide: full load at each input voltage. */
export function hardestCorners(demand: ChokeDemand): ChokeDemand {
  const byInput = new Map<number, CornerDemand>();
  for (const corner of demand.corners) {
    const known = byInput.get(corner.inputVoltage);
    if (!known || corner.outputCurrent > known.outputCurrent) byInput.set(corner.inputVoltage, corner);
  }
  const all = [...byInput.values()].sort((a, b) => a.inputVoltage - b.inputVoltage);
  const ends = [all[0], all[Math.floor(all.length / 2)], all.at(-1)].filter((one) => one !== undefined);
  return { ...demand, corners: [...new Set(ends)] };
}

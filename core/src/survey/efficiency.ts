import { operatingPointIn, type OperatingMode } from '../modes/operatingMode.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingPoint, SolvedPoint } from '../steady/operatingPoint.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';

/** A stage at one load, in one mode. @public */
export interface EfficiencyPoint {
  readonly outputCurrent: number;
  readonly efficiency: number;
  /** Hz */
  readonly switchingFrequency: number;
  /** W, by part and kind, with their `total`. */
  readonly losses: Readonly<Record<string, number>>;
  /** V peak to peak */
  readonly outputRipple: number;
  /** °C by place; null is thermal runaway. */
  readonly junctionTemperatures: OperatingPoint['junctionTemperatures'];
}

/** Efficiency against load at one input voltage, in one mode. @public */
export interface EfficiencyCurve {
  readonly mode: OperatingMode;
  readonly inputVoltage: number;
  /** Loads ascending; those without an operating point are left out. */
  readonly points: readonly EfficiencyPoint[];
  /** Input current without load, A: what the losses come to as the load vanishes; undefined where none is found. */
  readonly noLoadCurrent: number | undefined;
}

/** Lightest load looked at, as a share of the full one. */
const LIGHTEST = 1e-3;
/** Loads, as shares of the full one, from which the losses without load are extrapolated in a straight line. */
const NEXT_TO_NOTHING = [2e-4, 1e-4] as const;

/** Loads on a logarithmic scale from the lightest of interest to the full one, ascending, A. @public */
export function loadsOf({ stage: { targets } }: CompleteStage, count: number): readonly number[] {
  const { min, max } = targets.outputCurrent;
  const lightest = Math.min(Math.max(min, LIGHTEST * max), max / 10);
  if (count < 2) return [max];
  return Array.from({ length: count }, (_, i) => lightest * (max / lightest) ** (i / (count - 1)));
}

export const efficiencyPoint = (point: OperatingPoint): EfficiencyPoint => ({
  outputCurrent: point.outputCurrent,
  efficiency: point.efficiency,
  switchingFrequency: point.switchingFrequency,
  losses: point.losses,
  outputRipple: point.outputRipple,
  junctionTemperatures: point.junctionTemperatures,
});

/** Solves a row of loads at one input voltage, each load starting from the one before; undefined where there is no point. */
export class LoadSweep {
  private last: SolvedPoint | undefined;
  private earlier: SolvedPoint | undefined;
  constructor(
    private readonly complete: CompleteStage,
    private readonly mode: OperatingMode,
    private readonly inputVoltage: number,
    private readonly ambient: number,
  ) {}
  at(current: number): SolvedPoint | undefined {
    const { complete, mode, inputVoltage, ambient } = this;
    const found = operatingPointIn(
      mode,
      complete,
      { inputVoltage, ambient, load: { kind: 'current', current } },
      { near: this.last && { point: this.last, duty: this.expectedDuty(current) } },
    );
    this.earlier = this.last;
    this.last = found.kind === 'solved' ? found : undefined;
    return this.last;
  }
  /** The duty ratio on the straight line through the last two loads, where they were of one kind. */
  private expectedDuty(current: number): number | undefined {
    const { last, earlier } = this;
    if (!last || !earlier) return undefined;
    if (last.emulated !== earlier.emulated || last.point.conductionMode !== earlier.point.conductionMode)
      return undefined;
    const span = last.point.outputCurrent - earlier.point.outputCurrent;
    if (span === 0) return undefined;
    const slope = (last.solution.duty - earlier.solution.duty) / span;
    return last.solution.duty + slope * (current - last.point.outputCurrent);
  }
}

/** Ambient at which efficiency is worked: the hottest of the targets. */
export const ambientOf = ({ stage }: CompleteStage): number =>
  stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;

/** Efficiency, losses and frequency of a stage against load. @public */
export function efficiencyCurve(
  complete: CompleteStage,
  mode: OperatingMode,
  inputVoltage: number,
  loads: readonly number[],
): EfficiencyCurve {
  const sweep = new LoadSweep(complete, mode, inputVoltage, ambientOf(complete));
  const points = [...loads]
    .sort((a, b) => b - a)
    .flatMap((current) => {
      const found = sweep.at(current);
      return found ? [efficiencyPoint(found.point)] : [];
    })
    .reverse();
  const full = complete.stage.targets.outputCurrent.max;
  const [more, less] = NEXT_TO_NOTHING.map((share) => sweep.at(share * full)?.point.losses['total']);
  const noLoadCurrent = more === undefined || less === undefined ? undefined : (2 * less - more) / inputVoltage;
  return { mode, inputVoltage, points, noLoadCurrent };
}

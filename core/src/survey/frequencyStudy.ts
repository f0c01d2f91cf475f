import { lossesByKind } from '../losses/lossKinds.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { rippleRatioFor } from '../rules/rules.js';
import { operatingPoint, type OperatingPoint } from '../steady/operatingPoint.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';

/** A stage at one switching frequency: its inductor sized for the ripple ratio, all else as it is. @public */
export interface FrequencyPoint {
  /** Hz */
  readonly frequency: number;
  /** H, for the ripple ratio of the targets. */
  readonly inductance: number;
  /** Volume of a generic choke that stores the energy at the peak, m³. */
  readonly volume: number;
  /** Shortest on-time of the main switch, s: at the input voltage where it is shortest. */
  readonly onTime: number;
  /** V peak to peak, at its worst of the input voltages looked at. */
  readonly outputRipple: number;
  /** Losses at full load and the input voltage of highest total, W. */
  readonly conduction: number;
  readonly switching: number;
  readonly core: number;
  readonly total: number;
}

/** What a study found. @public */
export interface FrequencyStudy {
  readonly points: readonly FrequencyPoint[];
  /** Frequencies above this make the on-time too short; undefined where the controller states no limit. */
  readonly onTimeLimit: number | undefined;
  /** Where the total loss of the points is least, Hz. */
  readonly leastLoss: number | undefined;
}

const POINTS = 17;
/** Range looked at where the targets name none, as factors of the present frequency. */
const SPAN = 5;
/** Energy a generic powder choke stores, J/m³; its flux density at the peak, T. From memory of usual parts. */
const CHOKE_ENERGY = 2200;
const CHOKE_FLUX = 0.8;
/** Loss density of its core, W/m³ at 100 kHz and an amplitude of 0.1 T, and the exponents. From memory of usual powders. */
const CORE_DENSITY = 4e5;
const CORE_FREQUENCY_EXPONENT = 1.4;
const CORE_FLUX_EXPONENT = 2.2;

/** Core loss of the generic choke, all phases. */
function coreLoss(point: OperatingPoint, volume: number, frequency: number, phases: number): number {
  const { ripple, peak } = point.inductorCurrent;
  const amplitude = (CHOKE_FLUX * (ripple / 2)) / peak;
  return (
    phases *
    volume *
    CORE_DENSITY *
    (frequency / 100e3) ** CORE_FREQUENCY_EXPONENT *
    (amplitude / 0.1) ** CORE_FLUX_EXPONENT
  );
}

/** The stage at a frequency, with the inductance that keeps the ripple ratio and a resistance that goes with it. */
function atFrequency(stage: Stage, frequency: number, inductance: number, present: number): CompleteStage | undefined {
  const { inductor } = stage.parts;
  if (!inductor) return undefined;
  const complete = completeStage({
    ...stage,
    switchingFrequency: frequency,
    // The limit of the on-time is shown beside the losses; here it would only hide what lies beyond it.
    control: { ...stage.control, minimumOnTime: 0 },
    parts: {
      ...stage.parts,
      // Turns, and with them copper, go with the root of the inductance in a like core.
      inductor: { inductance, resistance: inductor.resistance * Math.sqrt(inductance / present) },
    },
  });
  return complete.ok ? complete.value : undefined;
}

/**
 * A stage over switching frequency: what each frequency would cost and save. The inductor is sized anew for the ripple ratio
 * at each one; currents, ripple and all losses are the engine's, but for the core of a generic choke.
 *
 * @public
 */
export function frequencyStudy(stage: Stage): FrequencyStudy | undefined {
  const now = completeStage(stage);
  if (!now.ok) return undefined;
  const { inductor, switchingFrequency } = now.value;
  const { targets, control } = stage;
  const ratio = targets.inductorRippleRatio ?? rippleRatioFor(control.scheme);
  const inputs = [targets.inputVoltage.min, targets.inputVoltage.max];
  const load = { kind: 'current' as const, current: targets.outputCurrent.max };
  const ambient = targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
  const solve = (complete: CompleteStage, inputVoltage: number): OperatingPoint | undefined => {
    const found = operatingPoint(complete, { inputVoltage, ambient, load });
    return found.kind === 'solved' ? found.point : undefined;
  };
  // L f is what the ripple ratio fixes: found once, from the flux swing at the present frequency.
  const linear = atFrequency(stage, switchingFrequency, inductor.inductance, inductor.inductance);
  const ratios = inputs.flatMap((volts) => {
    const point = linear && solve(linear, volts);
    return point ? [point.inductorCurrent.ripple / point.inductorCurrent.average] : [];
  });
  if (ratios.length === 0) return undefined;
  const scale = (inductor.inductance * switchingFrequency * Math.max(...ratios)) / ratio;
  const range = targets.switchingFrequency ?? { min: switchingFrequency / SPAN, max: switchingFrequency * SPAN };
  const points = Array.from({ length: POINTS }, (_, i) => range.min * (range.max / range.min) ** (i / (POINTS - 1)))
    .map((frequency) => frequencyPoint(stage, frequency, scale / frequency, inductor.inductance, inputs, solve))
    .filter((point) => point !== undefined);
  const shortest = points.map(({ onTime, frequency }) => onTime * frequency);
  const least = points.reduce<FrequencyPoint | undefined>(
    (best, one) => (best === undefined || one.total < best.total ? one : best),
    undefined,
  );
  return {
    points,
    onTimeLimit: control.minimumOnTime > 0 ? Math.min(...shortest) / control.minimumOnTime : undefined,
    leastLoss: least?.frequency,
  };
}

function frequencyPoint(
  stage: Stage,
  frequency: number,
  inductance: number,
  present: number,
  inputs: readonly number[],
  solve: (complete: CompleteStage, inputVoltage: number) => OperatingPoint | undefined,
): FrequencyPoint | undefined {
  const complete = atFrequency(stage, frequency, inductance, present);
  if (!complete) return undefined;
  const found = inputs.flatMap((volts) => solve(complete, volts) ?? []);
  if (found.length === 0) return undefined;
  const peak = Math.max(...found.map((point) => point.inductorCurrent.peak));
  const volume = (0.5 * inductance * peak * peak) / CHOKE_ENERGY;
  const losses = found.map((point) => {
    const kinds = lossesByKind(point.losses);
    const switching = kinds.switching + kinds['gate drive'];
    const core = coreLoss(point, volume, frequency, stage.phases);
    const total = (point.losses['total'] ?? 0) + core;
    return { conduction: total - switching - core, switching, core, total };
  });
  const worst = losses.reduce((a, b) => (b.total > a.total ? b : a));
  return {
    frequency,
    inductance,
    volume: volume * stage.phases,
    onTime: Math.min(...found.map(({ duty }) => duty / frequency)),
    outputRipple: Math.max(...found.map(({ outputRipple }) => outputRipple)),
    ...worst,
  };
}

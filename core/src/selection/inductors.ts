import { ROOM_TEMPERATURE } from '../thermal/room.js';
import { coreLossOf, copperAt } from '../parts/inductorLoss.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import type { PartOf } from '../library/libraryPart.js';
import { windingsMismatch } from '../library/withInductor.js';
import { extremes } from '../orbit/measures.js';
import { fluxLinkage } from '../parts/fluxLinkage.js';
import type { Stage } from '../stage/schema.js';
import { inductanceCurveOf, saturatedSwing } from '../parts/inductanceCurve.js';
import { formatQuantity } from '../quantity/engineering.js';
import { INDUCTOR_CURRENT_MARGIN, SATURATION_MARGIN } from '../rules/rules.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';

/** How a library inductor would do in a stage. @public */
export interface InductorCandidate {
  readonly part: PartOf<'inductor'>;
  readonly fits: boolean;
  /** Why it is rejected, in sentences; empty when it fits. */
  readonly reasons: readonly string[];
  /** Ripple over average at full load at its worst, inductance at the low end of its tolerance. */
  readonly rippleRatio: number;
  /** Highest peak current over all corners, A. */
  readonly peak: number;
  readonly rms: number;
  /** Copper loss at the worst corner, W, with the copper at the highest ambient. */
  readonly copperLoss: number;
  /** Core loss at the corner of the largest flux swing, W; undefined where the part states no coefficients. */
  readonly coreLoss: number | undefined;
  /** m³; undefined where the part states no size. */
  readonly volume: number | undefined;
}

/** What the rest of the circuit asks of an inductor at a corner: it hardly depends on which inductor it is. */
interface Demand {
  readonly fluxSwing: number;
  /** Wb, of the flux linkage of a winding: what its core goes through, coupled or not. */
  readonly linkage: number;
  readonly average: number;
  readonly stopped: boolean;
  readonly fullLoad: boolean;
}

/** How much room a chosen inductor shall have. @public */
export interface InductorMargins {
  /** Saturation current over the highest peak. */
  readonly saturation: number;
  /** Heating current over the average. */
  readonly heating: number;
}

/** The margins taken where the designer states none: common practice, see the rules. @public */
export const INDUCTOR_MARGINS: InductorMargins = { saturation: SATURATION_MARGIN, heating: INDUCTOR_CURRENT_MARGIN };

interface Asked {
  readonly margins: InductorMargins;
  readonly rippleRatioMax: number;
  readonly frequency: number;
  readonly temperature: number;
  /** Of the control, A, where it is stated. */
  readonly currentLimit: number | undefined;
  /** Whose windings they are to be. */
  readonly windings: Pick<Stage, 'phases' | 'coupling'>;
}

function demandOf(
  { point, saturation, powerStage, solution }: SolvedPoint,
  inductance: number,
  fullLoad: boolean,
): Demand {
  const { ripple, average } = point.inductorCurrent;
  const fluxSwing = saturation?.fluxSwing ?? inductance * ripple;
  const [first = ''] = powerStage.elements.inductors;
  const { circuit } = powerStage;
  return {
    fluxSwing,
    linkage: circuit.couplings.length === 0 ? fluxSwing : extremes(solution, fluxLinkage(circuit, first)).peakToPeak,
    average,
    stopped: point.conductionMode === 'DCM',
    fullLoad,
  };
}

/** Peak and valley of a part under a demand. */
function swingIn(part: PartOf<'inductor'>, { fluxSwing, average, stopped }: Demand) {
  const curve = inductanceCurveOf(part);
  if (curve) return saturatedSwing(curve, fluxSwing, average, stopped);
  const ripple = fluxSwing / part.inductance;
  return stopped ? { valley: 0, peak: ripple } : { valley: average - ripple / 2, peak: average + ripple / 2 };
}

function candidate(
  part: PartOf<'inductor'>,
  demands: readonly Demand[],
  { rippleRatioMax, frequency, temperature, margins, currentLimit, windings }: Asked,
): InductorCandidate {
  const low = 1 - (part.tolerance ?? 0);
  // At the low end of its tolerance all of its curve is lower.
  const weak: PartOf<'inductor'> = {
    ...part,
    inductance: part.inductance * low,
    ...(part.inductanceCurve && {
      inductanceCurve: part.inductanceCurve.map(([i, l]): [number, number] => [i, l * low]),
    }),
  };
  let rippleRatio = 0;
  let peak = 0;
  let rms = 0;
  let average = 0;
  for (const demand of demands) {
    const swing = swingIn(weak, demand);
    const ripple = swing.peak - swing.valley;
    if (demand.fullLoad) rippleRatio = Math.max(rippleRatio, ripple / demand.average);
    peak = Math.max(peak, swing.peak);
    rms = Math.max(rms, Math.hypot(demand.average, ripple / Math.sqrt(12)));
    average = Math.max(average, demand.average);
  }
  const mismatch = windingsMismatch(windings, part);
  const reasons: string[] = mismatch === undefined ? [] : [mismatch];
  const amps = (value: number): string => formatQuantity(value, 'A', 3);
  if (rippleRatio > rippleRatioMax)
    reasons.push(`Its ripple ratio of ${rippleRatio.toFixed(3)} is above ${rippleRatioMax.toFixed(3)}.`);
  const { saturationCurrent, heatingCurrent } = part;
  if (saturationCurrent !== undefined && saturationCurrent < margins.saturation * peak)
    reasons.push(
      `Its saturation current of ${amps(saturationCurrent)} is not ${String(margins.saturation)} times the peak of ${amps(peak)}.`,
    );
  if (saturationCurrent !== undefined && currentLimit !== undefined && saturationCurrent < currentLimit)
    reasons.push(
      `Its saturation current of ${amps(saturationCurrent)} is below the current limit of ${amps(currentLimit)}.`,
    );
  if (heatingCurrent !== undefined && heatingCurrent < margins.heating * average)
    reasons.push(
      `Its heating current of ${amps(heatingCurrent)} is not ${String(margins.heating)} times the average of ${amps(average)}.`,
    );
  const { length, width, height } = part;
  return {
    part,
    fits: reasons.length === 0,
    reasons,
    rippleRatio,
    peak,
    rms,
    copperLoss: rms * rms * copperAt(part.resistance, temperature),
    coreLoss: coreLossOf(part, frequency, Math.max(...demands.map(({ linkage }) => linkage))),
    volume: length !== undefined && width !== undefined && height !== undefined ? length * width * height : undefined,
  };
}

/**
 * Library inductors against a stage, the fitting ones first, smallest volume before lower loss. Each is worked from the flux
 * swing and average current of every corner, which hardly depend on the inductor; the engine works the one that is chosen.
 *
 * @public
 */
export function selectInductors(
  { evaluation, complete, corners }: EvaluatedStage,
  parts: readonly PartOf<'inductor'>[],
  margins: InductorMargins = INDUCTOR_MARGINS,
): readonly InductorCandidate[] {
  const { targets } = evaluation.stage;
  const full = targets.outputCurrent.max;
  const demands = corners.flatMap(({ corner, result }) =>
    result.kind === 'solved' ? [demandOf(result, complete.inductor.inductance, corner.outputCurrent === full)] : [],
  );
  const asked: Asked = {
    margins,
    rippleRatioMax: targets.inductorRippleRatio ?? Infinity,
    frequency: complete.switchingFrequency,
    temperature: targets.ambientTemperature?.max ?? ROOM_TEMPERATURE,
    currentLimit: evaluation.stage.control.currentLimit,
    windings: complete.stage,
  };
  return parts
    .map((part) => candidate(part, demands, asked))
    .sort(
      (a, b) =>
        Number(b.fits) - Number(a.fits) ||
        (a.volume ?? Infinity) - (b.volume ?? Infinity) ||
        a.copperLoss + (a.coreLoss ?? 0) - b.copperLoss - (b.coreLoss ?? 0),
    );
}

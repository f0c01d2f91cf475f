import { topologyOf } from '../topology/topologies.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { PartOf } from '../library/libraryPart.js';
import { sizeStage } from '../sizing/size.js';
import { VOLTAGE_MARGIN } from '../rules/rules.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { efficiencyCurve, loadsOf, type EfficiencyCurve } from '../survey/efficiency.js';
import { selectSwitches } from '../selection/switches.js';

/** A stage with one kind of rectifier. @public */
export interface RectifiedStage {
  readonly rectifier: Stage['rectifier'];
  /** The rectifying part, with how many of it, over all phases. */
  readonly part: string;
  readonly count: number;
  /** Of the rectifiers of all phases; undefined where the part states none. */
  readonly price: number | undefined;
  readonly curve: EfficiencyCurve;
  /** Load below which the current stops or turns round, A: what the stage does at light load. */
  readonly lightLoad: string;
}

/** The stage rectified by a switch and by a diode, side by side. @public */
export interface RectifierComparison {
  readonly synchronous: RectifiedStage | undefined;
  readonly diode: RectifiedStage | undefined;
}

const LOADS = 12;

/** The diode of the library that loses least at full load and holds its rating. */
function bestDiode(diodes: readonly PartOf<'diode'>[], blocked: number, current: number) {
  const fitting = diodes.filter(
    ({ reverseVoltageMax = 0, currentMax = Infinity }) =>
      reverseVoltageMax >= VOLTAGE_MARGIN * blocked && currentMax >= current,
  );
  const drop = (part: PartOf<'diode'>): number => part.forwardVoltage + part.dynamicResistance * current;
  return fitting.reduce<PartOf<'diode'> | undefined>(
    (best, one) => (best === undefined || drop(one) < drop(best) ? one : best),
    undefined,
  );
}

/**
 * What a switch and a diode would each make of the rectifier of a stage: both with the best part of the library, all else as
 * it is.
 *
 * @returns undefined where the stage is not complete or has no operating point.
 * @public
 */
export function compareRectifiers(
  stage: Stage,
  mosfets: readonly PartOf<'mosfet'>[],
  diodes: readonly PartOf<'diode'>[],
): RectifierComparison | undefined {
  const [leg] = topologyOf(stage).legs.slice(-1);
  if (!leg) return undefined;
  // The switch that rectifies is chosen anew where the stage has none yet.
  const switched = sizeStage({ ...stage, rectifier: 'synchronous' });
  if (!switched.ok) return undefined;
  const points = switched.value.evaluation.operatingPoints;
  if (points.length === 0) return undefined;
  const stress = (of: 'voltage' | 'peakCurrent'): number =>
    Math.max(...points.map((point) => point.switchStress[leg.rectifier]?.[of] ?? 0));
  const average = Math.max(...points.map(({ outputCurrent }) => outputCurrent)) / stage.phases;
  const worked = (rectifier: Stage['rectifier'], of: Stage, part: string, count: number, price: number | undefined) => {
    const complete = completeStage({ ...of, rectifier });
    if (!complete.ok) return undefined;
    const curve = efficiencyCurve(complete.value, of.operatingMode, nominalInput(of), loadsOf(complete.value, LOADS));
    return {
      rectifier,
      part,
      count,
      price: price === undefined ? undefined : price * stage.phases,
      curve,
      lightLoad:
        rectifier === 'diode'
          ? 'the current stops at light load: the ripple and the loop change with it'
          : of.operatingMode === 'forced-pwm'
            ? 'the current turns round at light load, and costs its losses'
            : 'the switch opens at zero current, as a diode would',
    };
  };
  const profile = switched.value.corners.flatMap(({ result }) =>
    result.kind === 'solved' ? [{ solved: result, hours: 1 }] : [],
  );
  const best = selectSwitches(switched.value, leg.rectifier, mosfets, profile).find(({ fits }) => fits);
  const diode = bestDiode(diodes, stress('voltage'), average);
  const base = switched.value.evaluation.stage;
  return {
    synchronous:
      best &&
      worked(
        'synchronous',
        { ...base, parts: { ...base.parts, [leg.rectifier]: { ...best.part, count: best.count } } },
        best.part.name,
        best.count,
        best.price,
      ),
    diode: diode && worked('diode', { ...base, parts: { ...base.parts, diode } }, diode.name, 1, diode.price),
  };
}

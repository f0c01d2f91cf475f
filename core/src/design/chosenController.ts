import type { Inventory } from '../library/inventory.js';
import type { PartOf } from '../library/libraryPart.js';
import { withController } from '../library/withController.js';
import { formatQuantity } from '../quantity/engineering.js';
import { LIMIT_OVER_PEAK } from '../rules/currentLimit.js';
import { selectControllers, type ControllerCandidate } from '../selection/controllers.js';
import type { Choice } from '../sizing/choice.js';
import { sizeStage, type SizedStage } from '../sizing/size.js';
import type { Stage } from '../stage/schema.js';

type FrequencyRange = NonNullable<Stage['targets']['switchingFrequency']>;

/** A stage with its controller, where it asks for one. @public */
export interface Controlled {
  readonly stage: Stage;
  /** Those looked at: what qualifies first; of the others why they do not. */
  readonly candidates: readonly ControllerCandidate[];
  readonly choices: readonly Choice[];
  /** Switching frequencies that it reaches, of those allowed, Hz; undefined where nothing bounds them. */
  readonly frequencies: FrequencyRange | undefined;
  /** Why there is none although one was asked for. */
  readonly none?: string;
}

/** The frequency at which controllers are looked at: in the middle of what is allowed. */
function middle({ switchingFrequency, targets }: Stage): number | undefined {
  const range = targets.switchingFrequency;
  return switchingFrequency ?? (range && Math.sqrt(range.min * range.max));
}

/**
 * The controller of a stage that names one or states what it must offer: the record named, or the cheapest that qualifies; what it fixes
 * is set, and of the allowed frequencies those remain that it reaches with its shortest on-time. Without either the stage stays as it
 * is, with values that are typed or typical.
 */
export function withChosenController(stage: Stage, inventory: Inventory): Controlled {
  const named = stage.control.controller;
  const asked = (stage.targets.features ?? []).length > 0;
  const nothing: Controlled = { stage, candidates: [], choices: [], frequencies: stage.targets.switchingFrequency };
  if (named === undefined && !asked) return nothing;
  const record = inventory.controller.find(({ name }) => name === named);
  if (named !== undefined && !record)
    return { ...nothing, none: `no record of a controller is called “${named}”; its values are those typed` };
  const frequency = middle(stage);
  const first = sizeStage(frequency === undefined ? stage : { ...stage, switchingFrequency: frequency });
  if (!first.ok) return nothing;
  const candidates = selectControllers(first.value, record ? [record] : inventory.controller, inventory.mosfet);
  const [best] = candidates;
  if (record) return taken(stage, record, first.value, candidates);
  if (best?.fits) return taken(stage, best.part, first.value, candidates);
  const reasons = best ? ` The nearest is ${best.part.name}: ${best.reasons.join(' ')}` : '';
  return {
    ...nothing,
    candidates,
    none: `no controller of the records qualifies; its values are typical.${reasons}`,
  };
}

function taken(
  stage: Stage,
  record: PartOf<'controller'>,
  first: SizedStage,
  candidates: readonly ControllerCandidate[],
): Controlled {
  const points = first.evaluation.operatingPoints;
  const peak = Math.max(0, ...points.map(({ inductorCurrent }) => inductorCurrent.peak));
  const range = stage.targets.switchingFrequency;
  const duty = Math.min(
    1,
    ...points.filter(({ conductionMode }) => conductionMode === 'CCM').map((point) => point.duty),
  );
  const most = Math.min(
    range?.max ?? Infinity,
    record.frequencyMax,
    record.minimumOnTime > 0 ? duty / record.minimumOnTime : Infinity,
  );
  const least = Math.max(range?.min ?? 0, record.frequencyMin);
  const frequencies = most > least ? { min: least, max: most } : range;
  const controlled = withController(stage, record, {
    peak: peak > 0 ? peak : undefined,
    frequency: frequencies?.max,
  });
  const fitting = candidates.filter(({ fits }) => fits).length;
  return {
    stage: controlled,
    candidates,
    frequencies,
    choices: [
      {
        path: 'control.reference',
        quantity: 'reference voltage',
        unit: 'V',
        value: record.reference,
        rule:
          stage.control.controller === undefined
            ? `${record.name}: the cheapest of ${String(fitting)} controllers that qualify; it drives gates with ${formatQuantity(record.gateDriveVoltage, 'V', 3)} and switches at ${formatQuantity(record.frequencyMin, 'Hz', 3)} to ${formatQuantity(record.frequencyMax, 'Hz', 3)}.`
            : `${record.name}, as named.`,
        source: 'Common practice',
      },
      ...sensed(stage, controlled, record, peak),
    ],
  };
}

/** Why the sense resistor and the limit are what they are, where the controller makes them. */
function sensed(
  asked: Stage,
  { control }: Stage,
  { limitVoltage, limitTolerance = 0 }: PartOf<'controller'>,
  peak: number,
): readonly Choice[] {
  const { senseResistance, currentLimit } = control;
  if (limitVoltage === undefined || senseResistance === undefined || asked.control.senseResistance !== undefined)
    return [];
  const limit = `its limit of ${formatQuantity(limitVoltage, 'V', 2)}, less its tolerance of ${String(Math.round(100 * limitTolerance))} %, is ${String(LIMIT_OVER_PEAK)} times the highest peak of ${formatQuantity(peak, 'A', 3)}`;
  return [
    {
      path: 'control.senseResistance',
      quantity: 'sense resistor',
      unit: 'ohm',
      value: senseResistance,
      rule: `Such that ${limit}.`,
      source: 'Common practice',
    },
    ...(currentLimit === undefined
      ? []
      : [
          {
            path: 'control.currentLimit',
            quantity: 'current limit',
            unit: 'A' as const,
            value: currentLimit,
            rule: 'The limit of the controller over the sense resistor.',
            source: 'Common practice',
          },
        ]),
  ];
}

import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import { currentLimitFor, LIMIT_OVER_PEAK } from '../rules/currentLimit.js';
import type { Choice } from '../sizing/choice.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import { withChoice, workedWith, type Chosen } from './powerParts.js';

/** Highest duty ratio allowed where a main switch that stays on shorts the input, and the least room above the highest duty. Common practice. */
const DUTY_LIMIT = 0.9;
const DUTY_ROOM = 0.05;
/** Share of the full load that charging the output may take at a start, and the shortest start. Common practice. */
const CHARGING_SHARE = 0.2;
const SHORTEST_START = 1e-3;

const COMMON = 'Common practice';

const chosenWith = (chosen: Chosen, control: Partial<Stage['control']>, choice: Omit<Choice, 'source'>): Chosen => {
  const { stage } = chosen.evaluated.complete;
  const evaluated = workedWith(stage, { control: { ...stage.control, ...control } });
  return evaluated ? withChoice({ ...chosen, evaluated }, choice.path, { ...choice, source: COMMON }) : chosen;
};

/** A current limit below saturation, and a maximum duty ratio where a main switch that stays on shorts the input; what is stated stays. */
export function withLimits(chosen: Chosen, asked: Stage): Chosen {
  let found = chosen;
  const { complete, evaluation } = chosen.evaluated;
  const { inductor, stage } = complete;
  const peak = Math.max(0, ...evaluation.operatingPoints.map(({ inductorCurrent }) => inductorCurrent.peak));
  if (stage.control.currentLimit === undefined && peak > 0 && stage.control.scheme !== 'open-loop') {
    const most = inductor.saturationCurrent ?? Infinity;
    const currentLimit = Math.min(nearestPreferred(currentLimitFor(peak), 'E24'), Number(most.toPrecision(3)));
    if (currentLimit > peak)
      found = chosenWith(
        found,
        { currentLimit },
        {
          path: 'control.currentLimit',
          quantity: 'current limit',
          unit: 'A',
          value: currentLimit,
          rule: `Such that, a fifth low, it is ${String(LIMIT_OVER_PEAK)} times the highest peak of ${formatQuantity(peak, 'A', 3)}, and not above the saturation of the inductor: a short must not run into what nothing limits.`,
        },
      );
  }
  const duty = Math.max(0, ...evaluation.operatingPoints.map((point) => point.duty));
  if (asked.control.dutyMax >= 1 && stage.control.dutyMax >= 1 && topologyOf(stage).reach !== 'below') {
    const dutyMax = Math.max(DUTY_LIMIT, Math.ceil((duty + DUTY_ROOM) * 100) / 100);
    if (dutyMax < 1)
      found = chosenWith(
        found,
        { dutyMax },
        {
          path: 'control.dutyMax',
          quantity: 'maximum duty ratio',
          unit: 'ratio',
          value: dutyMax,
          rule: `A main switch that stays on shorts the input through the inductor; the highest duty ratio in use is ${duty.toFixed(3)}.`,
        },
      );
  }
  return found;
}

/** A soft start that charges the output with a share of the full load; what is stated stays. */
export function withSoftStart(chosen: Chosen): Chosen {
  const { complete } = chosen.evaluated;
  const { stage, outputCapacitors } = complete;
  const { outputVoltage, outputCurrent } = stage.targets;
  if (stage.control.softStartTime !== undefined || stage.control.scheme === 'open-loop') return chosen;
  const output = Math.abs(outputVoltage);
  const charge = capacitanceOf(outputCapacitors, output) * output;
  // t = C V / I
  const softStartTime = Math.max(
    SHORTEST_START,
    nearestPreferred(charge / (CHARGING_SHARE * outputCurrent.max), 'E12'),
  );
  return chosenWith(
    chosen,
    { softStartTime },
    {
      path: 'control.softStartTime',
      quantity: 'soft-start time',
      unit: 's',
      value: softStartTime,
      rule: `Charging the output takes ${formatQuantity(charge / softStartTime, 'A', 2)} while it rises, not above a fifth of the full load.`,
    },
  );
}

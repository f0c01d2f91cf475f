import { outputTolerance } from '../controller/outputTolerance.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Unit } from '../quantity/unit.js';
import { SWITCH_WORDS, type CompleteStage } from '../stage/completeStage.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';
import { JUNCTION_LIMIT, ROOM_TEMPERATURE } from '../thermal/room.js';
import type { Corner } from './corners.js';

/** How one target is judged at one corner. */
export interface TargetRule {
  readonly target: string;
  readonly quantity: string;
  readonly unit: Unit;
  readonly sense: 'at-most' | 'at-least';
  readonly required: number;
  /** What the margin is a share of, where not of the required value itself: the loss allowed, the rise allowed. */
  readonly scale?: number;
  /** Key of the figure whose working explains the number. */
  readonly figure: string;
  /** The number judged; or why there is none, which fails; or undefined at corners where the target says nothing. */
  readonly actual: (point: OperatingPoint, corner: Corner) => number | { readonly reason: string } | undefined;
}

/** Share of the required value (or of the rule's scale) by which an actual one holds; negative where it fails. */
export const marginOf = (
  { sense, required, scale = Math.abs(required) }: Omit<TargetRule, 'actual'>,
  actual: number,
): number => (sense === 'at-most' ? required - actual : actual - required) / scale;

/** How far an output is from the wanted voltage, half its ripple included, before any part strays; relative. */
export const outputError = (
  { outputVoltage, outputRipple }: Pick<OperatingPoint, 'outputVoltage' | 'outputRipple'>,
  wanted: number,
): number => Math.abs(outputVoltage / wanted - 1) + outputRipple / 2 / Math.abs(wanted);

/** Loss allowed by an efficiency of one, for the margin to be a number. */
const SMALLEST_LOSS = 1e-6;

type Optional<T> = T | undefined;

/** The rules that a stage's targets and ratings call for, in the order of the ledger. */
export function targetRules(complete: CompleteStage): readonly TargetRule[] {
  const { stage, inductor, legs, switchingFrequency } = complete;
  const { targets, control } = stage;
  const rules: TargetRule[] = [];
  const rule = (
    target: string,
    quantity: string,
    unit: Unit,
    sense: TargetRule['sense'],
    required: Optional<number>,
    figure: string,
    actual: TargetRule['actual'],
    scale?: number,
  ): void => {
    if (required !== undefined)
      rules.push({ target, quantity, unit, sense, required, figure, actual, ...(scale !== undefined && { scale }) });
  };
  rule('dutyMax', 'duty ratio', 'ratio', 'at-most', control.dutyMax, 'duty', (p) => p.duty);
  rule(
    'minimumOnTime',
    'on-time of the main switch',
    's',
    'at-least',
    control.minimumOnTime > 0 ? control.minimumOnTime : undefined,
    'duty',
    (p) => p.duty / p.switchingFrequency,
  );
  rule('outputRipple', 'output ripple', 'V', 'at-most', targets.outputRipple, 'outputRipple', (p) => p.outputRipple);
  // Where reference, divider and ripple may put the output: with everything at its worst, and likely.
  const spread = outputTolerance(stage);
  const wanted = targets.outputVoltage;
  const error = (of: number) => (p: OperatingPoint) => outputError(p, wanted) + of;
  if (spread) {
    const allowed = targets.outputVoltageTolerance;
    const { worstCase, likely, assumed } = spread;
    const usual = assumed.map((part) => `${formatQuantity(100 * spread[part], 'count', 3)} % ${part}`).join(' and ');
    const assuming = usual && `, with ${usual} assumed`;
    rule(
      'outputVoltageTolerance',
      `output error, worst case${assuming}`,
      'ratio',
      'at-most',
      allowed,
      'outputVoltage',
      error(worstCase.value),
    );
    rule(
      'outputVoltageLikely',
      `output error, likely${assuming}`,
      'ratio',
      'at-most',
      allowed,
      'outputVoltage',
      error(likely.value),
    );
  }
  rule('inputRipple', 'input ripple', 'V', 'at-most', targets.inputRipple, 'inputRipple', (p) => p.inputRipple);
  rule(
    'inductorRippleRatio',
    'inductor ripple ratio',
    'ratio',
    'at-most',
    targets.inductorRippleRatio,
    'inductorCurrent.ripple',
    (p, corner) =>
      corner.outputCurrent === targets.outputCurrent.max
        ? p.inductorCurrent.ripple / p.inductorCurrent.average
        : undefined,
  );
  rule(
    'switchingFrequencyMin',
    'frequency, lower limit',
    'Hz',
    'at-least',
    targets.switchingFrequency?.min,
    'duty',
    () => switchingFrequency,
  );
  rule(
    'switchingFrequencyMax',
    'frequency, upper limit',
    'Hz',
    'at-most',
    targets.switchingFrequency?.max,
    'duty',
    () => switchingFrequency,
  );
  rule(
    'inductorSaturation',
    'inductor peak current',
    'A',
    'at-most',
    inductor.saturationCurrent,
    'inductorCurrent.peak',
    (p) => p.inductorCurrent.peak,
  );
  rule(
    'currentLimit',
    'inductor peak current below the current limit',
    'A',
    'at-most',
    control.currentLimit,
    'inductorCurrent.peak',
    (p) => p.inductorCurrent.peak,
  );
  // Above the limit no current flows, in a load step or into a short circuit: the core must still hold it off there.
  rule(
    'saturationAtLimit',
    'current limit below saturation',
    'A',
    'at-most',
    control.currentLimit === undefined ? undefined : inductor.saturationCurrent,
    'inductorCurrent.peak',
    () => control.currentLimit,
  );
  rule(
    'inductorHeating',
    'inductor RMS current',
    'A',
    'at-most',
    inductor.heatingCurrent,
    'inductorCurrent.rms',
    (p) => p.inductorCurrent.rms,
  );
  const asked = targets.efficiency;
  rule(
    'efficiency',
    'efficiency',
    'ratio',
    'at-least',
    asked?.min,
    'efficiency',
    (p, corner) => (corner.outputCurrent === asked?.outputCurrent ? p.efficiency : undefined),
    asked && Math.max(1 - asked.min, SMALLEST_LOSS),
  );
  const junctionMax = targets.junctionTemperatureMax ?? JUNCTION_LIMIT;
  const rise = junctionMax - (targets.ambientTemperature?.max ?? ROOM_TEMPERATURE);
  const junction = (place: SwitchPlace, words: string): void =>
    rule(
      `${place}Junction`,
      `${words.replace(' switch', '')} junction`,
      'degC',
      'at-most',
      junctionMax,
      `junctionTemperatures.${place}`,
      (p) => {
        const temperature = p.junctionTemperatures[place];
        return temperature === null
          ? { reason: 'thermal runaway: its loss grows faster with its temperature than the heat is carried off' }
          : temperature;
      },
      rise > 0 ? rise : undefined,
    );
  const rating = (place: SwitchPlace, required: Optional<number>, words: string): void =>
    rule(
      `${place}Voltage`,
      `${words.replace(' switch', '')} voltage`,
      'V',
      'at-most',
      required,
      `switchStress.${place}.voltage`,
      (p) => p.switchStress[place]?.voltage,
    );
  for (const { mainPlace, rectifierPlace, main, rectifier } of legs) {
    rating(mainPlace, main.drainSourceVoltageMax, SWITCH_WORDS[mainPlace]);
    if (rectifier.kind === 'switch')
      rating(rectifierPlace, rectifier.mosfet.drainSourceVoltageMax, SWITCH_WORDS[rectifierPlace]);
    else rating(rectifierPlace, rectifier.diode.reverseVoltageMax, 'rectifier diode');
    junction(mainPlace, SWITCH_WORDS[mainPlace]);
    junction(rectifierPlace, rectifier.kind === 'switch' ? SWITCH_WORDS[rectifierPlace] : 'rectifier diode');
  }
  const banks = (side: 'output' | 'input'): void => {
    const list = side === 'output' ? complete.outputCapacitors : complete.inputCapacitors;
    list.forEach((bank, j) => {
      const which = list.length > 1 ? `${side} capacitor bank ${String(j + 1)}` : `${side} capacitor`;
      const key = `${side}CapacitorBanks` as const;
      rule(
        `${key}[${String(j)}].voltage`,
        `${which} voltage`,
        'V',
        'at-most',
        bank.ratedVoltage,
        side === 'output' ? 'outputVoltage' : 'inputVoltage',
        (p) =>
          side === 'output' ? Math.abs(p.outputVoltage) + p.outputRipple / 2 : p.inputVoltage + p.inputRipple / 2,
      );
      rule(
        `${key}[${String(j)}].rippleCurrent`,
        `${which} RMS current`,
        'A',
        'at-most',
        bank.rippleCurrentRating === undefined ? undefined : bank.rippleCurrentRating * bank.count,
        `${key}[${String(j)}].rms`,
        (p) => p[key][j]?.rms,
      );
    });
  };
  banks('output');
  banks('input');
  return rules;
}

export const FEATURES_UNJUDGED = 'features asked of the controller';

/** Targets that a stage may state and that nothing judges yet, in words. */
export function unjudgedTargets({ stage }: CompleteStage): readonly string[] {
  const { targets } = stage;
  const named: readonly (readonly [string, unknown])[] = [
    ['output voltage tolerance', outputTolerance(stage) ? undefined : targets.outputVoltageTolerance],
    ['load step', targets.loadStep],
    ['phase margin', targets.phaseMargin],
    ['gain margin', targets.gainMargin],
    // Only its record says what a controller offers, and an evaluation knows no records.
    [FEATURES_UNJUDGED, targets.features?.length ? targets.features : undefined],
  ];
  return named.flatMap(([words, value]) => (value === undefined ? [] : [words]));
}

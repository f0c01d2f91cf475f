import { COPPER, STATED_AT } from '../parts/inductorLoss.js';
import { leastShare } from '../parts/capacitorBank.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Unit } from '../quantity/unit.js';
import { stageField, type Stage } from '../stage/schema.js';
import { valueAt, type StagePath } from '../stage/place.js';

/** A value of the design that a margin may hang on. */
export interface DesignValue {
  readonly path: StagePath;
  /** In words that tell it from its like: "capacitance of output capacitor bank 2". */
  readonly quantity: string;
  readonly unit: Unit;
  readonly value: number;
}

/** What is looked at in each part: its electrical values and its ratings. */
const INDUCTOR = ['inductance', 'resistance', 'saturationCurrent', 'heatingCurrent'];
const BANK = ['capacitance', 'esr', 'esl', 'ratedVoltage', 'rippleCurrentRating'];
const SWITCH = ['onResistance', 'drainSourceVoltageMax'];
const DIODE = ['forwardVoltage', 'dynamicResistance', 'reverseVoltageMax'];
const SWITCHES = [
  ['highSide', 'high side'],
  ['lowSide', 'low side'],
  ['outputHighSide', 'output high side'],
  ['outputLowSide', 'output low side'],
] as const;
const SIDES = [
  ['outputCapacitors', 'output capacitor bank'],
  ['inputCapacitors', 'input capacitor bank'],
] as const;

/** Ratings judge what flows and do not change it. */
const RATINGS = new Set([
  'heatingCurrent',
  'ratedVoltage',
  'rippleCurrentRating',
  'drainSourceVoltageMax',
  'reverseVoltageMax',
  'currentLimit',
  'referenceTolerance',
  'resistors',
]);

/** Whether a value is only a limit, so that the circuit need not be solved anew when it changes. */
export const isRating = ({ path }: DesignValue): boolean => RATINGS.has(String(path.at(-1)));

/** The value at a place; none where there is none, or it is zero: what is zero has no relative change. */
function designValue(stage: Stage, path: StagePath, of?: string): readonly DesignValue[] {
  const value = valueAt(stage, path);
  const field = stageField(path);
  if (typeof value !== 'number' || value <= 0 || !field) return [];
  const quantity = of === undefined ? field.quantity : `${field.quantity}, ${of}`;
  return [{ path, quantity, unit: field.unit, value }];
}

/** Every value of a design that is above zero. */
export function designValues(stage: Stage): readonly DesignValue[] {
  const values: DesignValue[] = [];
  const look = (path: StagePath, of?: string): void => void values.push(...designValue(stage, path, of));
  look(['switchingFrequency']);
  look(['deadTime']);
  look(['control', 'currentLimit']);
  look(['control', 'senseResistance']);
  look(['control', 'referenceTolerance']);
  look(['control', 'tolerances', 'resistors']);
  for (const key of INDUCTOR) look(['parts', 'inductor', key]);
  for (const [side, words] of SIDES) {
    (stage.parts[side] ?? []).forEach((_, j) => {
      for (const key of BANK) look(['parts', side, j, key], `${words} ${String(j + 1)}`);
    });
  }
  for (const [place, words] of SWITCHES) for (const key of SWITCH) look(['parts', place, key], words);
  if (stage.rectifier === 'diode') for (const key of DIODE) look(['parts', 'diode', key]);
  for (const key of ['resistance', 'inductance']) look(['parts', 'source', key]);
  look(['parts', 'fuse', 'resistance']);
  for (const key of ['forwardVoltage', 'resistance']) look(['parts', 'reversePolarity', key]);
  look(['parts', 'preload', 'resistance']);
  for (const key of ['inductance', 'resistance']) look(['parts', 'inputFilter', key]);
  for (const key of ['capacitance', 'resistance']) look(['parts', 'inputFilter', 'damping', key]);
  look(['parts', 'inputFilter', 'terminal', 'capacitance']);
  for (const key of ['inductance', 'resistance']) look(['parts', 'outputFilter', key]);
  if (stage.coupling.kind !== 'none') look(['coupling', 'coefficient']);
  return values;
}

/** What of the compensator shapes the loop: the divider sets the output, and stays. */
const SHAPING = ['rZero', 'cZero', 'cPole', 'rFeedforward', 'cFeedforward'];
const MODULATOR = ['rampAmplitude', 'currentSenseGain', 'slopeCompensation', 'onTime', 'minimumOffTime'];

/** Values that a step is answered by: those of the parts, ratings apart, and of the controller. */
export function answeringValues(stage: Stage): readonly DesignValue[] {
  const paths: readonly StagePath[] = [
    ...MODULATOR.map((key) => ['control', key]),
    ...SHAPING.map((key) => ['control', 'compensator', 'components', key]),
  ];
  const controller = paths.flatMap((path) => designValue(stage, path));
  const isLimit = ({ path }: DesignValue): boolean => path.at(-1) === 'currentLimit';
  return [...designValues(stage).filter((value) => !isRating(value) || isLimit(value)), ...controller];
}

const percent = (share: number): string => `${formatQuantity(Number((100 * share).toPrecision(3)), 'count')} %`;

/** How far a value may lie from its stated one, as factors: lowest and highest. */
export interface Spread {
  readonly path: StagePath;
  readonly low: number;
  readonly high: number;
  /** Why, in words. */
  readonly because: string;
}

/** The spreads that the parts and the ambient of a stage state: tolerances, and copper that warms. */
export function spreadsOf({ parts, targets }: Stage): readonly Spread[] {
  const spreads: Spread[] = [];
  const toleranced = (path: StagePath, tolerance: number | undefined): void => {
    if (tolerance === undefined || tolerance === 0) return;
    const because = `tolerance of ${percent(tolerance)}`;
    spreads.push({ path, low: 1 - Math.min(tolerance, LARGEST), high: 1 + tolerance, because });
  };
  toleranced(['parts', 'inductor', 'inductance'], parts.inductor?.tolerance);
  for (const [side] of SIDES)
    (parts[side] ?? []).forEach((bank, j) => {
      const low = leastShare(bank);
      const high = 1 + (bank.tolerance ?? 0);
      if (low === 1 && high === 1) return;
      const why = [
        ...(high > 1 ? [`tolerance of ${percent(high - 1)}`] : []),
        ...((bank.temperatureDrop ?? 0) > 0 ? [`temperature ${percent(bank.temperatureDrop ?? 0)}`] : []),
        ...((bank.agingDrop ?? 0) > 0 ? [`aging ${percent(bank.agingDrop ?? 0)}`] : []),
      ];
      spreads.push({ path: ['parts', side, j, 'capacitance'], low, high, because: why.join(', ') });
    });
  const ambient = targets.ambientTemperature;
  if (ambient && (parts.inductor?.resistance ?? 0) > 0)
    spreads.push({
      path: ['parts', 'inductor', 'resistance'],
      low: 1 + COPPER * (ambient.min - STATED_AT),
      high: 1 + COPPER * (ambient.max - STATED_AT),
      because: `copper from ${formatQuantity(ambient.min, 'degC')} to ${formatQuantity(ambient.max, 'degC')}`,
    });
  return spreads;
}

/** A tolerance may take a value down, never to nothing. */
const LARGEST = 0.99;

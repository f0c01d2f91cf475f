import type { Instruments } from '../instruments/instruments.js';
import type { Channel, Reading } from '../readings/reading.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { operatingPointIn } from '../modes/operatingMode.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';

/** Channels that a prediction has a figure for. @public */
export const PREDICTED = [
  'supplyVoltage',
  'inputCurrent',
  'outputVoltage',
  'loadVoltage',
  'outputRipple',
  'inductorRipple',
] as const satisfies readonly Channel[];
/** @public */
export type PredictedChannel = (typeof PREDICTED)[number];

/** Resistance of the leads of the bench, ohm. */
export type Leads = Pick<Instruments['leads'], 'input' | 'output'>;

/** What the instruments should read at a point. */
export type PredictedReading = Readonly<Record<PredictedChannel, number>>;

/** A stage that readings are predicted of, its points near each other worked from one another. */
export class ReadingPredictor {
  private readonly complete: CompleteStage | undefined;
  private near: SolvedPoint | undefined;

  constructor(stage: Stage) {
    const made = completeStage(stage);
    this.complete = made.ok ? made.value : undefined;
  }

  /**
   * What the instruments should read where so much was read at the board's input and drawn at its output.
   *
   *     Vsupply = Vin + Rin Iin,  Vload = Vout − Rout Iout
   *
   * @param ambient °C
   * @returns undefined where the stage cannot work there.
   */
  at(inputVoltage: number, outputCurrent: number, leads: Leads, ambient?: number): PredictedReading | undefined {
    const { complete } = this;
    if (!complete || inputVoltage <= 0) return undefined;
    const condition = {
      inputVoltage,
      load: { kind: 'current' as const, current: outputCurrent },
      ...(ambient !== undefined && { ambient }),
    };
    const found = operatingPointIn(complete.stage.operatingMode, complete, condition, {
      near: this.near && { point: this.near },
    });
    if (found.kind !== 'solved') return undefined;
    this.near = found;
    const { point } = found;
    const current = point.inputPower / inputVoltage;
    return {
      supplyVoltage: inputVoltage + leads.input * current,
      inputCurrent: current,
      outputVoltage: point.outputVoltage,
      loadVoltage: point.outputVoltage - Math.sign(point.outputVoltage) * leads.output * outputCurrent,
      outputRipple: point.outputRipple,
      inductorRipple: point.inductorCurrent.ripple,
    };
  }
}

/** The voltage at the board's input that a line of the log tells of; undefined where it tells of none. */
export function boardInput(reading: Reading, leads: Leads): number | undefined {
  if (reading.inputVoltage !== undefined) return reading.inputVoltage;
  if (reading.supplyVoltage === undefined) return undefined;
  return reading.supplyVoltage - leads.input * (reading.inputCurrent ?? 0);
}

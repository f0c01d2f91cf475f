import { decibels } from '../linalg/complex.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { LoopResponse } from '../smallsignal/loopResponse.js';
import type { Corner } from './corners.js';

/** What discontinuous conduction does to the loop at a light load, held against full load at the same input voltage. */
export interface LightLoadLoop {
  /** Mid-band: where the loop crosses over at full load, Hz. */
  readonly frequency: number;
  /** How much less loop gain there is there, dB. */
  readonly lostGain: number;
  /** How steeply the plant falls about there, dB per decade, at full and at this load; falling is negative. */
  readonly slopeAtFullLoad: number;
  readonly slope: number;
}

/** Half the stretch over which the slope of a plant is taken, decades. */
const HALF_STRETCH = 0.1;
/** A plant that falls by less than this, dB per decade, is taken as single-pole: half way between one pole and two. */
const SINGLE_POLE = -30;
/** Loss of gain worth a word, dB. Common practice: 10 dB and more are to be expected. */
const WORTH_A_WORD = 6;

function slopeOf(response: LoopResponse, frequency: number): number {
  const gain = (f: number): number => decibels(response.plant(f));
  return (gain(frequency * 10 ** HALF_STRETCH) - gain(frequency * 10 ** -HALF_STRETCH)) / (2 * HALF_STRETCH);
}

/** Compare the loop at a light load with that at full load, at the crossover of the latter. */
export function lightLoadLoop(full: LoopResponse, light: LoopResponse, frequency: number): LightLoadLoop {
  return {
    frequency,
    lostGain: decibels(full.loop(frequency)) - decibels(light.loop(frequency)),
    slopeAtFullLoad: slopeOf(full, frequency),
    slope: slopeOf(light, frequency),
  };
}

/** Slopes nearer to each other than this are the same in words, dB per decade. */
const SAME_SLOPE = 3;

/** The same in words, where there is something to say. */
export function lightLoadWords({ inputVoltage, outputCurrent }: Corner, found: LightLoadLoop): string | undefined {
  const { frequency, lostGain, slopeAtFullLoad, slope } = found;
  if (lostGain < WORTH_A_WORD) return undefined;
  const falls = `the plant falls by ${(-slope).toFixed(0)} dB per decade there`;
  const plant =
    Math.abs(slope - slopeAtFullLoad) < SAME_SLOPE
      ? `${falls}, as at full load`
      : `${falls} instead of ${(-slopeAtFullLoad).toFixed(0)}`;
  return (
    `in discontinuous conduction at ${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)} ` +
    `the loop has ${lostGain.toFixed(0)} dB less gain at ${formatQuantity(frequency, 'Hz', 3)}, where it crosses over at full load; ` +
    (slopeAtFullLoad < SINGLE_POLE && slope > SINGLE_POLE ? `${plant}: it has turned single-pole` : plant)
  );
}

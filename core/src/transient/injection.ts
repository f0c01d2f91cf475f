import { LOOP } from '../controller/loopNames.js';
import { magnitude, ratio, type Complex } from '../linalg/complex.js';
import { bilinear } from '../linalg/dense.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Configuration } from './configuration.js';
import { inWords, type FailedRun } from './failedRun.js';
import type { Moments } from './moments.js';
import { restOfStage } from './rest.js';
import { Run } from './run.js';
import type { Scenario } from './scenario.js';
import { asSimulated, simulatedStage } from './simulatedStage.js';

/** Clock periods that are measured at a time, a whole number of the sine's periods in them: the more, the finer the frequencies. */
const MEASURED = { slow: 400, fast: 100 };
/** Share of the switching frequency up to which the finer ones are wanted: there lie resonances and crossovers. */
const SLOW = 0.1;
const LOWEST = 0.01;
/** Of the output, V/V: at ten times as much the answer near half the clock already differs by a tenth of a decibel from that of a small sine. */
const AMPLITUDE = 2e-4;
/** The answer has settled when it changes by less than this from one measurement to the next … */
const SETTLED = 2e-4;
/** … and is taken as it is after so many. */
const MOST = 24;

/** A loop gain as a response analyser finds it. @public */
export interface InjectedPoint {
  readonly kind: 'point';
  /** Hz, the nearest of which a whole number of periods lies in the measurement. */
  readonly frequency: number;
  readonly loop: Complex;
  /** Whether the answer had settled. */
  readonly settled: boolean;
}

/** The injection next to a frequency that is asked for: a whole number of its periods lies in what is measured. */
function injectionAt(
  frequency: number,
  switchingFrequency: number,
): { readonly frequency: number; readonly measured: number } {
  const share = Math.max(LOWEST, frequency / switchingFrequency);
  const measured = share < SLOW ? MEASURED.slow : MEASURED.fast;
  const most = Math.ceil(measured / 2) - 1;
  const periods = Math.min(most, Math.round(share * measured));
  return { frequency: (periods * switchingFrequency) / measured, measured };
}

/**
 * Frequencies of a sweep, Hz, evenly spread by their logarithm from a hundredth to nearly half of the switching frequency.
 *
 * @public
 */
export function injectedSweep(switchingFrequency: number, count: number): readonly number[] {
  const at = (frequency: number): number => injectionAt(frequency, switchingFrequency).frequency;
  const [lowest, highest] = [at(0), at(switchingFrequency / 2)];
  return [...new Set(Array.from({ length: count }, (_, k) => at(lowest * (highest / lowest) ** (k / (count - 1)))))];
}

/**
 * The loop gain of a stage by injection: a small sine is put between the output and what hangs on it, the stage is simulated switch by
 * switch until its answer has settled, and the loop gain is that of the sine's parts of both sides, −out/top. Nothing in it knows of
 * the small-signal loop.
 *
 * The parts are ∫ v u dt and ∫ v u̇ dt over whole periods, from the second moments of the run, in which the sine u and its rate are
 * states like any other: exact, with no sampling of the waveform.
 *
 * Source: R. D. Middlebrook, Measurement of Loop Gain in Feedback Systems, Int. J. Electronics 38 (1975), voltage injection.
 *
 * @param frequency Hz; the nearest is taken of which a whole number of periods lies in what is measured.
 * @public
 */
export function injectLoop(
  complete: CompleteStage,
  condition: OperatingCondition,
  frequency: number,
): InjectedPoint | FailedRun {
  return inWords(() => {
    const { frequency: at, measured } = injectionAt(frequency, complete.clock);
    const scenario: Scenario = { start: 'settled', happenings: [], cycles: measured, injected: at };
    const drawn = simulatedStage(asSimulated(complete), condition, scenario);
    if (typeof drawn === 'string') return drawn;
    if (!drawn.controller) return 'the stage runs open loop: there is nothing to inject into';
    if (drawn.decides === 'turn-on')
      return 'constant on-time has no clock: no measurement holds a whole number of its periods';
    const rest = restOfStage(drawn, condition, scenario, undefined);
    if (typeof rest === 'string') return rest;
    if (!rest.periodic) return 'the stage does not repeat itself from clock to clock';
    const run = new Run(drawn, rest.start, { step: () => undefined });
    run.resume(rest.snapshot);
    run.oscillate(AMPLITUDE * Math.abs(complete.stage.targets.outputVoltage));
    let loop: Complex = { re: NaN, im: NaN };
    let settled = false;
    for (let k = 0; k < MOST && !settled; k += 1) {
      run.splitMoments();
      run.advance((k + 1) * measured * run.period);
      const part = (node: string): Complex => sinePart(run, run.moments, (c) => c.node(node));
      const before = loop;
      const { re, im } = ratio(part(drawn.powerStage.outputNode), part(LOOP.dividerTop));
      loop = { re: -re, im: -im };
      const change = magnitude({ re: loop.re - before.re, im: loop.im - before.im });
      settled = change <= SETTLED * magnitude(loop);
    }
    return { kind: 'point', frequency: at, loop, settled };
  });
}

/** The part of a signal that goes with the sine: ∫ v cos, −∫ v sin, up to a factor that all have in common. */
function sinePart(run: Run, moments: Moments, rowOf: (configuration: Configuration) => Float64Array): Complex {
  const { size, moving, source, rate, oscillation } = run.layout;
  const m = moving.indexOf(LOOP.injection);
  const sine = new Float64Array(size);
  sine[source + m] = oscillation?.angular ?? 0;
  const cosine = new Float64Array(size);
  cosine[rate + m] = 1;
  let re = 0;
  let im = 0;
  for (const [configuration, moment] of moments.integrals()) {
    const row = rowOf(configuration);
    re += bilinear(row, moment, cosine);
    im -= bilinear(row, moment, sine);
  }
  return { re, im };
}

import { LOOP } from '../compensator/compensatorCircuit.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import { solveStage } from '../steady/solveStage.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { closeLoop, LOAD_TEST, type ClosedLoop } from './closedLoop.js';
import { linearPeriod } from './linearPeriod.js';
import { decibels, marginsOf, type Margins, type ResponsePoint } from './margins.js';
import { multipliers, subharmonicGain, type Multiplier } from './monodromy.js';
import { nodeProbe, OrbitResponse, type Complex } from './response.js';

/** The loop of a stage at one operating condition. */
export interface LoopReport extends Margins {
  readonly kind: 'solved';
  /** Whether every multiplier lies inside the unit circle; margins do not decide. */
  readonly stable: boolean;
  readonly floquetMultipliers: readonly Multiplier[];
  /** Gain of the sampled loop at half its sampling frequency; at −1 pulses begin to alternate. */
  readonly subharmonicGain: number;
  /** Largest output impedance with the loop closed, Ω, and where. */
  readonly outputImpedancePeak: { readonly impedance: number; readonly frequency: number };
  readonly points: readonly LoopPoint[];
}

export interface LoopPoint {
  readonly frequency: number;
  /** Control voltage to output, the control voltage without ripple. */
  readonly plant: Complex;
  /** Output to control voltage, with the sign that makes the loop gain plant times compensator. */
  readonly compensator: Complex;
  /** What injection at the top of the divider shows. */
  readonly loop: Complex;
  /** Ω, with the loop closed. */
  readonly outputImpedance: Complex;
}

export interface NoLoop {
  readonly kind: 'unsolved';
  readonly why: 'incomplete' | 'not-converged' | 'no-operating-point';
  readonly reason: string;
}

/** Points for the whole picture, and from where to where, as shares of the switching frequency. */
const POINTS = 160;
const LOWEST = 1e-4;
/** Just below half the switching frequency, where an injected sine and its alias fall together. */
const HIGHEST = 0.4999;

/** Frequencies spaced evenly on a logarithmic scale up to half the switching frequency, Hz. */
export function loopFrequencies(switchingFrequency: number, count = POINTS): readonly number[] {
  return Array.from(
    { length: count },
    (_, i) => switchingFrequency * LOWEST * (HIGHEST / LOWEST) ** (i / Math.max(1, count - 1)),
  );
}

const INJECTION = { kind: 'source', name: LOOP.injection } as const;

/** The responses of a closed loop about its orbit. */
export class LoopResponse {
  private readonly closed: OrbitResponse;
  private readonly held: OrbitResponse;
  readonly floquetMultipliers: readonly Multiplier[];
  readonly subharmonicGain: number;
  private readonly probes;

  constructor(loop: ClosedLoop) {
    const period = linearPeriod(loop, 'all');
    this.closed = new OrbitResponse(period);
    this.held = new OrbitResponse(linearPeriod(loop, 'current'));
    this.floquetMultipliers = multipliers(period);
    this.subharmonicGain = subharmonicGain(period);
    this.sign = loop.comparator.sign;
    this.compensatorSign = loop.decides === 'turn-on' ? 1 : -1;
    const output = nodeProbe(loop.outputNode);
    const top = nodeProbe(LOOP.dividerTop);
    this.probes = { output: [output], loop: [output, top], compensator: [nodeProbe(loop.comparator.node), top] };
  }
  private readonly sign: number;
  private readonly compensatorSign: number;

  /** Loop gain as injection at the top of the divider shows it. */
  loop(frequency: number): Complex {
    const [out, divider] = this.closed.at(frequency, INJECTION, this.probes.loop);
    return negative(ratio(out, divider));
  }
  /** From the top of the divider to the control voltage. */
  compensator(frequency: number): Complex {
    const [voltage, divider] = this.closed.at(frequency, INJECTION, this.probes.compensator);
    return scaled(ratio(voltage, divider), this.compensatorSign);
  }
  /**
   * From a control voltage that stands still but for the disturbance to the output. Constant on-time has none that could stand
   * still, its comparator living on the ripple: there it is what of the loop gain is not the divider.
   */
  plant(frequency: number): Complex {
    if (this.compensatorSign === 1) return ratio(this.loop(frequency), this.compensator(frequency));
    const [out] = this.held.at(frequency, { kind: 'threshold' }, this.probes.output);
    return scaled(out, this.sign);
  }
  outputImpedance(frequency: number): Complex {
    const [out] = this.closed.at(frequency, { kind: 'source', name: LOAD_TEST }, this.probes.output);
    return scaled(out, -1);
  }
  /** From the source to the output, with the loop closed. */
  line(frequency: number): Complex {
    const [out] = this.closed.at(frequency, { kind: 'source', name: 'source' }, this.probes.output);
    return out ?? { re: NaN, im: NaN };
  }
  /** Crossover and margins, from the loop gain at ascending frequencies and between them. */
  margins(grid: readonly number[]): Margins {
    const exact = (frequency: number): Complex => this.loop(frequency);
    return marginsOf(
      grid.map((frequency) => ({ frequency, value: exact(frequency) })),
      exact,
    );
  }
  point(frequency: number): LoopPoint {
    return {
      frequency,
      plant: this.plant(frequency),
      compensator: this.compensator(frequency),
      loop: this.loop(frequency),
      outputImpedance: this.outputImpedance(frequency),
    };
  }
}

const scaled = (value: Complex | undefined, factor: number): Complex => ({
  re: factor * (value?.re ?? NaN),
  im: factor * (value?.im ?? NaN),
});
const negative = (value: Complex): Complex => scaled(value, -1);
function ratio(a: Complex | undefined, b: Complex | undefined): Complex {
  if (!a || !b) return { re: NaN, im: NaN };
  const size = b.re * b.re + b.im * b.im;
  return { re: (a.re * b.re + a.im * b.im) / size, im: (a.im * b.re - a.re * b.im) / size };
}

/** The largest of a response over its frequencies, refined between the neighbours of the largest point. */
function peakOf(points: readonly ResponsePoint[], exact: (frequency: number) => Complex) {
  const sizes = points.map(({ value }) => Math.hypot(value.re, value.im));
  const top = sizes.indexOf(Math.max(...sizes));
  let low = Math.log(points[Math.max(0, top - 1)]?.frequency ?? 1);
  let high = Math.log(points[Math.min(points.length - 1, top + 1)]?.frequency ?? 1);
  const size = (logarithm: number): number => decibels(exact(Math.exp(logarithm)));
  for (let step = 0; step < PEAK_STEPS; step += 1) {
    const left = low + (high - low) * SHORTER;
    const right = high - (high - low) * SHORTER;
    if (size(left) > size(right)) high = right;
    else low = left;
  }
  const frequency = Math.exp((low + high) / 2);
  return { impedance: 10 ** (size(Math.log(frequency)) / 20), frequency };
}
const PEAK_STEPS = 12;
/** Shorter part of the golden section. */
const SHORTER = 0.381966;

export const sizeOfMultiplier = ({ re, im }: Multiplier): number => Math.hypot(re, im);

/** Multipliers larger than this count as on the unit circle. */
export const STABLE_BELOW = 1 - 1e-9;

/** The loop gain of a solved stage at any frequency; the words for what is missing where there is no loop. */
export function loopGain(
  complete: CompleteStage,
  condition: OperatingCondition,
  solved: SolvedCircuit,
): ((frequency: number) => Complex) | string {
  const closed = closeLoop(complete, condition, solved);
  if (closed.kind !== 'closed') return closed.reason;
  const response = new LoopResponse(closed.loop);
  return (frequency) => response.loop(frequency);
}

/**
 * The loop of a stage at a condition: its response at the frequencies, margins, multipliers and output impedance.
 *
 * @param solved the stage at the same condition where it is at hand.
 * @param frequencies Hz; margins are found on a grid of their own.
 */
export function loopAt(
  complete: CompleteStage,
  condition: OperatingCondition,
  frequencies: readonly number[] = loopFrequencies(complete.switchingFrequency),
  solved?: SolvedCircuit,
): LoopReport | NoLoop {
  let circuit: SolvedCircuit | undefined = solved;
  if (!circuit) {
    const found = solveStage(complete, condition);
    if (found.kind === 'unsolved') return { kind: 'unsolved', why: 'no-operating-point', reason: found.reason };
    circuit = found;
  }
  const closed = closeLoop(complete, condition, circuit);
  if (closed.kind !== 'closed') return { kind: 'unsolved', why: closed.kind, reason: closed.reason };
  const response = new LoopResponse(closed.loop);
  const grid = loopFrequencies(complete.switchingFrequency);
  const margins = response.margins(grid);
  const impedance = (frequency: number): Complex => response.outputImpedance(frequency);
  const impedances = grid.map((frequency) => ({ frequency, value: impedance(frequency) }));
  const { floquetMultipliers } = response;
  const largest = floquetMultipliers[0];
  return {
    kind: 'solved',
    ...margins,
    stable: largest === undefined || sizeOfMultiplier(largest) < STABLE_BELOW,
    floquetMultipliers,
    subharmonicGain: response.subharmonicGain,
    outputImpedancePeak: peakOf(impedances, impedance),
    points: frequencies.map((frequency) => response.point(frequency)),
  };
}

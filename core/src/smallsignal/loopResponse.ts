import type { LoopBreak } from '../controller/controllerOf.js';
import { LOOP } from '../controller/loopNames.js';
import { magnitude, ratio, scaled, type Complex } from '../linalg/complex.js';
import { peakWithin } from '../linalg/goldenSection.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import { solveStage } from '../steady/solveStage.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { closeLoop } from './closedLoop.js';
import { LOAD_TEST, type ClosedLoop } from './loopCircuit.js';
import { linearPeriod, type LinearPeriod } from './linearPeriod.js';
import { marginsOf, type Margins, type ResponsePoint } from './margins.js';
import { floquet, type Floquet, type Multiplier } from './monodromy.js';
import { stepResponse, type StepResponse } from './stepResponse.js';
import { currentProbe, nodeProbe, OrbitResponse, type Probe } from './response.js';

/** The loop of a stage at one operating condition. @public */
export interface LoopReport extends Margins {
  readonly kind: 'solved';
  /** Where the loop gain is looked at, and whether there is another place that shows another loop. */
  readonly loopBreak: LoopBreak;
  readonly otherBreak: LoopBreak | undefined;
  /** Whether every multiplier lies inside the unit circle; margins do not decide. */
  readonly stable: boolean;
  readonly floquetMultipliers: readonly Multiplier[];
  /** Gain of the sampled loop at half its sampling frequency; at −1 pulses begin to alternate. */
  readonly subharmonicGain: number;
  /** How much the gain may rise until pulses begin to alternate, dB; undefined where no rise leads there. */
  readonly subharmonicMargin: number | undefined;
  /** Largest output impedance with the loop closed, Ω, and where. */
  readonly outputImpedancePeak: { readonly impedance: number; readonly frequency: number };
  readonly points: readonly LoopPoint[];
}

/** @public */
export interface LoopPoint {
  readonly frequency: number;
  /** Control voltage to output, the control voltage without ripple. */
  readonly plant: Complex;
  /** Output to control voltage, with the sign that makes the loop gain plant times compensator. */
  readonly compensator: Complex;
  /** What injection at the break shows. */
  readonly loop: Complex;
  /** Ω, with the loop closed. */
  readonly outputImpedance: Complex;
  /** Input voltage to output, with the loop closed. */
  readonly line: Complex;
  /** Control voltage to the inductor current of one phase, A/V. */
  readonly inductorCurrent: Complex;
}

/** @public */
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

/** Frequencies spaced evenly on a logarithmic scale up to half the switching frequency, Hz. @public */
export function loopFrequencies(switchingFrequency: number, count = POINTS): readonly number[] {
  return Array.from(
    { length: count },
    (_, i) => switchingFrequency * LOWEST * (HIGHEST / LOWEST) ** (i / Math.max(1, count - 1)),
  );
}

const INJECTION = { kind: 'source', name: LOOP.injection } as const;
const SUPPLY = { kind: 'source', name: 'source' } as const;
const LOAD = { kind: 'source', name: LOAD_TEST } as const;
const NOTHING: Complex = { re: NaN, im: NaN };

/** The responses of a closed loop about its orbit; what is not asked for is not worked. */
export class LoopResponse {
  private readonly period: LinearPeriod;
  private readonly closed: OrbitResponse;
  private readonly output: readonly Probe[];
  private readonly around: readonly Probe[];
  private readonly inner: readonly Probe[];
  private readonly supply: readonly Probe[] = [currentProbe('source')];
  private held: OrbitResponse | undefined;
  private fares: Floquet | undefined;

  constructor(private readonly orbit: ClosedLoop) {
    this.period = linearPeriod(orbit, 'all');
    this.closed = new OrbitResponse(this.period);
    const output = nodeProbe(orbit.outputNode);
    this.output = [output];
    this.inner = [currentProbe(orbit.problem.phases[0]?.inductor ?? ''), nodeProbe(orbit.controlNode)];
    this.around = [output, nodeProbe(LOOP.dividerTop), nodeProbe(orbit.controlNode)];
  }

  /** How disturbances of the orbit fare from period to period. */
  floquet(): Floquet {
    this.fares ??= floquet(this.period);
    return this.fares;
  }
  /**
   * The grid with the frequencies at which disturbances ring added, Hz: there a filter makes a notch that may be narrower than the grid.
   */
  private withResonances(grid: readonly number[]): readonly number[] {
    const [low = 0, high = 0] = [grid[0], grid.at(-1)];
    const { share, shares } = this.period;
    const ringing = this.floquet().multipliers.flatMap(({ re, im }) => {
      const frequency = Math.atan2(im, re) / (2 * Math.PI * share * shares);
      return im > 0 && frequency > low && frequency < high ? [frequency] : [];
    });
    return ringing.length === 0 ? grid : [...grid, ...ringing].sort((a, b) => a - b);
  }
  /** Loop gain, as injection at the break shows it, and compensator, from there to the control voltage. */
  private roundTheLoop(frequency: number): { readonly loop: Complex; readonly compensator: Complex } {
    const [out = NOTHING, top = NOTHING, control = NOTHING] = this.closed.at(frequency, INJECTION, this.around);
    const turned = this.orbit.decides === 'turn-on' ? 1 : -1;
    return { loop: scaled(ratio(out, top), -1), compensator: scaled(ratio(control, top), turned) };
  }
  loop(frequency: number): Complex {
    // The injected volt stands between output and top of the divider.
    const [out = NOTHING] = this.closed.at(frequency, INJECTION, this.output);
    return scaled(ratio(out, { re: out.re - 1, im: out.im }), -1);
  }
  /**
   * Whether a control voltage can stand still but for a disturbance. Not with constant on-time, whose comparator lives on the
   * ripple, nor where a current amplifier answers to it, nor where it is a register that steps: there the plant is what
   * of the loop gain is not the compensator.
   */
  private get holds(): boolean {
    const { decides, comparator, controlNode, sampled } = this.orbit;
    return decides === 'turn-off' && !sampled && comparator.nodes.includes(controlNode);
  }
  /** From the control voltage to the output. */
  plant(frequency: number): Complex {
    if (!this.holds) {
      const { loop, compensator } = this.roundTheLoop(frequency);
      return ratio(loop, compensator);
    }
    const [out = NOTHING] = this.open().at(frequency, { kind: 'threshold' }, this.output);
    return scaled(out, this.orbit.comparator.sign);
  }
  private open(): OrbitResponse {
    this.held ??= new OrbitResponse(linearPeriod(this.orbit, 'current'));
    return this.held;
  }
  outputImpedance(frequency: number): Complex {
    const [out = NOTHING] = this.closed.at(frequency, LOAD, this.output);
    return scaled(out, -1);
  }
  /** From the input voltage to the output, with the loop closed. */
  line(frequency: number): Complex {
    const [out = NOTHING] = this.closed.at(frequency, SUPPLY, this.output);
    return out;
  }
  /** From the control voltage to the inductor current of the first phase, A/V. */
  inductorCurrent(frequency: number): Complex {
    if (!this.holds) {
      const [current = NOTHING, control = NOTHING] = this.closed.at(frequency, INJECTION, this.inner);
      return ratio(current, control);
    }
    const [current = NOTHING] = this.open().at(frequency, { kind: 'threshold' }, this.inner);
    return scaled(current, this.orbit.comparator.sign);
  }
  /** What the source delivers to a change of its voltage, A/V, with the loop closed. */
  inputAdmittance(frequency: number): Complex {
    const [current = NOTHING] = this.closed.at(frequency, SUPPLY, this.supply);
    return scaled(current, -1);
  }
  /** The same with the control voltage held; undefined where the scheme has none that can stand still. */
  heldInputAdmittance(frequency: number): Complex | undefined {
    if (!this.holds) return undefined;
    const [current = NOTHING] = this.open().at(frequency, SUPPLY, this.supply);
    return scaled(current, -1);
  }
  /** The output after a step of load current, A; `shares` of the period long. */
  stepped(step: number, shares: number): StepResponse {
    const { pass, outputNode, comparator } = this.orbit;
    // The load draws from the output: for a negative one it is the other way round.
    return stepResponse(this.period, pass.segments, nodeProbe(outputNode), LOAD.name, comparator.sign * step, shares);
  }
  /** Crossover and margins, from the loop gain at ascending frequencies, some known already, and between them. */
  margins(grid: readonly number[], known: ReadonlyMap<number, { readonly loop: Complex }> = new Map()): Margins {
    return marginsOf(
      this.withResonances(grid).map((frequency) => ({
        frequency,
        value: known.get(frequency)?.loop ?? this.loop(frequency),
      })),
      (frequency) => this.loop(frequency),
    );
  }
  point(frequency: number): LoopPoint {
    const { loop, compensator } = this.roundTheLoop(frequency);
    return {
      frequency,
      plant: this.holds ? this.plant(frequency) : ratio(loop, compensator),
      compensator,
      loop,
      outputImpedance: this.outputImpedance(frequency),
      line: this.line(frequency),
      inductorCurrent: this.inductorCurrent(frequency),
    };
  }
}

/** The largest of a response over its frequencies, refined between the neighbours of the largest point. */
function peakOf(points: readonly ResponsePoint[], exact: (frequency: number) => Complex) {
  const sizes = points.map(({ value }) => magnitude(value));
  const top = sizes.indexOf(Math.max(...sizes));
  const low = points[Math.max(0, top - 1)]?.frequency ?? 1;
  const high = points[Math.min(points.length - 1, top + 1)]?.frequency ?? 1;
  const peak = peakWithin(
    (logarithm) => magnitude(exact(Math.exp(logarithm))),
    Math.log(low),
    Math.log(high),
    PEAK_STEPS,
  );
  return { impedance: peak.value, frequency: Math.exp(peak.at) };
}
const PEAK_STEPS = 12;

/** Multipliers larger than this count as on the unit circle. */
export const STABLE_BELOW = 1 - 1e-9;

/** The loop gain of a solved stage at any frequency; the words for what is missing where there is no loop. @public */
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
 * @param options.solved the stage at the same condition where it is at hand.
 * @param options.loopBreak where the loop gain is looked at; at all that hangs on the output where nothing is said.
 * @param frequencies Hz; margins are found on a grid of their own.
 * @public
 */
export function loopAt(
  complete: CompleteStage,
  condition: OperatingCondition,
  frequencies: readonly number[] = loopFrequencies(complete.switchingFrequency),
  {
    solved,
    loopBreak,
  }: { readonly solved?: SolvedCircuit | undefined; readonly loopBreak?: LoopBreak | undefined } = {},
): LoopReport | NoLoop {
  let circuit: SolvedCircuit | undefined = solved;
  if (!circuit) {
    const found = solveStage(complete, condition);
    if (found.kind === 'unsolved') return { kind: 'unsolved', why: 'no-operating-point', reason: found.reason };
    circuit = found;
  }
  const closed = closeLoop(complete, condition, circuit, { ...(loopBreak && { loopBreak }) });
  if (closed.kind !== 'closed') return { kind: 'unsolved', why: closed.kind, reason: closed.reason };
  const response = new LoopResponse(closed.loop);
  const grid = loopFrequencies(complete.switchingFrequency).map((frequency) => response.point(frequency));
  const known = new Map(grid.map((point) => [point.frequency, point]));
  const { multipliers, subharmonicGain, subharmonicMargin } = response.floquet();
  const [largest] = multipliers;
  return {
    kind: 'solved',
    loopBreak: closed.loop.loopBreak,
    otherBreak: closed.loop.otherBreak,
    ...response.margins([...known.keys()], known),
    stable: largest === undefined || magnitude(largest) < STABLE_BELOW,
    floquetMultipliers: multipliers,
    subharmonicGain,
    subharmonicMargin,
    outputImpedancePeak: peakOf(
      grid.map(({ frequency, outputImpedance }) => ({ frequency, value: outputImpedance })),
      (frequency) => response.outputImpedance(frequency),
    ),
    points: frequencies.map((frequency) => known.get(frequency) ?? response.point(frequency)),
  };
}

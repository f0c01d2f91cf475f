import { capacitor, currentSource, GROUND, resistor, voltageSource } from '../circuit/elements.js';
import { applied, type AppliedForm, type ClosedForm } from '../firstcut/closedForm.js';
import { linearResponse } from '../circuit/linearResponse.js';
import { magnitude } from '../linalg/complex.js';
import { edgeTimes } from '../losses/switchTerms.js';
import { harmonics } from '../orbit/spectrum.js';
import { nodeVoltage } from '../orbit/signal.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { inputSide, terminalNode } from '../powerstage/surroundings.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { parseQuantity } from '../quantity/engineering.js';
import { operatingPoint } from '../steady/operatingPoint.js';

/** Networks between supply and stage over which conducted noise is measured: CISPR 16-1-2 and CISPR 25, from memory. */
export const NETWORKS = {
  mains: { words: '50 µH, 50 Ω', inductance: 50e-6, resistance: 5e-3, coupling: 0.1e-6, receiver: 50 },
  vehicle: { words: '5 µH, 50 Ω', inductance: 5e-6, resistance: 1e-3, coupling: 0.1e-6, receiver: 50 },
} as const;
export type Network = keyof typeof NETWORKS;

/** Hz, to which conducted noise is measured. */
export const HIGHEST = 30e6;
/** V, of 0 dBµV. */
const MICROVOLT = 1e-6;

/** Level of a harmonic as the receiver reads it. */
const harmonicLevel: ClosedForm<'amplitude' | 'reached' | 'left' | 'slowed'> = {
  name: 'Level at the receiver, in dBµV',
  symbol: 'U',
  unit: 'dB',
  formula: '20\\lg\\frac{\\hat U_k\\,a\\,b\\,s}{\\sqrt2\\cdot1\\,\\mathrm{\\mu V}}',
  source:
    'Definition (dBµV); the harmonic from the exact steady state, the shares from the network drawn with the input side of the stage',
  assumption: 'Differential mode alone; what the receiver draws does not change the ripple.',
  inputs: {
    amplitude: { symbol: '\\hat U_k', name: 'amplitude at the terminals', unit: 'V' },
    reached: { symbol: 'a', name: 'share of it over the receiver', unit: 'ratio' },
    left: { symbol: 'b', name: 'share that a capacitor across the terminals leaves', unit: 'ratio' },
    slowed: { symbol: 's', name: 'share that the edges leave, sin(πft)/(πft)', unit: 'ratio' },
  },
  compute: (v) => 20 * Math.log10((v.amplitude * v.reached * v.left * v.slowed) / Math.SQRT2 / MICROVOLT),
};

/**
 * How the level of a harmonic came about.
 *
 * @public
 */
export const harmonicWorking = ({ amplitude, reached, left, slowed: edge }: Harmonic): AppliedForm =>
  applied(harmonicLevel, { amplitude, reached, left, slowed: edge });

/** What the receiver reads at a harmonic. */
export interface NoiseLine {
  /** Hz */
  readonly frequency: number;
  /** dBµV, rms. */
  readonly level: number;
}

/** A harmonic with what its level is made of. */
export interface Harmonic extends NoiseLine {
  /** V, at the terminals with the choke of the network for the source. */
  readonly amplitude: number;
  /** Shares of it: over the receiver, left by a capacitor across the terminals, left by the edges. */
  readonly reached: number;
  readonly left: number;
  readonly slowed: number;
}

/** Noise of a stage at a condition, as it is estimated. @public */
export interface ConductedNoise {
  readonly lines: readonly Harmonic[];
  /** s, of the edges that were counted; undefined where the record of the switch does not say and they were taken for sudden. */
  readonly edge: number | undefined;
}

/**
 * Share of the open voltage at the terminals of the network that stands over the receiver: a test source behind it drives the input side of the
 * stage as it is drawn, and what is left over the receiver is R/(R + 1/(jωC) + Z).
 */
function reachedBy(fed: CompleteStage, inputVoltage: number, terminal: string, network: Network) {
  const { coupling, receiver } = NETWORKS[network];
  const elements = [
    ...inputSide(fed, inputVoltage),
    voltageSource('test', 'test', GROUND, 0),
    resistor('receiver', 'test', 'receiver', receiver),
    capacitor('coupling', 'receiver', terminal, coupling),
  ];
  const behind = linearResponse({ elements, couplings: [] }, 'test', 'receiver');
  return (frequency: number): number => {
    const { re, im } = behind(frequency);
    return magnitude({ re: 1 - re, im: -im });
  };
}

/** A stage with the choke of a network for its source. */
export function fedBy(complete: CompleteStage, network: Network): CompleteStage {
  const { inductance, resistance } = NETWORKS[network];
  const { stage } = complete;
  const source = { ...stage.parts.source, inductance, resistance };
  return { ...complete, stage: { ...stage, parts: { ...stage.parts, source } } };
}

/** A capacitor across the terminals of a stage. */
export interface TerminalCapacitor {
  /** F */
  readonly capacitance: number;
}
/** What it has in series, Ω and H: of a film part on short leads. Common practice. */
export const TERMINAL = { esr: 10e-3, esl: 5e-9 } as const;

/** A stage behind its network, and what stands across its terminals. */
export type Behind = readonly [fed: CompleteStage, terminal?: TerminalCapacitor];

/** What a current that the stage draws at its input makes of voltage over the receiver. */
function receivedFrom([fed, terminal]: Behind, inputVoltage: number, network: Network) {
  const { coupling, receiver } = NETWORKS[network];
  const side = inputSide(fed, inputVoltage);
  const node = terminalNode(side);
  const elements = [
    ...side,
    ...(terminal ? [capacitor('terminal', node, GROUND, terminal.capacitance, TERMINAL.esr, TERMINAL.esl)] : []),
    capacitor('coupling', node, 'receiver', coupling),
    resistor('receiver', 'receiver', GROUND, receiver),
    currentSource('drawn', 'in', GROUND, 0),
  ];
  const over = linearResponse({ elements, couplings: [] }, 'drawn', 'receiver');
  return (frequency: number): number => magnitude(over(frequency));
}

/** What of a harmonic is left when a filter is added: the same current drawn from one input side and from the other. */
export function shareLeft(before: Behind, after: Behind, inputVoltage: number, network: Network) {
  const [one, other] = [before, after].map((behind) => receivedFrom(behind, inputVoltage, network));
  return (frequency: number): number => (one && other ? other(frequency) / one(frequency) : 1);
}

/** sin(x)/x: what an edge of some length leaves of a harmonic of a square wave. */
const slowed = (x: number): number => (x === 0 ? 1 : Math.abs(Math.sin(x) / x));

/**
 * Conducted noise of a stage in the differential mode: the stage is solved exactly with the choke of the network for its source, and what of its
 * harmonics at the terminals reaches the receiver is worked with the impedances there. Edges of a stated time take their share, sin(πft)/(πft).
 * Above some megahertz the parasitics of filter and board rule, and noise against earth is not in it: an estimate to lay a filter out by.
 *
 * @param terminal a capacitor across the terminals, beside what the stage has: its share is worked with the current that the stage draws, on
 *   which so little of its ripple comes back that it stays as it is.
 * @returns the words for why there is none.
 * @public
 */
export function conductedNoise(
  complete: CompleteStage,
  network: Network,
  condition: OperatingCondition,
  terminal?: TerminalCapacitor,
): ConductedNoise | string {
  const { stage } = complete;
  const fed = fedBy(complete, network);
  const solved = operatingPoint(fed, condition);
  if (solved.kind === 'unsolved') return solved.reason;
  const { solution } = solved;
  // The network is joined at the terminals: before fuse and filter.
  const node = terminalNode(solved.powerStage.circuit.elements);
  const reached = reachedBy(fed, condition.inputVoltage, node, network);
  const left = terminal ? shareLeft([fed], [fed, terminal], condition.inputVoltage, network) : () => 1;
  const count = Math.max(1, Math.floor(HIGHEST * solution.period));
  // Of several legs the quickest edge: where one is not stated all count as sudden.
  const edges = complete.legs.map((leg) => edgeTimes(leg.main, stage.control.gateDriver)?.fall);
  const edge = edges.every((one) => one !== undefined) ? Math.min(...edges) : undefined;
  const lines = harmonics(solution, nodeVoltage(node), count).map(({ frequency, amplitude }): Harmonic => {
    const parts = {
      amplitude,
      reached: reached(frequency),
      left: left(frequency),
      slowed: edge === undefined ? 1 : slowed(Math.PI * frequency * edge),
    };
    return { frequency, level: harmonicLevel.compute(parts), ...parts };
  });
  return { lines, edge };
}

/** Bandwidth of the receiver, Hz: CISPR 16-1-1, from 150 kHz to 30 MHz; from memory. */
const BANDWIDTH = 9e3;

/**
 * What dithering takes off a harmonic, dB: its power is spread evenly over twice the deviation, of which the receiver sees its bandwidth.
 *
 * @param deviation share of the frequency, each way.
 */
export const ditheredBy = (frequency: number, deviation: number): number =>
  Math.max(0, 10 * Math.log10((2 * deviation * frequency) / BANDWIDTH));

/** A limit line: levels at frequencies, dBµV, straight over the logarithm between them. */
export type LimitLine = readonly NoiseLine[];

/** A limit at a frequency, dBµV; undefined outside the line. */
export function limitAt(line: LimitLine, frequency: number): number | undefined {
  const k = line.findIndex((point) => point.frequency >= frequency);
  const [above, below] = [line[k], line[k - 1]];
  if (!above) return undefined;
  if (above.frequency === frequency) return above.level;
  if (!below) return undefined;
  const share = Math.log(frequency / below.frequency) / Math.log(above.frequency / below.frequency);
  return below.level + share * (above.level - below.level);
}

/** The harmonic that is most above its limit, or least below it. */
export interface Excess {
  readonly frequency: number;
  /** dB over the limit less the margin; below zero where it holds. */
  readonly over: number;
}

/**
 * How far noise is over a limit at the worst.
 *
 * @param margin dB that it is to stay below.
 * @param deviation of dithering, a share; 0 without.
 * @returns undefined where no harmonic lies within the line.
 */
export function excessOver(
  lines: readonly NoiseLine[],
  limit: LimitLine,
  margin: number,
  deviation: number,
): Excess | undefined {
  return lines
    .flatMap(({ frequency, level }): readonly Excess[] => {
      const allowed = limitAt(limit, frequency);
      return allowed === undefined
        ? []
        : [{ frequency, over: level - ditheredBy(frequency, deviation) + margin - allowed }];
    })
    .reduce<Excess | undefined>((worst, one) => (!worst || one.over > worst.over ? one : worst), undefined);
}

/** A limit line as it is typed, or what of it cannot be read. */
export type ReadLimit =
  { readonly kind: 'line'; readonly line: LimitLine } | { readonly kind: 'fault'; readonly sentence: string };

/**
 * A limit line from text: a frequency and a level in dBµV on every line, such as `150k 66`; frequencies rise.
 *
 * @public
 */
export function readLimit(text: string): ReadLimit {
  const line: NoiseLine[] = [];
  for (const [k, row] of text.split(/[\n;]/).entries()) {
    if (row.trim() === '') continue;
    const fault = (what: string): ReadLimit => ({
      kind: 'fault',
      sentence: `Line ${String(k + 1)}, “${row.trim()}”, ${what}.`,
    });
    const [first = '', second, ...more] = row.trim().split(/[\s,]+/);
    const frequency = parseQuantity(first, 'Hz');
    const level = Number(second);
    if (second === undefined || more.length > 0) return fault('should be a frequency and a level, such as 150k 66');
    if (!frequency.ok || !(frequency.value > 0)) return fault(`begins with no frequency: “${first}”`);
    if (!Number.isFinite(level)) return fault(`ends with no level in dBµV: “${second}”`);
    if (frequency.value <= (line.at(-1)?.frequency ?? 0)) return fault('does not lie above the frequency before it');
    line.push({ frequency: frequency.value, level });
  }
  return { kind: 'line', line };
}

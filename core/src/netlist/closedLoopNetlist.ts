import { stateLayout } from '../circuit/stateLayout.js';
import { LOOP } from '../controller/loopNames.js';
import { magnitude } from '../linalg/complex.js';
import { linearPeriod } from '../smallsignal/linearPeriod.js';
import type { ClosedLoop } from '../smallsignal/loopCircuit.js';
import { LOAD_TEST } from '../smallsignal/loopCircuit.js';
import { floquet } from '../smallsignal/monodromy.js';
import type { Inductor } from '../stage/partsSchema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { amplifierLimitLines } from './amplifierLimitLines.js';
import { elementLines } from './elementLines.js';
import { number } from './spiceValue.js';
import { devicesOf, phaseLines, type PulseLimits } from './modulatorLines.js';
import { registerLines } from './registerLines.js';
import { saturatingInductors } from './saturatingInductorLines.js';
import { STEP } from './spiceNetlist.js';

/** Periods that are measured; those run before them; and, where a sine is injected, at most as it must settle in. */
const MEASURED = 20;
const BEFORE = 40;
const MOST_BEFORE = 1000;
/** Longest time step as a share of the on-time, where the comparator times the pulses: its instants fall between the steps. */
const PULSE_STEP = 1 / 400;
/** What may be left of the beginning of an injected sine. */
const SETTLED = 1e-3;

/** Periods to run: the netlist starts in its steady state, but an injected sine begins with it, and its beginning dies away. */
function periodsOf(loop: ClosedLoop, injection: Injection | undefined, step: NetlistStep | undefined): number {
  if (step) return beforeStep(step) + step.cycles;
  if (!injection) return BEFORE + MEASURED;
  const [slowest] = floquet(linearPeriod(loop, 'all')).multipliers;
  const lasting = Math.min(slowest ? magnitude(slowest) : 0, 1 - 1e-6);
  const before = lasting > SETTLED ? Math.ceil(Math.log(SETTLED) / Math.log(lasting)) : 0;
  return MEASURED + Math.min(MOST_BEFORE, Math.max(BEFORE, before));
}

/** A sine put into the loop at the top of the divider. */
export interface Injection {
  readonly frequency: number;
  /** V */
  readonly amplitude: number;
}

/** A step of the load, at a clock. */
export interface NetlistStep {
  /** A, that flows from the output to ground more: below zero where a stage with a negative output is loaded more. */
  readonly by: number;
  /** A/s; within a tick of the run where nothing is said. */
  readonly slewRate?: number | undefined;
  /** Clock periods that are run after it. */
  readonly cycles: number;
  /** What ends pulses besides their comparator. */
  readonly limits?: Omit<PulseLimits, 'saturating'> | undefined;
  /** The steady state it begins in, with the inductor of the stage, where its curve is to be drawn. */
  readonly saturates?: { readonly solved: SolvedPoint; readonly part: Inductor } | undefined;
}

/** What disturbs the steady state. */
export type Disturbance = Injection | NetlistStep;

/**
 * Periods of steady state before a step; the last of them is what deviations are counted from. Where an inductor is drawn by its curve the start
 * is that of the constant inductance with its ripple: the pointed current of the curve meets its comparator a little elsewhere, and the loop is
 * let settle.
 */
const BEFORE_STEP = 2;
const SETTLING = 40;
const beforeStep = ({ saturates }: NetlistStep): number => (saturates?.solved.saturation ? SETTLING : BEFORE_STEP);

/** The load that steps: a source of its own beside the load. */
function stepLine(name: string, node: string, step: NetlistStep, period: number, tick: number): string {
  const { by, slewRate } = step;
  const at = beforeStep(step) * period;
  const within = Math.max(tick, slewRate === undefined ? 0 : Math.abs(by) / slewRate);
  return `i_${name} ${node} 0 PWL(0 0 ${number(at)} 0 ${number(at + within)} ${number(by)})`;
}

/** Output before the step, and how far it goes after it. */
function stepMeasures(step: NetlistStep, outputNode: string, period: number, end: number): readonly string[] {
  const before = beforeStep(step);
  const after = `FROM=${number(before * period)} TO=${number(end)}`;
  return [
    `.meas tran output_before AVG v(${outputNode}) FROM=${number((before - 1) * period)} TO=${number(before * period)}`,
    `.meas tran output_least MIN v(${outputNode}) ${after}`,
    `.meas tran output_most MAX v(${outputNode}) ${after}`,
  ];
}

/** The Fourier integrals of output and divider top over the measured time. */
function injectionLines(
  { frequency }: Injection,
  outputNode: string,
  period: number,
  periods: number,
): readonly string[] {
  const angle = `${number(2 * Math.PI * frequency)}*time`;
  const window = `FROM=${number((periods - MEASURED) * period)} TO=${number(periods * period)}`;
  return (
    [
      ['out', outputNode],
      ['top', LOOP.dividerTop],
    ] as const
  ).flatMap(([name, node]) =>
    (
      [
        ['re', 'cos'],
        ['im', 'sin'],
      ] as const
    ).flatMap(([part, of]) => [
      `b${name}_${part} ${name}_${part} 0 V = v(${node})*${of}(${angle})`,
      `.meas tran ${name}_${part} INTEG v(${name}_${part}) ${window}`,
    ]),
  );
}

/**
 * A stage with its loop closed as a SPICE netlist: power stage, compensator, and for each phase clock, ramp, comparator and latch,
 * started in the steady state that the closed loop has.
 *
 * @param deadTime s
 * @param disturbance an injection is measured at output and top of the divider by `.meas`: `out_re`, `out_im`, `top_re` and `top_im`,
 *   of which the loop gain is −out/top; its period must go into the measured time. A step of the load is measured as `output_before`,
 *   `output_least` and `output_most`. Limits of current, duty ratio and amplifier are drawn for it, and the curve of an
 *   inductor that saturates; the loop gain of an injection is that of the constant inductance with the same ripple.
 * @returns the words for why it cannot be written: legs that switch each in its own time.
 * @public
 */
export function closedLoopNetlist(
  title: string,
  loop: ClosedLoop,
  deadTime: number,
  disturbance?: Disturbance,
): { readonly ok: true; readonly text: string } | { readonly ok: false; readonly reason: string } {
  const { problem, pass, outputNode, period } = loop;
  const step = disturbance && 'by' in disturbance ? disturbance : undefined;
  const injection = disturbance && 'by' in disturbance ? undefined : disturbance;
  const periods = periodsOf(loop, injection, step);
  const { circuit, phases, updates = [] } = problem;
  const [start] = pass.segments;
  if (!start) return { ok: false, reason: 'the orbit has no segments' };
  const { indexOfCapacitor, indexOfInductor } = stateLayout(circuit);
  const state = (at: number | undefined): number => (at === undefined ? 0 : (start.initial[at] ?? 0));
  const saturating = step?.saturates
    ? saturatingInductors(step.saturates.solved, step.saturates.part, (name) => state(indexOfInductor.get(name)))
    : undefined;
  const modulators = phases.map((_, k) => phaseLines(loop, k, deadTime, { ...step?.limits, saturating }));
  if (modulators.some((lines) => lines === undefined))
    return { ok: false, reason: 'the netlist of legs that switch each in its own time is not written' };
  const registers = new Set(updates.flatMap(({ assignments }) => assignments.map(({ capacitor }) => capacitor)));
  const drawn = circuit.elements.filter(({ name }) => !registers.has(name));
  const end = periods * period;
  const timeStep = Math.min(STEP * period, PULSE_STEP * (loop.onTime ?? Infinity));
  const [clamp] = step ? loop.clamps : [];
  const limited = clamp && amplifierLimitLines(circuit.elements, clamp, loop.comparator.sign);
  const lines = drawn.flatMap((e) => {
    if (e.name === limited?.replaces) return [];
    if (e.name === LOOP.injection && injection)
      return [`v_${e.name} ${e.a} ${e.b} SIN(0 ${number(injection.amplitude)} ${number(injection.frequency)})`];
    if (e.name === LOAD_TEST && step) return [stepLine(e.name, outputNode, step, period, timeStep)];
    return elementLines(
      e,
      (name) => state(indexOfCapacitor.get(name)),
      (name) => state(indexOfInductor.get(name)),
      saturating,
    );
  });
  const switched = new Set(
    phases.flatMap((phase) => {
      const devices = devicesOf(phase);
      return devices ? [...devices.on, ...devices.off, ...devices.always] : [];
    }),
  );
  const idle = circuit.elements.filter((e) => e.kind === 'switch' && !switched.has(e.name));
  const window = `FROM=${number((periods - MEASURED) * period)} TO=${number(end)}`;
  return {
    ok: true,
    text: [
      `* ${title.replace(/[\r\n]+/g, ' ')}: closed loop`,
      '* Steady state of the closed loop. Units SI. Circuit:',
      ...(step ? ['* A step of the load.'] : []),
      ...(step?.saturates?.solved.saturation && saturating?.size === 0
        ? ['* The inductors are coupled and saturate: drawn are constant inductances with the same ripple current.']
        : []),
      ...lines,
      ...(limited ? ['* Limits of the amplifier:', ...limited.lines] : []),
      ...circuit.couplings.map(
        ({ first, second, coefficient }, i) => `k_${String(i + 1)} l_${first} l_${second} ${number(coefficient)}`,
      ),
      '* Modulator:',
      ...modulators.flatMap((one) => one ?? []),
      ...registerLines(updates, period / problem.rotation.order, (name) => state(indexOfCapacitor.get(name))),
      ...idle.map(({ name }) => `vg_${name} g_${name} 0 DC 0`),
      '* Run and measure:',
      '.options method=gear',
      `.tran ${number(timeStep)} ${number(end)} 0 ${number(timeStep)} uic`,
      `.meas tran output_average AVG v(${outputNode}) ${window}`,
      `.meas tran control_average AVG v(${loop.controlNode}) ${window}`,
      `.meas tran turned_on_first WHEN v(q_1)=0.5 RISE=${String(periods - MEASURED)}`,
      `.meas tran turned_on_last WHEN v(q_1)=0.5 RISE=${String(periods - 2)}`,
      `.meas tran output_ripple PP v(${outputNode}) FROM=${number((periods - 1) * period)} TO=${number(end)}`,
      ...(step ? stepMeasures(step, outputNode, period, end) : []),
      ...(injection ? injectionLines(injection, outputNode, period, periods) : []),
      '.end',
      '',
    ].join('\n'),
  };
}

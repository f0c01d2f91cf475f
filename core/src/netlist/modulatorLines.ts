import type { ClosedLoop } from '../smallsignal/loopCircuit.js';
import { fraction, instantAt, type PhaseSchedule } from '../orbit/schedule.js';
import { currentName, type SaturatingInductor } from './saturatingInductorLines.js';
import { number } from './spiceValue.js';

/** Edges of clock and ramp, the width of the clock and the delay of the latch, as shares of the period. */
const EDGE = 1e-4;
const CLOCK = 2e-3;
const LATCH = 2e-5;
/** Impedance of the lines that delay by the dead time, ohm. */
const LINE = 50;
/** How much faster than the on-time the timer of a pulse is set back. */
const RESET = 200;

/** The switches of a phase by when they are closed: while it is commanded on, off, or always. */
export function devicesOf({
  intervals,
}: PhaseSchedule):
  { readonly on: readonly string[]; readonly off: readonly string[]; readonly always: readonly string[] } | undefined {
  const ends = intervals.findIndex(({ begins }) => begins === 'command-end');
  const fixed = intervals.some(({ start }) => start.share > 0);
  if (ends < 0 || fixed) return undefined;
  const closedIn = (list: PhaseSchedule['intervals']): ReadonlySet<string> =>
    new Set(list.flatMap(({ closed }) => closed));
  const on = closedIn(intervals.slice(0, ends));
  const off = closedIn(intervals.slice(ends));
  return {
    on: [...on].filter((name) => !off.has(name)),
    off: [...off].filter((name) => !on.has(name)),
    always: [...on].filter((name) => off.has(name)),
  };
}

/** What sets and resets the latch of a phase, and whether it is set at the start. */
interface Latch {
  readonly lines: readonly string[];
  readonly set: string;
  readonly reset: string;
  readonly initially: boolean;
}

/** What ends a pulse of a clocked phase besides its comparator. */
export interface PulseLimits {
  /** At this duty ratio at the latest. */
  readonly dutyMax?: number | undefined;
  /** A, of the inductor of the phase, cycle by cycle. */
  readonly currentLimit?: number | undefined;
  /** Inductors that are drawn by their curve. */
  readonly saturating?: ReadonlyMap<string, SaturatingInductor> | undefined;
}

/** Clock, ramp and comparator that turn a phase off, and the limits that may do so before. */
function turnedOff(
  { problem, period, comparator, duties }: ClosedLoop,
  k: number,
  phase: PhaseSchedule,
  { dutyMax = 1, currentLimit, saturating = new Map() }: PulseLimits,
): Latch {
  const id = String(k + 1);
  const delay = phase.offset * period;
  const ends = phase.intervals.find(({ begins }) => begins === 'command-end')?.start;
  const duty = duties[k % duties.length] ?? 0;
  const edge = number(EDGE * period);
  const sense = comparator.sense > 0 ? ` + ${number(comparator.sense)}*${currentName(phase.inductor, saturating)}` : '';
  const control = `${comparator.sign < 0 ? '+' : '-'} v(${comparator.nodes[k] ?? ''})`;
  const saw = (name: string, height: number): string =>
    `v${name}_${id} ${name}_${id} 0 PULSE(0 ${number(height)} ${number(delay - (delay > 0 ? period : 0))} ${number((1 - EDGE) * period)} ${edge} ${number(EDGE * EDGE * period)} ${number(period)})`;
  return {
    lines: [
      `vclk_${id} clk_${id} 0 PULSE(0 1 ${number(delay)} ${edge} ${edge} ${number(CLOCK * period)} ${number(period)})`,
      // The sawtooth is under way at the start in every phase but the first.
      saw('ramp', comparator.ramp),
      ...(dutyMax < 1 ? [saw('saw', 1)] : []),
    ],
    set: `v(clk_${id}) > 0.5`,
    reset: [
      `v(ramp_${id})${sense} ${control} > 0`,
      ...(dutyMax < 1 ? [`v(saw_${id}) > ${number(dutyMax)}`] : []),
      ...(currentLimit === undefined ? [] : [`${currentName(phase.inductor, saturating)} > ${number(currentLimit)}`]),
    ]
      .map((condition) => `(${condition})`)
      .join(' || '),
    initially: problem.phases.length > 0 && fraction(-phase.offset) < (ends ? instantAt(ends, { duty, period }) : duty),
  };
}

/** Comparator and timer of a pulse that a comparator turns on and that lasts a constant time. */
function turnedOn({ comparator, onTime = 0 }: ClosedLoop, k: number): Latch {
  const id = String(k + 1);
  const [compared, reference] = [comparator.nodes[k] ?? '', comparator.reference ?? '0'];
  const below = comparator.sign < 0 ? `v(${compared}) > v(${reference})` : `v(${compared}) < v(${reference})`;
  return {
    lines: [
      // One volt over the on-time while the latch is set, quickly back to nothing while it is not.
      `bt_${id} 0 timer_${id} I = (v(q_${id}) > 0.5) ? ${number(1 / onTime)} : ${number(-RESET / onTime)}*v(timer_${id})`,
      `ct_${id} timer_${id} 0 1 IC=0`,
    ],
    set: below,
    reset: `v(timer_${id}) > 1`,
    initially: true,
  };
}

/**
 * What drives the gates of a phase: its latch, with dead time where there is any. The reset of a clocked latch gives way to its clock,
 * the set of a timed one to its timer.
 *
 * @param deadTime s
 * @param limits of a clocked phase.
 * @returns undefined for legs that switch each in its own time.
 */
export function phaseLines(
  loop: ClosedLoop,
  k: number,
  deadTime: number,
  limits: PulseLimits = {},
): readonly string[] | undefined {
  const phase = loop.problem.phases[k];
  const devices = phase && devicesOf(phase);
  if (!devices) return undefined;
  const id = String(k + 1);
  const clocked = loop.decides === 'turn-off';
  const { lines, set, reset, initially } = clocked ? turnedOff(loop, k, phase, limits) : turnedOn(loop, k);
  const [first, second] = clocked ? [`(${set}) ? 1`, `(${reset}) ? 0`] : [`(${reset}) ? 0`, `(${set}) ? 1`];
  const dead = deadTime > 0;
  const gate = (when: string): string => (dead ? `(${when}) && (${when.replaceAll('q_', 'qd_')})` : when);
  const gates = (names: readonly string[], when: string): readonly string[] =>
    names.map((name) => `bg_${name} g_${name} 0 V = (${gate(when)}) ? 1 : 0`);
  return [
    ...lines,
    `bs_${id} s_${id} 0 V = ${first} : (${second} : ((v(q_${id}) > 0.5) ? 1 : 0))`,
    `rq_${id} s_${id} q_${id} 1`,
    `cq_${id} q_${id} 0 ${number(LATCH * loop.period)} IC=${initially ? '1' : '0'}`,
    ...(dead
      ? [
          `tq_${id} q_${id} 0 qd_${id} 0 Z0=${String(LINE)} TD=${number(deadTime)}`,
          `rt_${id} qd_${id} 0 ${String(LINE)}`,
        ]
      : []),
    ...gates(devices.on, `v(q_${id}) > 0.5`),
    ...gates(devices.off, `v(q_${id}) < 0.5`),
    ...devices.always.map((name) => `vg_${name} g_${name} 0 DC 1`),
  ];
}

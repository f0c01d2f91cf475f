import { stateLayout } from '../circuit/stateLayout.js';
import { LOOP } from '../controller/loopNames.js';
import type { ClosedLoop } from '../smallsignal/loopCircuit.js';
import { fraction, instantAt, type PhaseSchedule } from '../orbit/schedule.js';
import { elementLines, number, STEP } from './spiceNetlist.js';

/** Periods run and, of them, those that are measured. */
const PERIODS = 60;
const MEASURED = 20;
/** Edges of clock and ramp, the width of the clock and the delay of the latch, as shares of the period. */
const EDGE = 1e-4;
const CLOCK = 2e-3;
const LATCH = 2e-5;
/** Impedance of the lines that delay by the dead time, ohm. */
const LINE = 50;

/** The switches of a phase by when they are closed: while it is commanded on, off, or always. */
function devicesOf({
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

/** Clock, ramp, comparator and latch of a phase, and the gates they drive. */
function phaseLines(loop: ClosedLoop, k: number, deadTime: number): readonly string[] | undefined {
  const { problem, comparator, duties } = loop;
  const { period, phases } = problem;
  const phase = phases[k];
  const devices = phase && devicesOf(phase);
  if (!devices) return undefined;
  const id = String(k + 1);
  const delay = phase.offset * period;
  const ends = phase.intervals.find(({ begins }) => begins === 'command-end')?.start;
  const duty = duties[k % duties.length] ?? 0;
  const commanded = fraction(-phase.offset) < (ends ? instantAt(ends, { duty, period }) : duty);
  const edge = number(EDGE * period);
  const sense = comparator.sense > 0 ? ` + ${number(comparator.sense)}*i(l_${phase.inductor})` : '';
  const control = `${comparator.sign < 0 ? '+' : '-'} v(${comparator.nodes[k] ?? ''})`;
  const tripped = `v(ramp_${id})${sense} ${control} > 0`;
  const dead = deadTime > 0;
  const gate = (when: string): string => (dead ? `(${when}) && (${when.replaceAll('q_', 'qd_')})` : when);
  const gates = (names: readonly string[], when: string): readonly string[] =>
    names.map((name) => `bg_${name} g_${name} 0 V = (${gate(when)}) ? 1 : 0`);
  return [
    `vclk_${id} clk_${id} 0 PULSE(0 1 ${number(delay)} ${edge} ${edge} ${number(CLOCK * period)} ${number(period)})`,
    // The sawtooth is under way at the start in every phase but the first.
    `vramp_${id} ramp_${id} 0 PULSE(0 ${number(comparator.ramp)} ${number(delay - (delay > 0 ? period : 0))} ${number((1 - EDGE) * period)} ${edge} ${number(EDGE * EDGE * period)} ${number(period)})`,
    `bs_${id} s_${id} 0 V = (v(clk_${id}) > 0.5) ? 1 : ((${tripped}) ? 0 : ((v(q_${id}) > 0.5) ? 1 : 0))`,
    `rq_${id} s_${id} q_${id} 1`,
    `cq_${id} q_${id} 0 ${number(LATCH * period)} IC=${commanded ? '1' : '0'}`,
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

/** A sine put into the loop at the top of the divider. */
export interface Injection {
  readonly frequency: number;
  /** V */
  readonly amplitude: number;
}

/** The Fourier integrals of output and divider top over the measured time. */
function injectionLines({ frequency }: Injection, outputNode: string, period: number): readonly string[] {
  const angle = `${number(2 * Math.PI * frequency)}*time`;
  const window = `FROM=${number((PERIODS - MEASURED) * period)} TO=${number(PERIODS * period)}`;
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
 * @param injection measured at output and top of the divider by `.meas`: `out_re`, `out_im`, `top_re` and `top_im`, of which the
 *   loop gain is −out/top. Its period must go into the measured time.
 * @returns the words for why it cannot be written: constant on-time, a sampled controller, and legs that switch each in its own time.
 */
export function closedLoopNetlist(
  title: string,
  loop: ClosedLoop,
  deadTime: number,
  injection?: Injection,
): { readonly ok: true; readonly text: string } | { readonly ok: false; readonly reason: string } {
  const { problem, pass, outputNode, decides } = loop;
  if (loop.sampled) return { ok: false, reason: 'the netlist of a sampled controller is not written' };
  if (decides === 'turn-on') return { ok: false, reason: 'the netlist of constant on-time control is not written' };
  const { circuit, phases, period } = problem;
  const modulators = phases.map((_, k) => phaseLines(loop, k, deadTime));
  if (modulators.some((lines) => lines === undefined))
    return { ok: false, reason: 'the netlist of legs that switch each in its own time is not written' };
  const [start] = pass.segments;
  if (!start) return { ok: false, reason: 'the orbit has no segments' };
  const { indexOfCapacitor, indexOfInductor } = stateLayout(circuit);
  const state = (at: number | undefined): number => (at === undefined ? 0 : (start.initial[at] ?? 0));
  const lines = circuit.elements.flatMap((e) =>
    e.name === LOOP.injection && injection
      ? [`v_${e.name} ${e.a} ${e.b} SIN(0 ${number(injection.amplitude)} ${number(injection.frequency)})`]
      : elementLines(
          e,
          (name) => state(indexOfCapacitor.get(name)),
          (name) => state(indexOfInductor.get(name)),
        ),
  );
  const switched = new Set(
    phases.flatMap((phase) => {
      const devices = devicesOf(phase);
      return devices ? [...devices.on, ...devices.off, ...devices.always] : [];
    }),
  );
  const idle = circuit.elements.filter((e) => e.kind === 'switch' && !switched.has(e.name));
  const end = PERIODS * period;
  const window = `FROM=${number((PERIODS - MEASURED) * period)} TO=${number(end)}`;
  return {
    ok: true,
    text: [
      `* ${title.replace(/[\r\n]+/g, ' ')}: closed loop`,
      '* Steady state of the closed loop. Units SI. Circuit:',
      ...lines,
      ...circuit.couplings.map(
        ({ first, second, coefficient }, i) => `k_${String(i + 1)} l_${first} l_${second} ${number(coefficient)}`,
      ),
      '* Modulator:',
      ...modulators.flatMap((one) => one ?? []),
      ...idle.map(({ name }) => `vg_${name} g_${name} 0 DC 0`),
      '* Run and measure:',
      '.options method=gear',
      `.tran ${number(STEP * period)} ${number(end)} 0 ${number(STEP * period)} uic`,
      `.meas tran output_average AVG v(${outputNode}) ${window}`,
      `.meas tran control_average AVG v(${loop.controlNode}) ${window}`,
      `.meas tran output_ripple PP v(${outputNode}) FROM=${number((PERIODS - 1) * period)} TO=${number(end)}`,
      ...(injection ? injectionLines(injection, outputNode, period) : []),
      '.end',
      '',
    ].join('\n'),
  };
}

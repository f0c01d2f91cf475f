import type { PowerStage } from '../powerstage/powerStage.js';
import { dot } from '../linalg/dense.js';
import type { Inductor } from '../stage/partsSchema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { intervalSpan } from '../orbit/schedule.js';
import { elementLines } from './elementLines.js';
import { currentName, saturatingInductors } from './saturatingInductorLines.js';
import { number } from './spiceValue.js';

/** Periods the netlist runs from the steady state it starts in, and those of them its measurements look at. */
const PERIODS = 40;
const MEASURED = 10;
/** Longest time step and edge of a gate, as shares of the period: short enough that neither shows in the figures. */
export const STEP = 1 / 2000;
const EDGE = 1 / 20000;

/** A device's gate: closed from `from` to `to`, in periods from the clock of phase 1; `to` may lie in the next period. */
interface Gate {
  readonly device: string;
  readonly from: number;
  readonly to: number;
}

/** An instant so near a clock that its edge would straddle it lies on the clock: a pulse cannot begin before the run. */
const onClock = (instant: number): number =>
  Math.abs(instant - Math.round(instant)) < EDGE ? Math.round(instant) : instant;

/** When each switch is closed, neighbouring intervals joined. */
function gatesOf({ powerStage, solution }: SolvedPoint): readonly Gate[] {
  return closedSpans(powerStage, solution).map(({ device, from, to }) => ({
    device,
    from: onClock(from),
    to: onClock(to),
  }));
}

function closedSpans({ phases }: PowerStage, solution: PeriodicSolution): readonly Gate[] {
  return phases.flatMap((phase) => {
    const devices = new Set(phase.intervals.flatMap(({ closed }) => closed));
    return [...devices].map((device): Gate => {
      const spans = phase.intervals.flatMap(({ closed }, i) =>
        closed.includes(device) ? [intervalSpan(phase, i, solution)] : [],
      );
      const [first] = spans;
      const last = spans.at(-1);
      // A device closed at the end and at the start of the period is closed across its border.
      const wraps =
        spans.length > 1 &&
        first?.from === 0 &&
        last?.to === 1 &&
        spans.some((span, i) => span.from > (spans[i - 1]?.to ?? 0) + 1e-12);
      if (wraps) {
        const gap = spans.findIndex((span, i) => i > 0 && span.from > (spans[i - 1]?.to ?? 0) + 1e-12);
        return {
          device,
          from: phase.offset + (spans[gap]?.from ?? 0),
          to: phase.offset + 1 + (spans[gap - 1]?.to ?? 0),
        };
      }
      return { device, from: phase.offset + (first?.from ?? 0), to: phase.offset + (last?.to ?? 1) };
    });
  });
}

function gateLine({ device, from, to }: Gate, period: number): string {
  const name = `vg_${device} g_${device} 0`;
  if (to - from >= 1 - 1e-12) return `${name} DC 1`;
  const edge = EDGE * period;
  const width = (to - from) * period - edge;
  const delay = from - Math.floor(from);
  const wrapped = delay + (to - from) > 1 + EDGE;
  // Closed across the start: drawn as its complement, open from its end to its beginning.
  if (wrapped)
    return `${name} PULSE(1 0 ${number((delay + (to - from) - 1) * period - edge / 2)} ${number(edge)} ${number(edge)} ${number((1 - (to - from)) * period - edge)} ${number(period)})`;
  if (delay === 0) {
    // Already closed at the start; the first edge of the program's pulse would come half an edge late.
    return `${name} PULSE(1 0 ${number((to - from) * period - edge / 2)} ${number(edge)} ${number(edge)} ${number(period - width - 2 * edge)} ${number(period)})`;
  }
  return `${name} PULSE(0 1 ${number(delay * period - edge / 2)} ${number(edge)} ${number(edge)} ${number(width)} ${number(period)})`;
}

/**
 * The stage at an operating point as a plain SPICE3 netlist, open loop: switches driven by pulses at the solved duty ratio,
 * started in the periodic steady state, with measurements of what the operating point reports. Units SI.
 *
 * An inductor that saturates is drawn by its curve, from the flux on that it has at the start.
 *
 * The series inductance of a capacitor stands with a resistor beside it, so that a switch that steps its current in no time makes
 * no more of it than a real edge would (see `elementLines`).
 *
 * @param part the inductor of the stage, for its curve; without, a saturating one is drawn as the constant inductance of the same ripple.
 * @public
 */
export function spiceNetlist(title: string, solved: SolvedPoint, part?: Inductor): string {
  const { powerStage, solution, point } = solved;
  const { circuit, elements, outputNode } = powerStage;
  const { period } = solution;
  const [start] = solution.segments;
  if (!start) throw new Error('The operating point has no segments.');
  const current = (name: string): number => {
    const row = start.equations.current.get(name);
    return row ? dot(row, start.initial) : 0;
  };
  // Capacitor voltages are the first states, in the order of the circuit.
  const capacitors = circuit.elements.filter((e) => e.kind === 'capacitor').map((e) => e.name);
  const capacitorVoltage = (name: string): number => start.initial[capacitors.indexOf(name)] ?? 0;
  const smooth = point.conductionMode === 'DCM' || circuit.elements.some((e) => e.kind === 'capacitor' && e.esl > 0);
  const idle = circuit.elements
    .filter((e) => e.kind === 'switch')
    .filter((e) => !powerStage.phases.some((phase) => phase.intervals.some(({ closed }) => closed.includes(e.name))));
  const from = number((PERIODS - MEASURED) * period);
  const to = number(PERIODS * period);
  const window = `FROM=${from} TO=${to}`;
  // A ripple is read over one period: whatever is left of slow settling must not count.
  const last = `FROM=${number((PERIODS - 1) * period)} TO=${to}`;
  const saturating = saturatingInductors(solved, part, current);
  const inductor = currentName(elements.inductors[0] ?? '', saturating);
  return [
    `* ${title.replace(/[\r\n]+/g, ' ')}: ${point.inputVoltage.toPrecision(6)} V in, ${point.outputVoltage.toPrecision(6)} V out, ${point.outputCurrent.toPrecision(6)} A, duty ratio ${point.duty.toPrecision(6)}`,
    '* Steady state, open loop. Units SI. Circuit:',
    ...(solved.saturation && saturating.size === 0
      ? ['* The inductor saturates: drawn is the constant inductance with the same ripple current.']
      : []),
    ...circuit.elements.flatMap((e) => elementLines(e, capacitorVoltage, current, saturating)),
    ...circuit.couplings.map(
      ({ first, second, coefficient }, i) => `k_${String(i + 1)} l_${first} l_${second} ${number(coefficient)}`,
    ),
    '* Gates:',
    ...gatesOf(solved).map((gate) => gateLine(gate, period)),
    ...idle.map((e) => `vg_${e.name} g_${e.name} 0 DC 0`),
    '* Run and measure:',
    // Trapezoidal integration rings on a node that nothing holds, or that only inductances do.
    ...(smooth ? ['.options method=gear'] : []),
    `.tran ${number(STEP * period)} ${to} 0 ${number(STEP * period)} uic`,
    `.meas tran output_average AVG v(${outputNode}) ${window}`,
    `.meas tran output_ripple PP v(${outputNode}) ${last}`,
    `.meas tran inductor_average AVG ${inductor} ${window}`,
    `.meas tran inductor_peak MAX ${inductor} ${window}`,
    `.meas tran inductor_ripple PP ${inductor} ${last}`,
    `.meas tran inductor_rms RMS ${inductor} ${window}`,
    `.meas tran input_average AVG i(v_${elements.source}) ${window}`,
    '.end',
    '',
  ].join('\n');
}

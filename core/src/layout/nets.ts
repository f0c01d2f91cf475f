import { GROUND } from '../circuit/elements.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { extremes, rms } from '../orbit/measures.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { currentOf, nodeVoltage, type Signal } from '../orbit/signal.js';
import { elementWords, nodeWords } from '../powerstage/elementWords.js';

/** A net of the power stage, with what its copper must carry and hold off. @public */
export interface Net {
  readonly node: string;
  readonly words: string;
  /** A, rms: the most that a part draws from it, at any corner. */
  readonly current: number;
  /** The part that does. */
  readonly carrier: string;
  /** V, peak, to ground. */
  readonly toGround: number;
  /** V, peak, to the net that is furthest from it, and that net. */
  readonly apart: number;
  readonly furthest: string;
}

const difference =
  (a: string, b: string): Signal =>
  (equations) => {
    const [one, other] = [nodeVoltage(a)(equations), nodeVoltage(b)(equations)];
    return one.map((value, k) => value - (other[k] ?? 0));
  };

/** The largest voltage between two nodes over a period, V. */
function peakOf(solution: PeriodicSolution, a: string, b: string): number {
  const signal = a === GROUND ? nodeVoltage(b) : b === GROUND ? nodeVoltage(a) : difference(a, b);
  const { max, min } = extremes(solution, signal);
  return Math.max(Math.abs(max), Math.abs(min));
}

/** The largest voltage between two nodes at any of some operating points, V. */
export const peakBetween = (points: readonly { readonly solution: PeriodicSolution }[], a: string, b: string): number =>
  Math.max(0, ...points.map(({ solution }) => peakOf(solution, a, b)));

const GROUND_WORDS = 'ground';

/**
 * The nets of a stage, from the waveforms of every corner: the largest rms current of a part that hangs on each, and the largest voltages
 * between them. Ringing of the edges comes on top.
 *
 * @public
 */
export function netsOf({ corners }: EvaluatedStage): readonly Net[] {
  const nets = new Map<string, Net>();
  for (const { result } of corners) {
    if (result.kind !== 'solved') continue;
    const { solution, powerStage } = result;
    const { elements } = powerStage.circuit;
    const nodes = [...new Set(elements.flatMap(({ a, b }) => [a, b]))].filter((node) => node !== GROUND);
    const currents = elements.map(({ name, a, b }) => ({ name, a, b, current: rms(solution, currentOf(name)) }));
    for (const node of [GROUND, ...nodes]) {
      const known = nets.get(node);
      let { current = 0, carrier = '', toGround = 0, apart = 0, furthest = '' } = known ?? {};
      for (const one of currents) {
        if ((one.a !== node && one.b !== node) || one.current <= current) continue;
        current = one.current;
        carrier = elementWords(one.name).words;
      }
      if (node !== GROUND) toGround = Math.max(toGround, peakOf(solution, node, GROUND));
      for (const other of [GROUND, ...nodes]) {
        if (other === node) continue;
        const voltage = other === GROUND ? toGround : peakOf(solution, node, other);
        if (voltage <= apart) continue;
        apart = voltage;
        furthest = other === GROUND ? GROUND_WORDS : nodeWords(other);
      }
      const words = node === GROUND ? GROUND_WORDS : nodeWords(node);
      nets.set(node, { node, words, current, carrier, toGround, apart, furthest });
    }
  }
  return [...nets.values()].filter(({ current }) => current > 0);
}

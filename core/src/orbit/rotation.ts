import type { Rows } from '../circuit/rows.js';
import type { StateEquations } from '../circuit/stateEquations.js';
import { stateLayout } from '../circuit/stateLayout.js';
import type { Pass, PhaseSpan } from './alongPeriod.js';
import type { Segment } from './segment.js';
import type { PeriodicProblem } from './periodicProblem.js';

/** For each state, the state that takes its place after period/order. */
export function successors({ circuit, rotation }: PeriodicProblem): readonly number[] {
  const { indexOfCapacitor, indexOfInductor } = stateLayout(circuit);
  const out: number[] = [];
  for (const index of [indexOfCapacitor, indexOfInductor]) {
    for (const [name, at] of index) out[at] = index.get(rotation.next.get(name) ?? name) ?? at;
  }
  return out;
}

/** The rows of another phase: what is asked for by its own name is what the first phase holds by `original`. */
const renamed = (rows: Rows, original: ReadonlyMap<string, string>): Rows => ({
  get: (name) => rows.get(original.get(name) ?? name),
});

/** The solved share of a period, repeated with the phases moved on until the period is whole. */
export function expanded({ phases, rotation }: PeriodicProblem, pass: Pass, period: number): Pass {
  const segments: Segment[] = [];
  const spans: PhaseSpan[] = [];
  const move = phases.length / rotation.order;
  const before = new Map([...rotation.next].map(([name, next]) => [next, name]));
  /** Names of the first turn to those of this one, and back. */
  let names: ReadonlyMap<string, string> = new Map();
  let original: ReadonlyMap<string, string> = new Map();
  for (let turn = 0; turn < rotation.order; turn += 1) {
    const moved = new Map<StateEquations, StateEquations>();
    const turned = (equations: StateEquations): StateEquations => {
      const known = moved.get(equations);
      if (known) return known;
      const made: StateEquations = {
        ...equations,
        conducting: equations.conducting.map((name) => names.get(name) ?? name),
        voltage: renamed(equations.voltage, original),
        current: renamed(equations.current, original),
        node: renamed(equations.node, original),
      };
      moved.set(equations, made);
      return made;
    };
    for (const segment of pass.segments) {
      const equations = turn === 0 ? segment.equations : turned(segment.equations);
      segments.push({ ...segment, start: segment.start + (turn * period) / rotation.order, equations });
    }
    for (const span of pass.spans) {
      spans.push({
        ...span,
        phase: (span.phase + turn * move) % phases.length,
        segment: span.segment + turn * pass.segments.length,
      });
    }
    const following = (
      map: ReadonlyMap<string, string>,
      step: ReadonlyMap<string, string>,
    ): ReadonlyMap<string, string> =>
      new Map([...step].map(([name, next]) => [name, turn === 0 ? next : (map.get(next) ?? next)]));
    names = following(names, rotation.next);
    original = following(original, before);
  }
  return { ...pass, segments, spans };
}

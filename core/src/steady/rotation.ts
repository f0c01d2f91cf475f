import { stateLayout, type StateEquations } from '../circuit/stateEquations.js';
import type { Pass, PhaseSpan, Segment } from './alongPeriod.js';
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

/** The solved share of a period, repeated with the phases moved on until the period is whole. */
export function expanded({ period, phases, rotation }: PeriodicProblem, pass: Pass): Pass {
  const segments: Segment[] = [];
  const spans: PhaseSpan[] = [];
  const move = phases.length / rotation.order;
  let names: ReadonlyMap<string, string> = new Map();
  const renamed = <T>(rows: ReadonlyMap<string, T>): ReadonlyMap<string, T> =>
    new Map([...rows].map(([name, row]) => [names.get(name) ?? name, row]));
  for (let turn = 0; turn < rotation.order; turn += 1) {
    for (const segment of pass.segments) {
      const { equations } = segment;
      const moved: StateEquations =
        turn === 0
          ? equations
          : {
              ...equations,
              conducting: equations.conducting.map((name) => names.get(name) ?? name),
              voltage: renamed(equations.voltage),
              current: renamed(equations.current),
              node: renamed(equations.node),
            };
      segments.push({ ...segment, start: segment.start + (turn * period) / rotation.order, equations: moved });
    }
    for (const span of pass.spans) {
      spans.push({
        ...span,
        phase: (span.phase + turn * move) % phases.length,
        segment: span.segment + turn * pass.segments.length,
      });
    }
    names = new Map(
      [...rotation.next].map(([name, next]) => [
        name,
        turn === 0 ? next : (rotation.next.get(names.get(name) ?? name) ?? next),
      ]),
    );
  }
  return { ...pass, segments, spans };
}

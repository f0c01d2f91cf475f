import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { randomStages } from '../../testing/randomStages.js';
import { completeStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { points } from '../orbit/measures.js';
import { operatingPoint, type SolvedPoint } from '../steady/operatingPoint.js';
import { currentOf } from '../orbit/signal.js';
import { schematicOf, type Schematic } from './schematic.js';

/** What flows into every point of the drawing at an instant, A, and the largest current anywhere in it. */
function currentsInto(drawing: Schematic, valueOf: (element: string) => number) {
  const into = new Map<string, number>();
  let largest = 0;
  const flow = (from: readonly [number, number], to: readonly [number, number], current: number): void => {
    into.set(String(from), (into.get(String(from)) ?? 0) - current);
    into.set(String(to), (into.get(String(to)) ?? 0) + current);
    largest = Math.max(largest, Math.abs(current));
  };
  for (const { from, to, carries } of drawing.wires) {
    flow(
      from,
      to,
      carries.reduce((sum, { element, sign }) => sum + sign * valueOf(element), 0),
    );
  }
  for (const { element, from, to, reversed } of drawing.elements)
    flow(from, to, (reversed ? -1 : 1) * valueOf(element.name));
  return { into, largest };
}

/** The largest current that appears from nowhere in the drawing, as a share of the largest that flows. */
function worstImbalance({ solution, powerStage }: SolvedPoint, drawing: Schematic): number {
  const waveforms = new Map(powerStage.circuit.elements.map(({ name }) => [name, points(solution, currentOf(name))]));
  const count = waveforms.values().next().value?.time.length ?? 0;
  const outside = new Set(drawing.others.map(({ x, y }) => String([x, y])));
  let worst = 0;
  for (let k = 0; k < count; k += Math.ceil(count / 40)) {
    const { into, largest } = currentsInto(drawing, (name) => waveforms.get(name)?.value[k] ?? Number.NaN);
    for (const [point, sum] of into) if (!outside.has(point)) worst = Math.max(worst, Math.abs(sum) / largest);
  }
  return worst;
}

describe('the drawing of a stage', () => {
  test('holds every element of the phase drawn once, and Kirchhoff’s current law at every point (150 stages, seed 61)', () => {
    let drawn = 0;
    fc.assert(
      fc.property(randomStages, ({ document, condition }) => {
        const read = stageFromDocument(document);
        const complete = read.ok ? completeStage(read.value) : read;
        if (!complete.ok) return;
        const { vIn: inputVoltage, load } = condition;
        const result = operatingPoint(complete.value, { inputVoltage, load });
        if (result.kind !== 'solved') return;
        const { powerStage } = result;
        const phase = powerStage.elements.byPhase.length - 1;
        const drawing = schematicOf(powerStage, phase);
        const elsewhere = new Set(powerStage.elements.byPhase.slice(0, -1).flat());
        expect(drawing.elements.map(({ element }) => element.name).sort()).toEqual(
          powerStage.circuit.elements.flatMap(({ name }) => (elsewhere.has(name) ? [] : [name])).sort(),
        );
        expect(worstImbalance(result, drawing)).toBeLessThan(1e-6);
        drawn += 1;
      }),
      { seed: 61, numRuns: 150 },
    );
    expect(drawn).toBeGreaterThan(80);
  });

  test('no two elements lie on each other', () => {
    fc.assert(
      fc.property(randomStages, ({ document, condition }) => {
        const read = stageFromDocument(document);
        const complete = read.ok ? completeStage(read.value) : read;
        if (!complete.ok) return;
        const result = operatingPoint(complete.value, { inputVoltage: condition.vIn, load: condition.load });
        if (result.kind !== 'solved') return;
        const places = schematicOf(result.powerStage, 0).elements.map(({ from, to }) => String([from, to]));
        expect(new Set(places).size).toBe(places.length);
      }),
      { seed: 62, numRuns: 40 },
    );
  });
});

describe('windings that share a core', () => {
  const drawn = (phases: number, coupling: object, phase: number) => {
    const read = stageFromDocument({
      format: 'yundro-stage',
      version: 1,
      topology: 'buck',
      phases,
      coupling,
      switchingFrequency: 500e3,
      targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 1.8, outputCurrent: { max: 40 } },
      parts: {
        inductor: { inductance: 470e-9 },
        outputCapacitors: [{ capacitance: 1e-3 }],
        highSide: { onResistance: 1e-3 },
        lowSide: { onResistance: 1e-3 },
      },
    });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const complete = completeStage(read.value);
    if (!complete.ok) throw new Error('not complete');
    const found = operatingPoint(complete.value, { inputVoltage: 12, load: { kind: 'current', current: 40 } });
    if (found.kind !== 'solved') throw new Error(found.reason);
    return schematicOf(found.powerStage, phase).cores;
  };
  test('are told with the phases they share it with, and how they are wound', () => {
    expect(drawn(4, { kind: 'inverse', coefficient: 0.5 }, 1)).toEqual([
      { inductor: 'inductor2', phases: [4], opposed: true },
    ]);
    expect(drawn(3, { kind: 'inverse', coefficient: 0.5, core: 'all' }, 2)).toEqual([
      { inductor: 'inductor3', phases: [1, 2], opposed: true },
    ]);
    expect(drawn(2, { kind: 'direct', coefficient: 0.5 }, 0)).toEqual([
      { inductor: 'inductor1', phases: [2], opposed: false },
    ]);
    expect(drawn(2, { kind: 'none' }, 0)).toEqual([]);
  });
});

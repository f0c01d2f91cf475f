/**
 * Works random stages and prints a tally of how they ended, as JSON: `tsx core/testing/sweep.ts <seed> <stages>`. A program of
 * its own because the engine runs several times slower inside the test runner.
 */
import fc from 'fast-check';
import { dot } from '../src/linalg/dense.js';
import { problemsSentence } from '../src/stage/problemSentence.js';
import { completeStage } from '../src/stage/completeStage.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import { gridOf } from '../src/orbit/inside.js';
import { operatingPoint, type SolvedPoint } from '../src/steady/operatingPoint.js';
import { randomStages } from './randomStages.js';

export interface Tally {
  readonly solved: number;
  readonly outOfReach: number;
  /** Reasons of stages that ended without a solution or a proof that there is none, with their count. */
  readonly gaveUp: Readonly<Record<string, number>>;
  /** Stages whose numbers are wrong, each with what is wrong. */
  readonly wrong: readonly { readonly stage: number; readonly what: string; readonly document: unknown }[];
  readonly worstBalance: number;
  /** ms */
  readonly slowest: number;
}

function numbersIn(value: unknown): number[] {
  if (typeof value === 'number') return [value];
  return typeof value === 'object' && value !== null ? Object.values(value).flatMap(numbersIn) : [];
}

/** The most negative current of a conducting diode, as a share of the largest inductor current. */
function mostNegativeDiodeCurrent({ powerStage, solution }: SolvedPoint): number {
  const diodes = powerStage.circuit.elements.filter((e) => e.kind === 'diode').map((e) => e.name);
  let scale = 0;
  let lowest = 0;
  for (const segment of solution.segments) {
    const { current, conducting } = segment.equations;
    const inductor = current.get(powerStage.elements.inductors[0] ?? '') ?? new Float64Array();
    const rows = diodes.filter((name) => conducting.includes(name)).flatMap((name) => current.get(name) ?? []);
    for (const state of gridOf(segment).states) {
      scale = Math.max(scale, Math.abs(dot(inductor, state)));
      for (const row of rows) lowest = Math.min(lowest, dot(row, state));
    }
  }
  return lowest / scale;
}

function swept(seed: number, numRuns: number): Tally {
  let solved = 0;
  let outOfReach = 0;
  let worstBalance = 0;
  let slowest = 0;
  const gaveUp: Record<string, number> = {};
  const wrong: Tally['wrong'][number][] = [];
  fc.sample(randomStages, { seed, numRuns }).forEach(({ document, condition }, stage) => {
    const object = (what: string): void => void wrong.push({ stage, what, document });
    const read = stageFromDocument(document);
    const complete = read.ok ? completeStage(read.value) : read;
    if (!read.ok || !complete.ok) {
      object(complete.ok ? 'not read' : problemsSentence(complete.problems));
      return;
    }
    const before = performance.now();
    const found = operatingPoint(complete.value, { inputVoltage: condition.vIn, load: condition.load });
    slowest = Math.max(slowest, performance.now() - before);
    if (found.kind === 'unsolved') {
      if (found.reason === '') object('no reason is given');
      else if (found.why !== 'not-converged') outOfReach += 1;
      else gaveUp[found.reason] = (gaveUp[found.reason] ?? 0) + 1;
      return;
    }
    solved += 1;
    const { point, solution } = found;
    const balance = Math.abs((point.outputPower + (point.losses['total'] ?? NaN)) / point.inputPower - 1);
    worstBalance = Math.max(worstBalance, balance);
    if (numbersIn(point).some((number) => !Number.isFinite(number))) object('a number is not finite');
    if (!(balance < 1e-3)) object(`the powers differ by ${String(balance)}`);
    if (!(Math.abs(point.outputVoltage / read.value.targets.outputVoltage - 1) < 1e-6)) object('the output is missed');
    if (solution.iterations > 3000) object('too many iterations');
    if (mostNegativeDiodeCurrent(found) < -1e-4) object('a diode carries a reverse current');
  });
  return { solved, outOfReach, gaveUp, wrong, worstBalance, slowest };
}

process.stdout.write(JSON.stringify(swept(Number(process.argv[2]), Number(process.argv[3]))));

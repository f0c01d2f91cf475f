import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { completeStage, operatingPoint, spiceNetlist } from '@yundro/core';
import { demoStage, variant } from './stages.js';
import { timed } from './timing.js';

export interface Comparison {
  readonly stage: string;
  /** ms */
  readonly engine: number;
  readonly spice: number;
  /** Largest difference of output average and inductor peak. */
  readonly apart: number;
}

/**
 * One operating point by the engine, from nothing, and by ngspice on the exported netlist of the same point. The netlist even
 * starts in the steady state, so that ngspice need not wait for the output to settle.
 */
export function besideSpice(name: string, inputVoltage: number, current: number): Comparison {
  const stage = demoStage(name);
  const solve = (run: number) => {
    const complete = completeStage(variant(stage, run));
    if (!complete.ok) throw new Error('The stage is not complete.');
    const found = operatingPoint(complete.value, { inputVoltage, load: { kind: 'current', current } });
    if (found.kind !== 'solved') throw new Error(found.reason);
    return found;
  };
  const engine = timed((run) => void solve(run), 60).median;
  const solved = solve(0);
  const folder = mkdtempSync(join(tmpdir(), 'yundro-bench-'));
  const file = join(folder, 'stage.cir');
  writeFileSync(file, spiceNetlist(name, solved));
  const before = performance.now();
  const out = execFileSync('ngspice', ['-b', file], {
    encoding: 'utf8',
    maxBuffer: 1e8,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const spice = performance.now() - before;
  rmSync(folder, { recursive: true, force: true });
  const measured = (key: string): number => Number(new RegExp(`${key}\\s*=\\s*(\\S+)`).exec(out)?.[1]);
  const apart = Math.max(
    Math.abs(measured('output_average') / solved.point.outputVoltage - 1),
    Math.abs(measured('inductor_peak') / solved.point.inductorCurrent.peak - 1),
  );
  return { stage: name, engine, spice, apart };
}

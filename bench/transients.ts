import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  closedLoopNetlist,
  closeLoop,
  completeStage,
  judgeTransient,
  loadStep,
  operatingPoint,
  simulate,
  type CompleteStage,
  type Stage,
} from '@yundro/core';
import { demoStage, variant } from './stages.js';
import { timed, type Timing } from './timing.js';

/** Clock periods of a run. */
export const CYCLES = 5000;
/** Periods that the closed-loop netlist runs: those it settles in and those it measures. */
const SPICE_PERIODS = 60;

const completed = (stage: Stage): CompleteStage => {
  const complete = completeStage(stage);
  if (!complete.ok) throw new Error('The stage is not complete.');
  return complete.value;
};

const runOf = (complete: CompleteStage, current: number, cycles: number) => {
  const condition = {
    inputVoltage: complete.stage.targets.inputVoltage.max,
    load: { kind: 'current', current },
  } as const;
  const result = simulate(complete, condition, loadStep(0.1 * current, undefined, cycles));
  if (result.kind === 'failed') throw new Error(result.reason);
  return result;
};

/** A stage with the inductance at no current: what saturates is followed at ten times the cost. */
function withoutCurve(stage: Stage): Stage {
  const { inductor } = stage.parts;
  if (!inductor) throw new Error('The stage has no inductor.');
  const { inductance, resistance } = inductor;
  return { ...stage, parts: { ...stage.parts, inductor: { inductance, resistance } } };
}

/** A load step over 5,000 periods, closed loop, waveforms and energies recorded; the stage is another each time. */
export function longRun(name: string, runs: number): Timing {
  const stage = withoutCurve(demoStage(name));
  const { min, max } = stage.targets.outputCurrent;
  return timed((run) => void runOf(completed(variant(stage, run)), (min + max) / 2, CYCLES), runs, 2);
}

/** The load step of the targets judged at every corner. */
export function transientVerdicts(name: string, runs: number): Timing {
  const stage = demoStage(name);
  return timed(
    (run) => {
      if (judgeTransient(completed(variant(stage, run))).verdicts.length === 0) throw new Error('Nothing is judged.');
    },
    runs,
    3,
  );
}

/** Closed-loop periods a second by the simulator and by ngspice on the netlist of the same stage at the same point. */
export function besideSpiceInTime(name: string): { readonly simulator: number; readonly spice: number } {
  const complete = completed(withoutCurve(demoStage(name)));
  const { inputVoltage, outputCurrent } = complete.stage.targets;
  const condition = { inputVoltage: inputVoltage.max, load: { kind: 'current', current: outputCurrent.max } } as const;
  const solved = operatingPoint(complete, condition);
  if (solved.kind !== 'solved') throw new Error(solved.reason);
  const closed = closeLoop(complete, condition, solved);
  if (closed.kind !== 'closed') throw new Error(closed.reason);
  const netlist = closedLoopNetlist(name, closed.loop, complete.stage.deadTime);
  if (!netlist.ok) throw new Error(netlist.reason);
  const folder = mkdtempSync(join(tmpdir(), 'yundro-bench-'));
  const file = join(folder, 'stage.cir');
  writeFileSync(file, netlist.text);
  const before = performance.now();
  execFileSync('ngspice', ['-b', file], { maxBuffer: 1e8, stdio: ['ignore', 'pipe', 'pipe'] });
  const spice = SPICE_PERIODS / ((performance.now() - before) / 1000);
  rmSync(folder, { recursive: true, force: true });
  const own = longRun(name, 5).median / 1000;
  return { simulator: CYCLES / own, spice };
}

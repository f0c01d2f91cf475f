import {
  completeStage,
  evaluateStage,
  operatingPoint,
  operatingPointIn,
  selectSwitches,
  typicalMosfet,
  type ProfilePoint,
} from '@yundro/core';
import { demoStage, variant } from './stages.js';
import { timed, type Timing } from './timing.js';

/** Steady state of a single-phase stage at full load, every figure measured, from a cold start. */
export function singlePoint(): Timing {
  const stage = demoStage('Hull bus');
  return timed((run) => {
    const complete = completeStage(variant(stage, run));
    if (!complete.ok) throw new Error('The stage is not complete.');
    const found = operatingPoint(complete.value, { inputVoltage: 25.6, load: { kind: 'current', current: 8 } });
    if (found.kind !== 'solved') throw new Error(found.reason);
  }, 400);
}

/** The corner set, 3 inputs × 5 loads, with every verdict. */
export function cornerSet(name: string, runs: number): Timing {
  const stage = demoStage(name);
  return timed((run) => {
    const evaluated = evaluateStage(variant(stage, run));
    if (!evaluated.ok) throw new Error('The stage is not complete.');
    if (evaluated.value.corners.some(({ result }) => result.kind !== 'solved'))
      throw new Error('A corner is unsolved.');
  }, runs);
}

/** Loads of the profile that switches are ranked by, and parts ranked. */
const PROFILE_LOADS = 12;
const RANKED = 500;

/** Ranking 500 MOSFETs for both positions of a single-phase stage over 12 loads, solving the loads included. */
export function switchRanking(): Timing {
  const stage = demoStage('Hull bus');
  const evaluated = evaluateStage(stage);
  if (!evaluated.ok) throw new Error('The stage is not complete.');
  const { complete } = evaluated.value;
  const library = Array.from({ length: RANKED }, (_, i) => ({
    name: `M${String(i)}`,
    ...typicalMosfet([40, 60, 80, 100, 150][i % 5] ?? 40, 2e-3 * 1.01 ** i),
  }));
  return timed(() => {
    const profile = Array.from({ length: PROFILE_LOADS }, (_, i): ProfilePoint => {
      const load = { kind: 'current' as const, current: (8 * (i + 1)) / PROFILE_LOADS };
      const solved = operatingPointIn('forced-pwm', complete, { inputVoltage: 25.6, load });
      if (solved.kind !== 'solved') throw new Error(solved.reason);
      return { solved, hours: 1 };
    });
    for (const place of ['highSide', 'lowSide'] as const)
      if (!selectSwitches(evaluated.value, place, library, profile)[0]?.fits) throw new Error('No part fits.');
  }, 10);
}

import {
  completeStage,
  evaluateStage,
  loopFrequencies,
  loopGain,
  operatingPoint,
  operatingPointIn,
  planGround,
  proposePlan,
  selectSwitches,
  sizeLoop,
  sizeStage,
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

/** Frequencies of a whole loop response. */
const LOOP_FREQUENCIES = 400;

/** The exact loop of one corner with a compensator as proposed: orbit closed, taken apart, and 400 frequencies of its loop gain. */
export function loopResponse(): Timing {
  const sized = sizeStage(demoStage('Hull bus'));
  if (!sized.ok) throw new Error('The stage is not sized.');
  const { stage } = sizeLoop(sized.value).evaluation;
  const condition = { inputVoltage: 25.6, load: { kind: 'current' as const, current: 8 } };
  // The operating point is at hand, as it is on the screen.
  const cases = Array.from({ length: 40 }, (_, run) => {
    const complete = completeStage(variant(stage, run));
    if (!complete.ok) throw new Error('The stage is not complete.');
    const solved = operatingPoint(complete.value, condition);
    if (solved.kind !== 'solved') throw new Error(solved.reason);
    return {
      complete: complete.value,
      solved,
      frequencies: loopFrequencies(1 / solved.solution.period, LOOP_FREQUENCIES),
    };
  });
  return timed((run) => {
    const one = cases[Math.abs(run) % cases.length];
    const loop = one && loopGain(one.complete, condition, one.solved);
    if (!loop || typeof loop === 'string') throw new Error('There is no loop.');
    for (const frequency of one.frequencies) loop(frequency);
  }, 40);
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

/** A floor plan proposed, its ground at hand. */
export function floorPlan(): Timing {
  const evaluated = evaluateStage(demoStage('Hull bus'));
  const ground = evaluated.ok ? planGround(evaluated.value) : undefined;
  if (!ground) throw new Error('There is nothing to lay out.');
  return timed(() => {
    if (Object.keys(proposePlan(ground)).length !== ground.outlines.length) throw new Error('A part has no place.');
  }, 20);
}

import { operatingPointIn } from '../modes/operatingMode.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import type { Corner } from './corners.js';
import { answeringValues } from './designValues.js';
import type { EvaluatedStage } from './evaluate.js';
import { loopCorners } from './loopCorners.js';
import { loopRules, type JudgedLoop } from './loopVerdicts.js';
import {
  lineInFull,
  lineWithoutDrivers,
  MarginProbe,
  withFactors,
  type LedgerLine,
  type MarginsOf,
  type Probed,
} from './marginProbe.js';
import { marginOf } from './targetRules.js';

/** Relative step of the central difference: a crossover is refined to far less. */
const STEP = 1e-3;

/** Margins of the loop at one corner, its orbit solved anew. */
const loopMarginsAt =
  (stage: Stage, corner: Corner, { corners }: JudgedLoop): MarginsOf =>
  (factors) => {
    const found = new Map<string, Probed>();
    const complete = completeStage(withFactors(stage, factors));
    if (!complete.ok) return found;
    const { inputVoltage, outputCurrent, temperature: ambient } = corner;
    const condition = { inputVoltage, ambient, load: { kind: 'current' as const, current: outputCurrent } };
    const result = operatingPointIn(stage.operatingMode, complete.value, condition, {});
    const [closed] = loopCorners({ complete: complete.value, corners: [{ corner, result }] });
    if (closed?.loop.kind !== 'solved') return found;
    const { loop } = closed;
    for (const { rule, actual } of loopRules(stage, corners)) {
      const value = actual(loop);
      if (typeof value === 'number') found.set(rule.target, { margin: marginOf(rule, value), actual: value });
    }
    return found;
  };

/**
 * The lines of the loop in full: what drives each margin at its worst corner, each driver with the value at which the margin is gone.
 * Parts at their stated values: how the loop spreads over its tolerances is a study of its own (tolerance/).
 *
 * @public
 */
export function loopLedger({ evaluation }: EvaluatedStage, judged: JudgedLoop): readonly LedgerLine[] {
  const { stage } = evaluation;
  const values = answeringValues(stage);
  const probes = new Map<Corner, MarginProbe>();
  return judged.verdicts.map((verdict): LedgerLine => {
    if (verdict.margin === null) return lineWithoutDrivers(verdict);
    const probe = probes.get(verdict.corner) ?? new MarginProbe(loopMarginsAt(stage, verdict.corner, judged), STEP);
    probes.set(verdict.corner, probe);
    return lineInFull(verdict, probe, values, []);
  });
}

import { operatingPointIn } from '../modes/operatingMode.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import type { Corner } from './corners.js';
import { designValues, isRating, spreadsOf } from './designValues.js';
import type { EvaluatedStage } from './evaluate.js';
import {
  lineInFull,
  lineWithoutDrivers,
  MarginProbe,
  withFactors,
  type LedgerLine,
  type MarginsOf,
  type Probed,
} from './marginProbe.js';
import { marginOf, targetRules } from './targetRules.js';

/** Relative step of the central difference. */
const STEP = 1e-3;

/** Margins in the steady state of one corner. */
const steadyMargins =
  (stage: Stage, corner: Corner, near: SolvedPoint): MarginsOf =>
  (factors) => {
    const found = new Map<string, Probed>();
    const copy = withFactors(stage, factors);
    const complete = completeStage(copy);
    if (!complete.ok) return found;
    const { inputVoltage, outputCurrent, temperature } = corner;
    const condition = {
      inputVoltage,
      ambient: temperature,
      load: { kind: 'current' as const, current: outputCurrent },
    };
    const result = factors.every(({ value }) => isRating(value))
      ? near
      : operatingPointIn(copy.operatingMode, complete.value, condition, { near: { point: near } });
    if (result.kind !== 'solved') return found;
    for (const rule of targetRules(complete.value)) {
      const actual = rule.actual(result.point, corner);
      if (typeof actual === 'number') found.set(rule.target, { margin: marginOf(rule, actual), actual });
    }
    return found;
  };

/**
 * The ledger in full: each verdict worked again with every toleranced part at the end of its spread that is worst for it
 * (by the sign of its sensitivity, then solved exactly), and the three design values that drive its margin, each with the
 * value that would bring the margin to zero. Sensitivities are taken at the verdict's worst corner, parts at their stated
 * values.
 *
 * @public
 */
export function ledgerOf({ evaluation, corners }: EvaluatedStage): LedgerLine[] {
  const { stage, verdicts } = evaluation;
  const values = designValues(stage);
  const spreads = spreadsOf(stage);
  const probes = new Map<Corner, MarginProbe>();
  const probeAt = (corner: Corner): MarginProbe | undefined => {
    const known = probes.get(corner);
    if (known) return known;
    const result = corners.find((one) => one.corner === corner)?.result;
    if (result?.kind !== 'solved') return undefined;
    // `near` is the solved point of the stage as it is.
    const probe = new MarginProbe(steadyMargins(stage, corner, result), STEP);
    probes.set(corner, probe);
    return probe;
  };
  return verdicts.map((verdict): LedgerLine => {
    const probe = probeAt(verdict.corner);
    return probe ? lineInFull(verdict, probe, values, spreads) : lineWithoutDrivers(verdict);
  });
}

import { completeStage } from '../stage/completeStage.js';
import { pathText, withValue, type StagePath } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';
import { operatingPointIn } from '../modes/operatingMode.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import type { Corner } from './corners.js';
import { designValues, isRating, spreadsOf, type DesignValue } from './designValues.js';
import type { EvaluatedStage } from './evaluate.js';
import { marginOf, targetRules } from './targetRules.js';
import type { Verdict } from './verdict.js';

/** A verdict with what drives it, worked with every part at the end of its spread that is worst for it. @public */
export type LedgerLine = Verdict & { readonly [K in 'nominal' | 'moved' | 'drivers']: NonNullable<Verdict[K]> };

/** Relative step of the central difference: its error is of the order of its square. */
const STEP = 1e-3;
const DRIVERS = 3;
/** A value is looked for within this factor up and down. */
const REACH = 10;
const MOST_STEPS = 12;
const ZERO_SETTLED = 1e-6;
/** A sensitivity this small is none. */
const NONE = 1e-6;

/** One condition of one stage: works margins of perturbed copies of it, each copy solved once. */
class Probe {
  private readonly solvedCopies = new Map<string, ReadonlyMap<string, { margin: number; actual: number }>>();

  constructor(
    private readonly stage: Stage,
    private readonly corner: Corner,
    private readonly near: SolvedPoint,
  ) {}

  /** Margins and figures by target, with some values multiplied; empty where there is no operating point. */
  private margins(factors: readonly { readonly value: DesignValue; readonly factor: number }[]) {
    const key = factors.map(({ value, factor }) => `${pathText(value.path)}*${String(factor)}`).join(' ');
    const known = this.solvedCopies.get(key);
    if (known) return known;
    const found = new Map<string, { margin: number; actual: number }>();
    const copy = factors.reduce<unknown>(
      (doc, { value, factor }) => withValue(doc, value.path, value.value * factor),
      this.stage,
    ) as Stage;
    const complete = completeStage(copy);
    if (complete.ok) {
      const { inputVoltage, outputCurrent, temperature } = this.corner;
      const condition = {
        inputVoltage,
        ambient: temperature,
        load: { kind: 'current' as const, current: outputCurrent },
      };
      const result = factors.every(({ value }) => isRating(value))
        ? this.near
        : operatingPointIn(copy.operatingMode, complete.value, condition, { near: { point: this.near } });
      if (result.kind === 'solved') {
        for (const rule of targetRules(complete.value)) {
          const actual = rule.actual(result.point, this.corner);
          if (typeof actual === 'number') found.set(rule.target, { margin: marginOf(rule, actual), actual });
        }
      }
    }
    this.solvedCopies.set(key, found);
    return found;
  }

  at(target: string, factors: readonly { readonly value: DesignValue; readonly factor: number }[]) {
    return this.margins(factors).get(target);
  }

  /** dm / (dv/v) of a target's margin, by a central difference; undefined at the edge of what can be worked. */
  sensitivity(target: string, value: DesignValue): number | undefined {
    const up = this.at(target, [{ value, factor: 1 + STEP }]);
    const down = this.at(target, [{ value, factor: 1 - STEP }]);
    return up && down ? (up.margin - down.margin) / (2 * STEP) : undefined;
  }

  /** The value at which a margin is zero: Newton's method with secants in the logarithm of the value. */
  zeroAt(target: string, value: DesignValue, margin: number, sensitivity: number): number | null {
    let earlier = { log: 0, margin };
    let log = clampLog(-margin / sensitivity);
    for (let step = 0; step < MOST_STEPS; step += 1) {
      const found = this.at(target, [{ value, factor: Math.exp(log) }]);
      if (!found) return null;
      const slope = (found.margin - earlier.margin) / (log - earlier.log);
      const next = clampLog(log - found.margin / slope);
      if (!Number.isFinite(next)) return null;
      if (Math.abs(next - log) < ZERO_SETTLED)
        return Math.abs(next) < Math.log(REACH) ? value.value * Math.exp(next) : null;
      earlier = { log, margin: found.margin };
      log = next;
    }
    return null;
  }
}

const clampLog = (log: number): number => Math.min(Math.log(REACH), Math.max(-Math.log(REACH), log));

const samePath = (a: StagePath, b: StagePath): boolean => pathText(a) === pathText(b);

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
  const probes = new Map<Corner, Probe>();
  const probeAt = (corner: Corner): Probe | undefined => {
    const known = probes.get(corner);
    if (known) return known;
    const result = corners.find((one) => one.corner === corner)?.result;
    if (result?.kind !== 'solved') return undefined;
    const probe = new Probe(stage, corner, result);
    probes.set(corner, probe);
    return probe;
  };
  return verdicts.map((verdict): LedgerLine => {
    const nominal = { worst: verdict.worst, margin: verdict.margin };
    const probe = probeAt(verdict.corner);
    const { margin, target } = verdict;
    if (!probe || margin === null) return { ...verdict, nominal, moved: [], drivers: [] };
    const felt = values.flatMap((value) => {
      const sensitivity = probe.sensitivity(target, value);
      return sensitivity !== undefined && Math.abs(sensitivity) > NONE ? [{ value, sensitivity }] : [];
    });
    const drivers = [...felt]
      .sort((a, b) => Math.abs(b.sensitivity) - Math.abs(a.sensitivity))
      .slice(0, DRIVERS)
      .map(({ value, sensitivity }) => ({
        path: pathText(value.path),
        quantity: value.quantity,
        unit: value.unit,
        value: value.value,
        sensitivity,
        zeroAt: probe.zeroAt(target, value, margin, sensitivity),
      }));
    const moved = spreads.flatMap(({ path, low, high, because }) => {
      const one = felt.find(({ value }) => samePath(value.path, path));
      if (!one) return [];
      const factor = one.sensitivity > 0 ? low : high;
      // A spread to one side only (copper that is always warmer, say) may lie wholly on the good side of the stated value.
      return [{ value: one.value, factor, because }];
    });
    const limits = moved.length > 0 ? probe.at(target, moved) : undefined;
    const worse: Partial<Verdict> =
      limits && limits.margin < margin ? { worst: limits.actual, margin: limits.margin, pass: limits.margin >= 0 } : {};
    const shown = limits && limits.margin < margin ? moved : [];
    return {
      ...verdict,
      ...worse,
      nominal,
      moved: shown.map(({ value, factor, because }) => ({
        path: pathText(value.path),
        quantity: value.quantity,
        factor,
        because,
      })),
      drivers,
    };
  });
}

import { pathText, withValue, type StagePath } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';
import type { DesignValue, Spread } from './designValues.js';
import type { Verdict } from './verdict.js';

/** A verdict with what drives it, worked with every part at the end of its spread that is worst for it. @public */
export type LedgerLine = Verdict & { readonly [K in 'nominal' | 'moved' | 'drivers']: NonNullable<Verdict[K]> };

/** A design value multiplied. */
export interface Factor {
  readonly value: DesignValue;
  readonly factor: number;
}

/** A margin with the figure it is of. */
export interface Probed {
  readonly margin: number;
  readonly actual: number;
}

/** Margins by target of a design with some values multiplied; empty where it cannot be worked. */
export type MarginsOf = (factors: readonly Factor[]) => ReadonlyMap<string, Probed>;

const DRIVERS = 3;
/** A value is looked for within this factor up and down. */
const REACH = 10;
const MOST_STEPS = 12;
const ZERO_SETTLED = 1e-6;
/** A sensitivity this small is none. */
const NONE = 1e-6;

/** A stage with some of its values multiplied. */
export const withFactors = (stage: Stage, factors: readonly Factor[]): Stage =>
  factors.reduce<unknown>((doc, { value, factor }) => withValue(doc, value.path, value.value * factor), stage) as Stage;

/** Works margins of perturbed copies of one design at one condition, each copy worked once. */
export class MarginProbe {
  private readonly worked = new Map<string, ReadonlyMap<string, Probed>>();

  /** @param step relative, of the central difference: its error is of the order of its square. */
  constructor(
    private readonly marginsOf: MarginsOf,
    private readonly step: number,
  ) {}

  at(target: string, factors: readonly Factor[]): Probed | undefined {
    const key = factors.map(({ value, factor }) => `${pathText(value.path)}*${String(factor)}`).join(' ');
    const found = this.worked.get(key) ?? this.marginsOf(factors);
    this.worked.set(key, found);
    return found.get(target);
  }

  /** dm / (dv/v) of a target's margin, by a central difference; undefined at the edge of what can be worked. */
  sensitivity(target: string, value: DesignValue): number | undefined {
    const up = this.at(target, [{ value, factor: 1 + this.step }]);
    const down = this.at(target, [{ value, factor: 1 - this.step }]);
    return up && down ? (up.margin - down.margin) / (2 * this.step) : undefined;
  }

  /**
   * The value at which a margin is zero: Newton's method with secants in the logarithm of the value.
   *
   * @param settled relative change of the value that is none.
   */
  zeroAt(target: string, value: DesignValue, margin: number, sensitivity: number, settled: number): number | null {
    let earlier = { log: 0, margin };
    let log = clampLog(-margin / sensitivity);
    for (let step = 0; step < MOST_STEPS; step += 1) {
      const found = this.at(target, [{ value, factor: Math.exp(log) }]);
      if (!found) return null;
      const slope = (found.margin - earlier.margin) / (log - earlier.log);
      const next = clampLog(log - found.margin / slope);
      if (!Number.isFinite(next)) return null;
      if (Math.abs(next - log) < settled) return Math.abs(next) < Math.log(REACH) ? value.value * Math.exp(next) : null;
      earlier = { log, margin: found.margin };
      log = next;
    }
    return null;
  }
}

const clampLog = (log: number): number => Math.min(Math.log(REACH), Math.max(-Math.log(REACH), log));

const samePath = (a: StagePath, b: StagePath): boolean => pathText(a) === pathText(b);

/** A verdict as a line in full where nothing can be said of what drives it. */
export const lineWithoutDrivers = (verdict: Verdict): LedgerLine => ({
  ...verdict,
  nominal: { worst: verdict.worst, margin: verdict.margin },
  moved: [],
  drivers: [],
});

/**
 * A verdict in full: worked again with every toleranced part at the end of its spread that is worst for it, by the sign of its
 * sensitivity, then exactly; and the three design values that drive its margin, each with the value that would bring it to zero.
 */
export function lineInFull(
  verdict: Verdict,
  probe: MarginProbe,
  values: readonly DesignValue[],
  spreads: readonly Spread[],
  settled = ZERO_SETTLED,
): LedgerLine {
  const { margin, target } = verdict;
  if (margin === null) return lineWithoutDrivers(verdict);
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
      zeroAt: probe.zeroAt(target, value, margin, sensitivity, settled),
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
    nominal: { worst: verdict.worst, margin },
    moved: shown.map(({ value, factor, because }) => ({
      path: pathText(value.path),
      quantity: value.quantity,
      factor,
      because,
    })),
    drivers,
  };
}

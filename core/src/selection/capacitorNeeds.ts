import { converterOf } from '../powerstage/converter.js';
import type { Stage } from '../stage/schema.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { pulsedCapacitance, pulsedOutputCapacitance, triangleCapacitance } from '../firstcut/boostForms.js';
import { eslSpike, eslStep } from '../firstcut/eslForms.js';
import { loadStepNeeds, type CapacitorNeed } from '../rules/loadStepNeeds.js';
import { EDGE_TIME, INPUT_RIPPLE_SHARE, OUTPUT_RIPPLE_SHARE } from '../rules/rules.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';

/** What the banks of one side of a stage have to do. @public */
export interface CapacitorNeeds {
  /** DC voltage across them, V, and the highest with ripple. */
  readonly bias: number;
  readonly maxVoltage: number;
  /** Ripple allowed, V peak to peak. */
  readonly ripple: number;
  /** Highest RMS current of all banks together over the corners, A. */
  readonly rms: number;
  /** ESR at which the resistive ripple alone reaches the limit, ohm. */
  readonly esrMax: number;
  readonly needs: readonly CapacitorNeed[];
  /** What the series inductance of the present banks makes of the edges; undefined where they have none. */
  readonly edges: AppliedForm | undefined;
  /** The largest of the needs, F, and the one of the ripple alone. */
  readonly capacitance: number;
  readonly rippleCapacitance: number;
}

const solvedOf = ({ corners }: EvaluatedStage): readonly SolvedPoint[] =>
  corners.flatMap(({ result }) => (result.kind === 'solved' ? [result] : []));

/** Whether an inductor stands in the way of the current into the output, or out of the input: then only its ripple flows in the capacitors. */
const isSmoothOutput = ({ point }: SolvedPoint, stage: Stage): boolean => converterOf(stage, point) === 'buck';
const isSmoothInput = ({ point }: SolvedPoint, stage: Stage): boolean => converterOf(stage, point) === 'boost';

const sideOf = (side: Omit<CapacitorNeeds, 'capacitance' | 'rippleCapacitance'>): CapacitorNeeds => ({
  ...side,
  capacitance: Math.max(0, ...side.needs.map(({ form }) => form.value)),
  rippleCapacitance: Math.max(0, ...side.needs.flatMap(({ kind, form }) => (kind === 'ripple' ? [form.value] : []))),
});

/**
 * The voltage across the series inductance of banks at the switching edges: a step where the current only turns, a spike where
 * a switch steps it. Banks without series inductance take the edges alone.
 */
function edgesOf(
  banks: readonly CapacitorBank[],
  current: { readonly stepped: number } | { readonly driving: number; readonly inductance: number },
): AppliedForm | undefined {
  if (banks.length === 0 || banks.some(({ esl }) => esl === 0)) return undefined;
  const esl = 1 / banks.reduce((sum, bank) => sum + bank.count / bank.esl, 0);
  return 'stepped' in current
    ? applied(eslSpike, { esl, current: current.stepped, time: EDGE_TIME })
    : applied(eslStep, { esl, driving: current.driving, inductance: current.inductance });
}

const worst = <T>(of: readonly T[], by: (one: T) => number): T | undefined =>
  of.reduce<T | undefined>((best, one) => (best === undefined || by(one) > by(best) ? one : best), undefined);

/** What the output capacitors of a worked stage must do: ripple, and the load step where the targets state one. @public */
export function outputCapacitorNeeds(evaluated: EvaluatedStage): CapacitorNeeds {
  const { complete } = evaluated;
  const { stage, switchingFrequency: fSw, inductor } = complete;
  const { targets, phases } = stage;
  const points = solvedOf(evaluated);
  const vOut = Math.abs(targets.outputVoltage);
  const ripple = targets.outputRipple ?? OUTPUT_RIPPLE_SHARE * vOut;
  const full = targets.outputCurrent.max;
  const needs: CapacitorNeed[] = [];
  const smooth = worst(
    points.filter((one) => isSmoothOutput(one, stage)),
    ({ point }) => point.totalInductorRipple,
  );
  if (smooth)
    needs.push({
      kind: 'ripple',
      why: 'output ripple',
      form: applied(triangleCapacitance, {
        ripple: smooth.point.totalInductorRipple,
        fSw: fSw * phases,
        limit: ripple,
      }),
    });
  const pulsed = worst(
    points.filter((one) => !isSmoothOutput(one, stage)),
    ({ point }) => point.duty * point.outputCurrent,
  );
  if (pulsed)
    needs.push({
      kind: 'ripple',
      why: 'output ripple: the capacitors alone feed the load in the on-time',
      form: applied(pulsedOutputCapacitance, {
        loadCurrent: pulsed.point.outputCurrent,
        duty: pulsed.point.duty,
        fSw,
        outputRipple: ripple,
      }),
    });
  needs.push(...loadStepNeeds(stage, inductor.inductance, fSw));
  const swing = Math.max(
    ...points.map((one) =>
      isSmoothOutput(one, stage) ? one.point.totalInductorRipple : one.point.inductorCurrent.peak * phases,
    ),
  );
  return sideOf({
    bias: vOut,
    maxVoltage: vOut + ripple / 2,
    ripple,
    rms: Math.max(...points.map(({ point }) => point.outputCapacitorRms)),
    esrMax: ripple / Math.max(swing, full * 1e-6),
    needs,
    edges: edgesOf(
      complete.outputCapacitors,
      pulsed
        ? { stepped: Math.max(...points.map(({ point }) => point.inductorCurrent.peak)) }
        : { driving: targets.inputVoltage.max, inductance: inductor.inductance },
    ),
  });
}

/** What the input capacitors of a worked stage must do. @public */
export function inputCapacitorNeeds(evaluated: EvaluatedStage): CapacitorNeeds {
  const { complete } = evaluated;
  const { stage, switchingFrequency: fSw, inductor } = complete;
  const { targets, phases } = stage;
  const vOut = Math.abs(targets.outputVoltage);
  const points = solvedOf(evaluated);
  const ripple = targets.inputRipple ?? INPUT_RIPPLE_SHARE * targets.inputVoltage.min;
  const needs: CapacitorNeed[] = [];
  const pulse = ({ point }: SolvedPoint): number => point.inductorCurrent.average * (1 - point.duty) * point.duty;
  const pulsed = worst(
    points.filter((one) => !isSmoothInput(one, stage)),
    pulse,
  );
  if (pulsed)
    needs.push({
      kind: 'ripple',
      why: 'input ripple: one pulse of a phase',
      form: applied(pulsedCapacitance, {
        pulse: pulsed.point.inductorCurrent.average,
        duty: pulsed.point.duty,
        fSw,
        limit: ripple,
      }),
    });
  const smooth = worst(
    points.filter((one) => isSmoothInput(one, stage)),
    ({ point }) => point.totalInductorRipple,
  );
  if (smooth)
    needs.push({
      kind: 'ripple',
      why: 'input ripple',
      form: applied(triangleCapacitance, {
        ripple: smooth.point.totalInductorRipple,
        fSw: fSw * phases,
        limit: ripple,
      }),
    });
  const swing = Math.max(
    ...points.map((one) =>
      isSmoothInput(one, stage) ? one.point.totalInductorRipple : one.point.inductorCurrent.peak,
    ),
  );
  return sideOf({
    bias: targets.inputVoltage.max,
    maxVoltage: targets.inputVoltage.max + ripple / 2,
    ripple,
    rms: Math.max(...points.map(({ point }) => point.inputCapacitorRms)),
    esrMax: ripple / swing,
    needs,
    edges: edgesOf(
      complete.inputCapacitors,
      pulsed
        ? { stepped: Math.max(...points.map(({ point }) => point.inductorCurrent.peak)) }
        : { driving: vOut, inductance: inductor.inductance },
    ),
  });
}

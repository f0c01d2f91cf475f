import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { answeringValues, spreadsOf } from './designValues.js';
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
import { simulatedStep, stepRules, type JudgedTransient, type SimulatedStep } from './transientVerdicts.js';

/** Relative step of the central difference: a run is good to a millionth, and a dip moves to another pulse now and then. */
const STEP = 1e-2;
/** Relative change of a value that is none, as a run answers it. */
const SETTLED = 1e-3;

/** Margins of one step, simulated with some values multiplied. */
const marginsOfStep =
  (stage: Stage, { corner, up, instant }: SimulatedStep, goesOn: () => boolean): MarginsOf =>
  (factors) => {
    const found = new Map<string, Probed>();
    if (!goesOn()) return found;
    const complete = completeStage(withFactors(stage, factors));
    if (!complete.ok) return found;
    const step = simulatedStep(complete.value, { inputVoltage: corner.inputVoltage, up, instant });
    if (typeof step !== 'object') return found;
    for (const { rule, of } of stepRules(stage))
      found.set(rule.target, { margin: marginOf(rule, of(step)), actual: of(step) });
    return found;
  };

/**
 * The transient lines of the ledger in full: what drives each margin at the step that is worst for it, each driver with the value at
 * which the margin is gone, and the margin with every toleranced part at the end of its spread that is worst for it. Every figure is a
 * simulated step.
 *
 * @param goesOn asked before each simulation; a line that was not worked to its end has no drivers.
 * @public
 */
export function transientLedger(
  stage: Stage,
  { steps, verdicts }: JudgedTransient,
  goesOn: () => boolean = () => true,
): readonly LedgerLine[] {
  const values = answeringValues(stage);
  const spreads = spreadsOf(stage);
  const rules = stepRules(stage);
  const probes = new Map<SimulatedStep, MarginProbe>();
  return verdicts.map((verdict): LedgerLine => {
    const of = rules.find(({ rule }) => rule.target === verdict.target)?.of;
    const worst = of && steps.find((step) => of(step) === verdict.worst);
    if (!worst) return lineWithoutDrivers(verdict);
    const probe = probes.get(worst) ?? new MarginProbe(marginsOfStep(stage, worst, goesOn), STEP);
    probes.set(worst, probe);
    const line = lineInFull(verdict, probe, values, spreads, SETTLED);
    // Drivers of which some were not looked at any more are none.
    return goesOn() ? line : lineWithoutDrivers(verdict);
  });
}

import { GROUND, switchBetween, type Circuit, type Element } from '../circuit/elements.js';
import { stateLayout } from '../circuit/stateLayout.js';
import { controllerOf, type Controller } from '../controller/controllerOf.js';
import { regulatedOutput } from '../controller/divider.js';
import { LOOP } from '../controller/loopNames.js';
import { comparatorAt } from '../controller/modulator.js';
import type { Comparator } from '../orbit/comparator.js';
import { standingDiodes } from '../orbit/course.js';
import { inductanceCurveOf } from '../parts/inductanceCurve.js';
import type { LegTiming } from '../powerstage/legTiming.js';
import type { OperatingCondition, PowerStage } from '../powerstage/powerStage.js';
import { idealRange } from '../powerstage/idealPoint.js';
import { conversionAt, powerStageOf } from '../powerstage/powerStageOf.js';
import { formatQuantity } from '../quantity/engineering.js';
import { LOAD_TEST, loopElements } from '../smallsignal/loopCircuit.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { phasesAtWork } from '../stage/coupling.js';
import { topologyOf } from '../topology/topologies.js';
import type { Drive } from '../topology/topology.js';
import { amplifierLimits, type AmplifierLimits, type AmplifierState } from './amplifierLimits.js';
import { biasedBanks, type BiasedBank } from './biasBands.js';
import type { UnsolvableCircuitError } from '../circuit/unsolvable.js';
import type { Configuration, Oscillation, RampRate, Saturating } from './configuration.js';
import { withDefect, withOpenFeedback, withSupplyLimit } from './defect.js';
import { SOURCE_DIODE, withOneWaySource } from './oneWaySource.js';
import type { Scenario } from './scenario.js';

/** The switch that puts a short in the place of the load. */
export const SHORT = 'short';

/** One phase as the simulator drives it. */
export interface SimulatedPhase {
  readonly inductor: string;
  readonly legs: readonly LegTiming[];
  readonly diodes: readonly string[];
}

/** A stage with its controller, ready to be run: the circuit that the loop and the netlist draw, with what may change in it. */
export interface SimulatedStage {
  readonly complete: CompleteStage;
  readonly powerStage: PowerStage;
  readonly sign: 1 | -1;
  /** The circuit as its amplifier stands. */
  readonly circuits: Readonly<Record<AmplifierState, Circuit>>;
  readonly limits: AmplifierLimits | undefined;
  /** Absent at a fixed duty ratio. */
  readonly controller: Controller | undefined;
  readonly comparator: Comparator | undefined;
  readonly decides: 'turn-off' | 'turn-on';
  readonly ramp: RampRate;
  readonly phases: readonly SimulatedPhase[];
  /** Sources that move during the scenario, and among them one that oscillates. */
  readonly moving: readonly string[];
  readonly oscillation: Oscillation | undefined;
  readonly saturating: readonly Saturating[];
  /** Banks whose bias the scenario moves far. */
  readonly biased: readonly BiasedBank[];
  /** Whether the switch node rings, and is to be seen to. */
  readonly rings: boolean;
  /** How the legs are driven at an input voltage. */
  readonly drivesAt: (inputVoltage: number) => readonly Drive[];
  /** States of the circuit. */
  readonly order: number;
  /** Configurations that runs have met, shared by all of them. */
  readonly configurations: Map<string | number, Configuration | UnsolvableCircuitError>;
}

/** What of a stage has both switches of a leg open at times, so that body diodes matter without a dead time too. */
const mayIdle = ({ stage }: CompleteStage): boolean =>
  stage.control.hiccup !== undefined || stage.control.undervoltageLockout !== undefined;

/** In these modes the rectifying switch opens as its current turns round. */
const EMULATING = new Set(['pulse-skipping', 'ultrasonic', 'critical-conduction']);

/**
 * Whether a saturating inductor's current is stepped into output banks that all have a series inductance. Between ideal switches such a step
 * is an impulse of femtoseconds, which a saturating inductor would be followed through as if it lasted: what nobody measures, no edge
 * being that quick, is left out.
 */
const stepsIntoInductance = ({ stage, inductor, outputCapacitors }: CompleteStage): boolean =>
  inductanceCurveOf(inductor) !== undefined &&
  outputCapacitors.every(({ esl }) => esl > 0) &&
  idealRange(stage).some(({ pulsedOutput }) => pulsedOutput);

const kept = new WeakMap<CompleteStage, CompleteStage>();

/** The stage as a mode and its protections have it drawn; the same object each time, by which its settled starts are known. */
export function asSimulated(complete: CompleteStage): CompleteStage {
  const known = kept.get(complete);
  if (known) return known;
  const made = {
    ...complete,
    diodeEmulation: complete.diodeEmulation || EMULATING.has(complete.stage.operatingMode),
    ...(mayIdle(complete) && { bodyDiodes: true }),
    ...(stepsIntoInductance(complete) && {
      outputCapacitors: complete.outputCapacitors.map((bank) => ({ ...bank, esl: 0 })),
    }),
  };
  kept.set(complete, made);
  return made;
}

/** Stages drawn already, by condition and by what moves. */
const drawings = new WeakMap<CompleteStage, Map<string, SimulatedStage | string>>();

/**
 * A condition whose load current is carried by the source that steps, so that steps from one current and from another, and back, share
 * a drawing with all that is worked from it.
 */
export function unloaded(condition: OperatingCondition, { happenings, start }: Scenario): OperatingCondition {
  const carried =
    start === 'settled' &&
    condition.load.kind === 'current' &&
    happenings.length > 0 &&
    happenings.every(({ kind }) => kind === 'load');
  return carried ? { ...condition, load: { kind: 'current', current: 0 } } : condition;
}

/** Draw a stage for a scenario, or say what it lacks. */
export function simulatedStage(
  complete: CompleteStage,
  condition: OperatingCondition,
  scenario: Scenario,
): SimulatedStage | string {
  const known = drawings.get(complete) ?? new Map<string, SimulatedStage | string>();
  drawings.set(complete, known);
  const { happenings, fixedDuty, start, injected, oneWaySource, defect, supplyLimit } = scenario;
  const shapes = happenings.map((one) => (one.kind === 'short' ? one.resistance : one.kind));
  const from = unloaded(condition, scenario);
  const key = JSON.stringify([from, fixedDuty, start, shapes, injected, oneWaySource, defect, supplyLimit]);
  const drawn = known.get(key) ?? drawStage(complete, from, scenario);
  // A sweep asks each frequency once: kept, they would fill the memory with exponentials.
  if (injected === undefined) known.set(key, drawn);
  return drawn;
}

function drawStage(
  complete: CompleteStage,
  condition: OperatingCondition,
  { happenings, fixedDuty, start, injected, oneWaySource = false, defect, supplyLimit }: Scenario,
): SimulatedStage | string {
  const { stage, switchingFrequency } = complete;
  const designed = powerStageOf(complete, condition);
  const powerStage = defect ? withDefect(designed, defect) : designed;
  const controller = fixedDuty === undefined ? controllerOf(complete, powerStage) : undefined;
  if (typeof controller === 'string') return controller;
  if (controller?.modulator.decides === 'turn-on' && stage.phases > 1)
    return 'constant on-time control is simulated for a single phase';
  const sign = stage.targets.outputVoltage < 0 ? -1 : 1;
  const shorted = happenings.find((one) => one.kind === 'short');
  const shorts = new Set(
    happenings.flatMap((one) => (one.kind === 'short' && one.resistance !== undefined ? [one.resistance] : [])),
  );
  const wrong = happenings.find((one) => one.kind === 'phases' && !phasesAtWork(stage, one.working));
  if (stage.operatingMode === 'critical-conduction' && happenings.some(({ kind }) => kind === 'phases'))
    return 'in critical conduction the phases follow each other and not a clock: that some are shed is not simulated';
  if (wrong?.kind === 'phases')
    return `${String(wrong.working)} phases cannot be at work: the stage has ${String(stage.phases)}, one at least stays at work, and those that share a core go together`;
  if (shorts.size > 1)
    return `one run knows one short: shorts of ${[...shorts].map((ohms) => formatQuantity(ohms, 'ohm', 3)).join(' and ')} are two runs`;
  if (oneWaySource && complete.inputCapacitors.length === 0)
    return 'a source that cannot sink leaves what comes back to the input capacitors, and there are none: give the stage some';
  const looped = loopElements({ powerStage }, condition, regulatedOutput(stage));
  const oneWay = oneWaySource ? withOneWaySource(looped, powerStage) : looped;
  const fed = supplyLimit === undefined ? oneWay : withSupplyLimit(oneWay, powerStage, supplyLimit);
  const rectifying = [
    ...standingDiodes(powerStage.circuit, powerStage.phases),
    ...(oneWaySource || supplyLimit !== undefined ? [SOURCE_DIODE] : []),
  ];
  const control = controller ? [...controller.inner.elements, ...controller.elements] : [];
  const elements: readonly Element[] = [
    ...loadsThatGiveWay(fed, shorted !== undefined),
    ...(shorted?.kind === 'short' ? [switchBetween(SHORT, powerStage.outputNode, GROUND, [...shorts][0] ?? 0)] : []),
    ...(defect?.kind === 'open-feedback' ? withOpenFeedback(control) : control),
  ];
  const { couplings } = powerStage.circuit;
  const [clamp] = controller?.clamps ?? [];
  const limits = clamp && amplifierLimits(elements, clamp, sign);
  const free = { elements, couplings };
  const held = (voltage: number): Circuit => (limits ? { elements: limits.held(elements, voltage), couplings } : free);
  const moving = [
    ...(happenings.some(({ kind }) => kind === 'line') ? [powerStage.elements.source] : []),
    ...(happenings.some(({ kind }) => kind === 'load') ? [LOAD_TEST] : []),
    ...(controller && (start === 'zero' || mayIdle(complete)) && softStarts(complete) ? [LOOP.reference] : []),
    ...(shorted && condition.load.kind !== 'resistance' ? ['load'] : []),
    ...(controller && injected !== undefined ? [LOOP.injection] : []),
  ];
  return {
    complete,
    powerStage,
    sign,
    circuits: { free, low: held(limits?.low ?? 0), high: held(limits?.high ?? 0) },
    limits,
    controller,
    comparator: controller && comparatorAt(controller.modulator, condition.inputVoltage),
    decides: controller?.modulator.decides ?? 'turn-off',
    ramp: controller ? rampOf(controller, condition, moving, switchingFrequency) : { constant: 0 },
    phases: powerStage.phases.map(({ inductor, diodes }, k) => ({
      inductor,
      // A phase finds out who conducts; the rectifiers before the input are looked after by the first.
      diodes: k === 0 ? [...diodes, ...rectifying] : diodes,
      legs: powerStage.legs[k] ?? [],
    })),
    moving,
    oscillation: injected === undefined ? undefined : { name: LOOP.injection, angular: 2 * Math.PI * injected },
    saturating: saturatingIn(complete, free, powerStage.elements.inductors),
    biased: biasedBanks(complete, free, { happenings, start, fixedDuty }),
    rings: defect?.kind === 'rings',
    drivesAt: (inputVoltage) => topologyOf(stage).operation(conversionAt(stage, inputVoltage)).drives,
    order: stateLayout(free).names.length,
    configurations: new Map(),
  };
}

/**
 * The inductors that saturate. Those that share a core are taken as they are without, and so are those in series with the inductance of
 * the source, no capacitor between: there the current of each would depend on the inductance of all.
 */
function saturatingIn(complete: CompleteStage, circuit: Circuit, names: readonly string[]): readonly Saturating[] {
  const { inductor, inputCapacitors, stage } = complete;
  const { source, inputFilter } = stage.parts;
  const curve = inductanceCurveOf(inductor);
  const inductiveInput =
    inputCapacitors.length === 0 && ((source?.inductance ?? 0) > 0 || (inputFilter && !inputFilter.damping));
  if (!curve || circuit.couplings.length > 0 || inductiveInput) return [];
  const { indexOfInductor } = stateLayout(circuit);
  const scale = (current: number): number => inductor.inductance / curve.inductance(current);
  return names.map((name) => ({ state: indexOfInductor.get(name) ?? 0, scale }));
}

/** What of its parts a drawn stage does not follow, in sentences. */
export function notFollowed({ complete, saturating, biased }: SimulatedStage): readonly string[] {
  const { stage, inductor, outputCapacitors } = complete;
  const stated = stage.parts.outputCapacitors ?? [];
  const bent = [...stated, ...(stage.parts.inputCapacitors ?? [])].some(({ biasCurve }) => biasCurve !== undefined);
  return [
    ...(saturating.length === 0 && inductanceCurveOf(inductor)
      ? [
          'The inductors are taken with their inductance at no current: they share a core, or stand in series with the source.',
        ]
      : []),
    ...(outputCapacitors.some(({ esl }, j) => esl !== stated[j]?.esl)
      ? [
          'The output capacitors are taken without series inductance: between ideal edges it makes impulses that nobody measures.',
        ]
      : []),
    ...(bent && biased.length === 0 ? ['Capacitors stay as they are at their bias before time 0.'] : []),
  ];
}

const softStarts = ({ stage }: CompleteStage): boolean => stage.control.softStartTime !== undefined;

/** A resistive load as a switch, where a short may take its place. */
const loadsThatGiveWay = (elements: readonly Element[], gives: boolean): readonly Element[] =>
  gives
    ? elements.map((e) =>
        e.name === 'load' && e.kind === 'resistor' ? switchBetween('load', e.a, e.b, e.resistance) : e,
      )
    : elements;

/** V/s: the ramp over a period, going with the input of the moment under feed-forward. */
function rampOf(
  { modulator }: Controller,
  { inputVoltage }: OperatingCondition,
  moving: readonly string[],
  switchingFrequency: number,
): RampRate {
  const { comparator, rampFollowsFrom } = modulator;
  if (rampFollowsFrom !== undefined && moving.includes('source'))
    return {
      constant: 0,
      perSource: { name: 'source', factor: (comparator.ramp * switchingFrequency) / rampFollowsFrom },
    };
  return { constant: comparatorAt(modulator, inputVoltage).ramp * switchingFrequency };
}

/** The value of a source of a circuit, V or A. */
export function sourceValue({ elements }: Circuit, name: string): number {
  const e = elements.find((one) => one.name === name);
  return e?.kind === 'voltageSource' ? e.voltage : e?.kind === 'currentSource' ? e.current : 0;
}

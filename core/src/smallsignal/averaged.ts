import { discontinuousDutyGain, discontinuousFactor, discontinuousPole } from '../firstcut/discontinuousPlantForms.js';
import { esrZero } from '../firstcut/plantForms.js';
import { product as times, ratio, scaled, type Complex } from '../linalg/complex.js';
import { ComplexSystem } from '../linalg/complexDense.js';
import { product } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import { outputCapacitor } from '../parts/outputCapacitor.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { successors } from '../orbit/rotation.js';
import { solveStage } from '../steady/solveStage.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { converterOf } from '../powerstage/converter.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { openOrbit, type OpenOrbit } from './openOrbit.js';

/**
 * Control voltage to output by the averaged model, for insight beside the exact response: state-space averaging in continuous
 * conduction, with the sampling gain of the current loop under peak current mode; one pole in discontinuous conduction.
 *
 * It is good while the ripple at the comparator is small and the frequency is below about a tenth of the switching frequency.
 *
 * Sources: R. D. Middlebrook, S. Ćuk, A General Unified Approach to Modelling Switching-Converter Power Stages, IEEE PESC 1976;
 * R. B. Ridley, A New, Continuous-Time Model for Current-Mode Control, IEEE Trans. Power Electron. 6 (1991), whose terms are
 * taken as one set.
 *
 * @returns undefined where there is no such model: constant on-time, average current mode, sampled control, current mode in
 *   discontinuous conduction, the transition of four switches.
 * @public
 */
export function averagedPlant(
  complete: CompleteStage,
  condition: OperatingCondition,
  solved: SolvedPoint,
): ((frequency: number) => Complex) | undefined {
  const { scheme, rampAmplitude } = complete.stage.control;
  const currentMode = scheme === 'peak-current-mode';
  if (!currentMode && !scheme.startsWith('voltage-mode')) return undefined;
  const { point } = solved;
  const plain = withoutSeriesInductance(complete);
  const found = plain === complete ? solved : solveStage(plain, condition);
  if (found.kind === 'unsolved') return undefined;
  const orbit = openOrbit(plain, condition, found);
  if (typeof orbit === 'string') return undefined;
  if (point.conductionMode === 'DCM')
    return currentMode || rampAmplitude === undefined ? undefined : singlePole(complete, solved, orbit.comparator.ramp);
  const { toOutput, toCurrent } = dutyResponses(orbit);
  const { ramp, sense, sign } = orbit.comparator;
  if (!currentMode) return (frequency) => scaled(toOutput(frequency), sign / ramp);
  const feedback = outputTerm(complete, solved);
  if (feedback === undefined) return undefined;
  const period = orbit.problem.period;
  const { ripple } = point.inductorCurrent;
  const rising = (sense * ripple) / point.duty;
  const modulator = 1 / (rising + ramp);
  return (frequency) => {
    const voltage = scaled(toOutput(frequency), sign);
    const sampling = samplingGain(frequency, period);
    const inner = times(scaled(sampling, sense), toCurrent(frequency));
    // d = Fm (v − Ri He i + kr vo)
    const closed = {
      re: 1 + modulator * (inner.re - feedback * voltage.re),
      im: modulator * (inner.im - feedback * voltage.im),
    };
    return ratio(scaled(voltage, modulator), closed);
  };
}

/**
 * A stage whose capacitors have no series inductance: a current that is switched onto one steps it in no time, which has no
 * average. It matters far above the frequencies for which the model is good.
 */
function withoutSeriesInductance(complete: CompleteStage): CompleteStage {
  const { inputCapacitors, outputCapacitors } = complete;
  if (![...inputCapacitors, ...outputCapacitors].some(({ esl }) => esl > 0)) return complete;
  const plain = (banks: CompleteStage['inputCapacitors']) => banks.map((bank) => ({ ...bank, esl: 0 }));
  return { ...complete, inputCapacitors: plain(inputCapacitors), outputCapacitors: plain(outputCapacitors) };
}

/** He = 1 − sT/2 + (sT/π)² */
function samplingGain(frequency: number, period: number): Complex {
  const angle = 2 * Math.PI * frequency * period;
  return { re: 1 - (angle / Math.PI) ** 2, im: -angle / 2 };
}

/** The term kr of the output voltage in the duty ratio, over the resistance of the current sense; per volt of output. */
function outputTerm(
  { stage, inductor, switchingFrequency }: CompleteStage,
  { point }: SolvedPoint,
): number | undefined {
  const converter = converterOf(stage, point);
  if (!converter) return undefined;
  const complement = converter === 'buck' ? 1 : 1 - point.duty;
  const sense = stage.control.currentSenseGain ?? 0;
  return (complement ** 2 * sense) / (2 * inductor.inductance * switchingFrequency);
}

/** The single pole in discontinuous conduction, with the zero of the ESR. */
function singlePole(
  complete: CompleteStage,
  { point }: SolvedPoint,
  ramp: number,
): ((frequency: number) => Complex) | undefined {
  const converter = converterOf(complete.stage, point);
  if (!converter || point.outputCurrent === 0) return undefined;
  const outputVoltage = Math.abs(complete.stage.targets.outputVoltage);
  const { capacitance, esr } = outputCapacitor(complete);
  const factor = discontinuousFactor(converter, outputVoltage / point.inputVoltage);
  const gain = discontinuousDutyGain.compute({ outputVoltage, duty: point.duty, factor }) / ramp;
  const resistance = outputVoltage / point.outputCurrent;
  const pole = discontinuousPole.compute({ resistance, capacitance, factor });
  const zero = esr > 0 ? esrZero.compute({ capacitance, esr }) : Infinity;
  return (frequency) => scaled(ratio({ re: 1, im: frequency / zero }, { re: 1, im: frequency / pole }), gain);
}

/** Duty ratio to output and to the current of one inductor, of the averaged state equations. */
function dutyResponses({ problem, pass, outputNode }: OpenOrbit): {
  readonly toOutput: (frequency: number) => Complex;
  readonly toCurrent: (frequency: number) => Complex;
} {
  const { segments, events } = pass;
  const { order } = pass.unknowns;
  const size = order + 1;
  const share = problem.period / problem.rotation.order;
  const inductor = problem.phases[0]?.inductor ?? '';
  const dynamics = zeros(size * size);
  const mean = zeros(size);
  const output = zeros(size);
  const add = (to: Float64Array, from: Float64Array | undefined, weight: number): void => {
    if (from) for (let i = 0; i < to.length; i += 1) to[i] = (to[i] as number) + weight * (from[i] as number);
  };
  for (const { equations, duration, integral } of segments) {
    add(dynamics, equations.dynamics, duration / share);
    add(output, equations.node.get(outputNode), duration / share);
    add(mean, integral, 1 / share);
  }
  // Every edge that moves with the duty ratio changes the share of the configurations on its sides.
  const drive = zeros(size);
  let step = 0;
  events.forEach((event, k) => {
    const [before, after] = [segments[k]?.equations, segments[k + 1]?.equations];
    if (event.does !== 'begin-interval' || event.start.perDuty === 0 || !before || !after) return;
    const weight = event.start.perDuty * problem.rotation.order;
    add(drive, product(before.dynamics, mean, size, size, 1), weight);
    add(drive, product(after.dynamics, mean, size, size, 1), -weight);
    const row = zeros(size);
    add(row, before.node.get(outputNode), weight);
    add(row, after.node.get(outputNode), -weight);
    step += row.reduce((sum, value, i) => sum + value * (mean[i] as number), 0);
  });
  const turned = symmetric(problem, dynamics, drive, order);
  const current = zeros(size);
  add(current, segments[0]?.equations.current.get(inductor), 1);
  const system = new ComplexSystem(order);
  const response =
    (row: Float64Array, direct: number) =>
    (frequency: number): Complex => {
      const xr = turned.drive.slice(0, order);
      const xi = zeros(order);
      for (let i = 0; i < order; i += 1)
        for (let j = 0; j < order; j += 1) {
          system.re[i * order + j] = -(turned.dynamics[i * size + j] as number);
          system.im[i * order + j] = i === j ? 2 * Math.PI * frequency : 0;
        }
      system.factorise();
      system.solve(xr, xi);
      let re = direct;
      let im = 0;
      for (let i = 0; i < order; i += 1) {
        re += (row[i] as number) * (xr[i] as number);
        im += (row[i] as number) * (xi[i] as number);
      }
      return { re, im };
    };
  return { toOutput: response(output, step), toCurrent: response(current, 0) };
}

/** Averages over all phases: over one share of the period the phases stand in different places. */
function symmetric(
  problem: OpenOrbit['problem'],
  dynamics: Float64Array,
  drive: Float64Array,
  order: number,
): { readonly dynamics: Float64Array; readonly drive: Float64Array } {
  const turns = problem.rotation.order;
  if (turns === 1) return { dynamics, drive };
  const size = order + 1;
  const next = successors(problem);
  const outDynamics = zeros(size * size);
  const outDrive = zeros(size);
  let place = Array.from({ length: order }, (_, i) => i);
  for (let turn = 0; turn < turns; turn += 1) {
    for (let i = 0; i < order; i += 1) {
      const row = place[i] ?? i;
      outDrive[row] = (outDrive[row] as number) + (drive[i] as number) / turns;
      for (let j = 0; j < order; j += 1) {
        const at = row * size + (place[j] ?? j);
        outDynamics[at] = (outDynamics[at] as number) + (dynamics[i * size + j] as number) / turns;
      }
    }
    place = place.map((one) => next[one] ?? one);
  }
  return { dynamics: outDynamics, drive: outDrive };
}

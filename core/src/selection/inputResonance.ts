import { dampingResistance, filterResistance, inputResistance } from '../firstcut/inputFilterForms.js';
import { magnitude } from '../linalg/complex.js';
import { feedImpedance, inputImpedances, type InputImpedances } from '../smallsignal/inputImpedance.js';
import { loopFrequencies } from '../smallsignal/loopResponse.js';
import { SWITCH_WORDS, type CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';

/** Share of the stage's input impedance that what feeds it may reach: 6 dB below. Common practice. */
export const IMPEDANCE_SHARE = 0.5;
/** Bulk that damps ceramics: so many times as much, which leaves a peak of 0.87 of their characteristic resistance. Common practice. */
const BULK_MULTIPLE = 4;
const IMPEDANCE_POINTS = 120;

/** Inductance before the input capacitors that a stage states, H. */
export const inputInductance = ({ parts }: Stage): number =>
  (parts.source?.inductance ?? 0) + (parts.inputFilter?.inductance ?? 0);

/** What feeds a stage against its own input impedance, at the lowest input and full load; undefined without a loop. */
export function metImpedances(complete: CompleteStage): InputImpedances | undefined {
  const { inputVoltage, outputCurrent } = complete.stage.targets;
  const load = { kind: 'current' as const, current: outputCurrent.max };
  const frequencies = loopFrequencies(complete.switchingFrequency, IMPEDANCE_POINTS);
  const met = inputImpedances(complete, { inputVoltage: inputVoltage.min, load }, frequencies);
  return typeof met === 'string' ? undefined : met;
}

/**
 * How near what feeds a stage comes to its impedance as constant power, V²/P, at the lowest input and full load: what is known of it
 * before its loop is (R. D. Middlebrook, Input Filter Considerations in Design and Application of Switching Regulators, IEEE IAS 1976).
 */
export function constantPowerShare(complete: CompleteStage): number {
  const { inputVoltage, outputVoltage, outputCurrent } = complete.stage.targets;
  const resistance = inputResistance.compute({
    vIn: inputVoltage.min,
    power: Math.abs(outputVoltage) * outputCurrent.max,
  });
  const feed = feedImpedance(complete, inputVoltage.min);
  const frequencies = loopFrequencies(complete.switchingFrequency, IMPEDANCE_POINTS);
  return Math.max(...frequencies.map((frequency) => magnitude(feed(frequency)))) / resistance;
}

/** The lowest voltage rating of what stands at the input, V, and what it is of; undefined where none states one. */
export function weakestAtInput({
  stage,
  legs,
  inputCapacitors,
}: CompleteStage): { readonly rating: number; readonly words: string } | undefined {
  const { blocks } = topologyOf(stage);
  const switches = legs.flatMap(({ mainPlace, main }) =>
    blocks[mainPlace] !== 'output' && main.drainSourceVoltageMax !== undefined
      ? [{ rating: main.drainSourceVoltageMax, words: SWITCH_WORDS[mainPlace] }]
      : [],
  );
  const banks = inputCapacitors.flatMap(({ ratedVoltage }) =>
    ratedVoltage === undefined ? [] : [{ rating: ratedVoltage, words: 'input capacitors' }],
  );
  return [...switches, ...banks].sort((a, b) => a.rating - b.rating)[0];
}

/**
 * Bulk that damps the resonance of an inductance, H, with the capacitors at the input, F (R. W. Erickson, D. Maksimović, Fundamentals of
 * Power Electronics, 2nd ed., ch. 10: parallel damping with a blocking capacitor).
 *
 * @returns capacitance, F, and the series resistance that damps best, ohm.
 */
export function dampingBulk(
  inductance: number,
  capacitance: number,
): { readonly capacitance: number; readonly resistance: number } {
  const characteristic = filterResistance.compute({ inductance, capacitance });
  return {
    capacitance: BULK_MULTIPLE * capacitance,
    resistance: dampingResistance.compute({ characteristic, multiple: BULK_MULTIPLE }),
  };
}

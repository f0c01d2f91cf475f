import type { Mosfet } from '../stage/partsSchema.js';

const round = (value: number): number => Number(value.toPrecision(3));

/** Figure of merit of vertical silicon, Ω C: 40 mΩ nC at 25 V, rising with the voltage class. From memory of usual parts. */
const merit = (rated: number): number => 40e-12 * (rated / 25) ** 1.1;

/** Lowest on-resistance made in a voltage class, ohm: about with its power of 1.4. From memory of usual parts. */
export const lowestMade = (rated: number): number => 1e-3 * (rated / 25) ** 1.4;

/** Voltage up to which devices are driven with 5 V, V; above it 10 V. Common practice. */
const LOGIC_LEVEL_UP_TO = 40;

/**
 * A silicon MOSFET as they typically are: everything follows from blocking voltage and on-resistance by the laws that make
 * real parts alike.
 *
 * @param rated drain-source voltage, V; lowest: on-resistance of the largest die of the class, ohm.
 * @public
 */
export function typicalMosfet(rated: number, onResistance: number, lowest = lowestMade(rated)) {
  const gateCharge = round(merit(rated) / onResistance);
  /** Edge of the die beside the largest. */
  const die = Math.min(1, Math.sqrt(lowest / onResistance));
  const logicLevel = rated <= LOGIC_LEVEL_UP_TO;
  return {
    onResistance,
    drainSourceVoltageMax: rated,
    drainCurrentMax: round(Math.sqrt(2.5 / onResistance)),
    onResistanceTemperatureCoefficient: 4e-3,
    gateCharge,
    gateDrainCharge: round(gateCharge * 0.2),
    gateSourceCharge: round(gateCharge * 0.35),
    gateDriveVoltage: logicLevel ? 5 : 10,
    gateResistance: round(0.8 + 1.5 * (1 - die)),
    thresholdVoltage: logicLevel ? 1.6 : 2.8,
    plateauVoltage: logicLevel ? 2.6 : 4.5,
    outputCharge: round(gateCharge * 0.9 * (rated / 25) ** 0.3),
    outputEnergy: round((gateCharge * 0.9 * (rated / 25) ** 0.3 * rated) / 6),
    bodyDiodeVoltage: 0.8,
    bodyDiodeResistance: round(2 * onResistance),
    recoveryCharge: round(gateCharge * 0.8 * (rated / 25) ** 0.5),
    junctionToCase: round(0.8 / die),
    junctionToAmbient: round(28 + 14 * (1 - die)),
  } satisfies Mosfet;
}

/** What a typical device of a die costs. */
export const typicalPrice = (rated: number, onResistance: number, lowest: number): number =>
  round(0.15 + 0.9 * Math.sqrt(lowest / onResistance) * (rated / 40) ** 0.5);

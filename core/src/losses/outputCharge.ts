import type { Diode, Mosfet } from '../stage/partsSchema.js';

/** Charge and energy that a blocking device holds at a voltage. */
export interface OutputCharge {
  /** C */
  readonly charge: number;
  /** J */
  readonly energy: number;
}

const NONE: OutputCharge = { charge: 0, energy: 0 };

/**
 * A capacitance of an abrupt junction, C(v) ∝ v^(−1/2): its charge goes with v^(1/2), its energy is a third of charge times
 * voltage (R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 4, section 4.3.3: 2CV and ⅔CV²).
 */
const abrupt = (charge: number, stated: number, voltage: number): OutputCharge => {
  const here = charge * Math.sqrt(voltage / stated);
  return { charge: here, energy: (here * voltage) / 3 };
};

/** Output charge and energy of a MOSFET at a drain-source voltage, V; none where its record states no charge. @public */
export function mosfetOutputCharge(
  { outputCharge, outputEnergy, outputChargeVoltage, drainSourceVoltageMax }: Mosfet,
  voltage: number,
): OutputCharge {
  if (outputCharge === undefined || voltage <= 0) return NONE;
  // Stated at half the rating where the record does not say: common practice in data sheets.
  const stated = outputChargeVoltage ?? (drainSourceVoltageMax === undefined ? voltage : drainSourceVoltageMax / 2);
  const { charge, energy } = abrupt(outputCharge, stated, voltage);
  if (outputEnergy === undefined) return { charge, energy };
  // A stated energy fixes the level; how it goes with the voltage is that of the junction.
  return { charge, energy: outputEnergy * (voltage / stated) ** 1.5 };
}

/** Junction charge and energy of a diode that blocks a voltage, V, its capacitance stated there. */
export function diodeOutputCharge({ junctionCapacitance }: Diode, voltage: number): OutputCharge {
  if (junctionCapacitance === undefined || voltage <= 0) return NONE;
  return abrupt(2 * junctionCapacitance * voltage, voltage, voltage);
}

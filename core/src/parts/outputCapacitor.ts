import type { CompleteStage } from '../stage/completeStage.js';
import { bankModel } from './capacitorBank.js';

/** The output banks at their bias as one capacitor: F and ohm; their series inductance is left out. */
export function outputCapacitor({ stage, outputCapacitors }: CompleteStage): {
  readonly capacitance: number;
  readonly esr: number;
} {
  const banks = outputCapacitors.map((bank) => bankModel(bank, stage.targets.outputVoltage));
  return {
    capacitance: banks.reduce((sum, bank) => sum + bank.capacitance, 0),
    esr: banks.some((bank) => bank.esr === 0) ? 0 : 1 / banks.reduce((sum, bank) => sum + 1 / bank.esr, 0),
  };
}

import type { CompleteStage, Leg } from '../stage/completeStage.js';
import type { Mosfet } from '../stage/partsSchema.js';

/**
 * The same stage without any loss: no resistance, no diode drop, no dead time. Inductances and output capacitances stay; the
 * source is stiff, without filter or capacitors, which would be free of damping.
 */
export function withoutLosses(complete: CompleteStage): CompleteStage {
  const ideal = (mosfet: Mosfet): Mosfet => ({ ...mosfet, onResistance: 0 });
  const leg = (one: Leg): Leg => ({
    ...one,
    main: ideal(one.main),
    rectifier:
      one.rectifier.kind === 'switch'
        ? { kind: 'switch', mosfet: ideal(one.rectifier.mosfet) }
        : { kind: 'diode', diode: { ...one.rectifier.diode, forwardVoltage: 0, dynamicResistance: 0 } },
  });
  const { stage } = complete;
  const { outputFilter } = stage.parts;
  return {
    ...complete,
    stage: {
      ...stage,
      deadTime: 0,
      parts: outputFilter ? { outputFilter: { ...outputFilter, resistance: 0 } } : {},
    },
    inductor: { ...complete.inductor, resistance: 0 },
    legs: complete.legs.map(leg),
    outputCapacitors: complete.outputCapacitors.map((bank) => ({ ...bank, esr: 0, esl: 0 })),
    inputCapacitors: [],
  };
}

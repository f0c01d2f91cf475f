import { inducedGateVoltage } from '../firstcut/gateForms.js';
import { bearingsOf } from '../losses/bearing.js';
import { DRIVER_OFF, edgeTimes } from '../losses/switchTerms.js';
import { SWITCH_WORDS, type CompleteStage } from '../stage/completeStage.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { Mosfet } from '../stage/partsSchema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';

/** Whether the edge of one switch may lift the gate of the other. @public */
export interface GateCheck {
  readonly place: SwitchPlace;
  readonly words: string;
  readonly form: AppliedForm;
  /** V */
  readonly threshold: number;
  /** Whether the gate comes near enough to the threshold of a hot device to turn it on for a moment. */
  readonly risk: boolean;
}

/** A hot threshold is this share of the stated one. Common practice for silicon at 125 °C. @public */
export const HOT_SHARE = 0.7;

/** The gates of a stage against the edges of the other switch of their leg, at a solved point. @public */
export function gateChecks(complete: CompleteStage, { powerStage, solution }: SolvedPoint): readonly GateCheck[] {
  const { control } = complete.stage;
  const mosfets = new Map<SwitchPlace, Mosfet>();
  for (const { mainPlace, rectifierPlace, main, rectifier } of complete.legs) {
    mosfets.set(mainPlace, main);
    if (rectifier.kind === 'switch') mosfets.set(rectifierPlace, rectifier.mosfet);
  }
  return bearingsOf(complete, powerStage, solution).flatMap(({ place, otherPlace, edges }): readonly GateCheck[] => {
    const turning = mosfets.get(place);
    const closed = mosfets.get(otherPlace);
    const hard = edges.find(({ kind, voltage, current }) => kind === 'on' && voltage > 0 && current > 0);
    const times = turning && edgeTimes(turning, control.gateDriver);
    if (!closed || !hard || !times) return [];
    const { gateDrainCharge, gateSourceCharge, plateauVoltage, thresholdVoltage } = closed;
    if (gateDrainCharge === undefined || gateSourceCharge === undefined) return [];
    if (plateauVoltage === undefined || thresholdVoltage === undefined) return [];
    const { voltage } = hard;
    const form = applied(inducedGateVoltage, {
      resistance: (control.gateDriver?.turnOffResistance ?? DRIVER_OFF) + (closed.gateResistance ?? 0),
      gateDrain: gateDrainCharge / voltage,
      gateSource: gateSourceCharge / plateauVoltage,
      slope: voltage / times.fall,
      voltage,
    });
    return [
      {
        place: otherPlace,
        words: SWITCH_WORDS[otherPlace],
        form,
        threshold: thresholdVoltage,
        risk: form.value > HOT_SHARE * thresholdVoltage,
      },
    ];
  });
}

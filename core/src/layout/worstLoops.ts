import type { Corner } from '../corners/corners.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { diodeOutputCharge, mosfetOutputCharge } from '../losses/outputCharge.js';
import { edgeTimes } from '../losses/switchTerms.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import type { CompleteStage, Leg } from '../stage/completeStage.js';
import { hotLoops, loopKey, type HotLoop } from './hotLoops.js';
import type { AppliedForm } from '../firstcut/closedForm.js';
import { ringingOf, ringingWorking, type Ringing, type RingingLoop } from './ringing.js';

/** A hot loop over all corners, each figure at its worst, with what of its devices makes it ring. @public */
export interface WorstLoop extends HotLoop {
  /** Where the current is largest. */
  readonly corner: Corner;
  /** s, of the edge that turns the current over; of the class of the switch where its record does not say. */
  readonly edge: number;
  readonly edgeStated: boolean;
  /** A/s */
  readonly rate: number;
  /** The switch that closes; undefined where the loop joins no leg. */
  readonly main: string | undefined;
  /** V on the device that blocks when it does; the most on either where the loop joins no leg. */
  readonly blocked: number;
  /** What rings in it but for the inductance of its copper; undefined where the record of the blocking device states no capacitance. */
  readonly rings:
    | (Omit<RingingLoop, 'inductance' | 'recoveryCharge'> & {
        /** C, that the diode which is turned off gives back; undefined where its record does not say: it is left out then. */
        readonly recoveryCharge: number | undefined;
      })
    | undefined;
  /** Rating of the device that blocks, V. */
  readonly rating: number | undefined;
}

/** An edge where nothing is stated, s: a fast one, so that nothing looks better for what is not known. Common practice. */
const FAST_EDGE = 2e-9;

/**
 * What a loop rings with when its copper has an inductance, H.
 *
 * @returns undefined where the record of the device that blocks states no capacitance.
 * @public
 */
export const ringingWith = ({ rings }: WorstLoop, inductance: number): Ringing | undefined =>
  rings && ringingOf({ ...rings, recoveryCharge: rings.recoveryCharge ?? 0, inductance });

/**
 * How that came about; nothing where it is not reckoned.
 *
 * @public
 */
export const ringWorking = ({ rings }: WorstLoop, inductance: number): readonly AppliedForm[] =>
  rings ? ringingWorking({ ...rings, recoveryCharge: rings.recoveryCharge ?? 0, inductance }) : [];

/** The leg whose devices a loop joins. */
function legOf({ legs }: CompleteStage, { elements }: PowerStage, { devices }: HotLoop): Leg | undefined {
  const holds = (place: string): boolean =>
    (elements.positions[place] ?? []).some(({ device }) => devices.includes(device));
  return legs.find(({ mainPlace, rectifierPlace }) => holds(mainPlace) && holds(rectifierPlace));
}

/** Resistance of a loop while it rings: the main switch, which has just closed, and what the capacitors have in series. */
function resistanceOf({ circuit }: PowerStage, { hops }: HotLoop, main: string | undefined): number {
  const named = new Map(circuit.elements.map((e) => [e.name, e]));
  const ofElement = (name: string): number => {
    const e = named.get(name);
    switch (e?.kind) {
      case 'capacitor':
        return e.esr;
      case 'resistor':
        return e.resistance;
      case 'switch':
        return e.onResistance;
      case 'diode':
        return e.dynamicResistance;
      default:
        return 0;
    }
  };
  // Of parts side by side the one with the least takes most of a ring.
  const hopOf = (names: readonly string[]): number => Math.min(...names.map(ofElement));
  return ofElement(main ?? '') + hops.reduce((sum, { elements }) => sum + hopOf(elements), 0);
}

/**
 * The hot loops of a stage over its corners: the current that turns over, and the voltage blocked after, at the worst; the edge of the switch that
 * makes it and the capacitance it rings with from the records.
 *
 * @public
 */
export function worstLoops({ complete, corners }: Pick<EvaluatedStage, 'complete' | 'corners'>): readonly WorstLoop[] {
  const found = new Map<string, WorstLoop>();
  for (const { corner, result } of corners) {
    if (result.kind !== 'solved') continue;
    for (const loop of hotLoops(result)) {
      const key = loopKey(loop);
      const known = found.get(key);
      const leg = legOf(complete, result.powerStage, loop);
      const main =
        leg &&
        result.powerStage.elements.positions[leg.mainPlace]?.find(({ device }) => loop.devices.includes(device))
          ?.device;
      const times = leg && edgeTimes(leg.main, complete.stage.control.gateDriver);
      const edge = times?.fall ?? FAST_EDGE;
      const worst = !known || loop.current > known.current;
      const current = Math.max(loop.current, known?.current ?? 0);
      const most = (of: 'closing' | 'blocking'): Readonly<Record<string, number>> =>
        Object.fromEntries(loop.devices.map((name) => [name, Math.max(loop[of][name] ?? 0, known?.[of][name] ?? 0)]));
      const [closing, blocking] = [most('closing'), most('blocking')];
      const rectifier = main === undefined ? undefined : loop.devices.find((name) => name !== main);
      const blocked =
        (rectifier === undefined ? undefined : blocking[rectifier]) || Math.max(...Object.values(blocking));
      const rate = current / edge;
      // What blocks after the edge that is made: the rectifier, when the main switch turns on.
      const charge =
        leg?.rectifier.kind === 'switch'
          ? mosfetOutputCharge(leg.rectifier.mosfet, blocked)
          : leg && diodeOutputCharge(leg.rectifier.diode, blocked);
      const part = leg?.rectifier.kind === 'switch' ? leg.rectifier.mosfet : leg?.rectifier.diode;
      // C(V) of an abrupt junction is half its charge over the voltage.
      const capacitance = charge && charge.charge > 0 ? charge.charge / (2 * blocked) : undefined;
      found.set(key, {
        ...(worst ? loop : known),
        current,
        closing,
        blocking,
        rms: Math.max(loop.rms, known?.rms ?? 0),
        blocked,
        corner: worst ? corner : known.corner,
        edge,
        edgeStated: times !== undefined,
        rate,
        main,
        rings:
          capacitance === undefined || !leg
            ? undefined
            : {
                resistance: resistanceOf(result.powerStage, loop, main),
                capacitance,
                blocked,
                edge,
                // It rings as the main switch closes; where that is never seen, as if it took all of it.
                current: (main === undefined ? undefined : closing[main]) ?? current,
                recoveryCharge: part?.recoveryCharge,
              },
        rating:
          leg?.rectifier.kind === 'switch'
            ? leg.rectifier.mosfet.drainSourceVoltageMax
            : leg?.rectifier.diode.reverseVoltageMax,
      });
    }
  }
  return [...found.values()];
}

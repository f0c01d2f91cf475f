import type { Mosfet } from '../stage/partsSchema.js';
import { junctionToCaseOf, MOSFET_CLASSES, SILICON_PACKAGES, type MosfetClass } from './generic/mosfetClasses.js';
import { graded, rounded, type Grade } from './generic/grade.js';

/** The middle between the best and the ordinary of a class. */
const TYPICAL: Grade = { level: 0.5, price: 1, scatter: () => 1 };

/** The class of silicon that a rating falls into; beyond the highest its law goes on with the power of 2.5 of the voltage. */
function classAt(rated: number): MosfetClass {
  const silicon = MOSFET_CLASSES.filter(({ material }) => material !== 'gallium-nitride');
  const found = silicon.find((one) => one.rated >= rated * 0.999);
  if (found) return found;
  const highest = silicon.at(-1) as MosfetClass;
  const factor = (rated / highest.rated) ** 2.5;
  const times = ([a, b]: readonly [number, number]): readonly [number, number] => [a * factor, b * factor];
  return {
    ...highest,
    rated,
    specificResistance: times(highest.specificResistance),
    gate: times(highest.gate),
    gateDrain: times(highest.gateDrain),
    output: times(highest.output),
    outputAt: (highest.outputAt * rated) / highest.rated,
    recovery: times(highest.recovery),
    from: highest.from * factor,
    to: highest.to * factor,
  };
}

/** Lowest on-resistance that is usual in a voltage class, ohm. */
export const lowestMade = (rated: number): number => classAt(rated).from;

/** A through a square millimetre of die up to 40 V; it goes with the root of the area, as heat spreads, and falls as the die resists more. */
const CURRENT = 27;
const CURRENT_UP_TO = 40;
const ratedCurrent = (die: number, rated: number): number =>
  CURRENT * Math.sqrt(die * 1e6) * (CURRENT_UP_TO / Math.max(rated, CURRENT_UP_TO)) ** 0.8;

/** K over which the slope of the on-resistance is taken, from 25 °C. */
const WARMING = 75;
const ROOM = 298;

/**
 * A MOSFET of a class and an on-resistance: everything follows from the area of its die by the laws that make real parts alike.
 *
 * @param kind its class; rated: V; onResistance: ohm at 25 °C and its drive.
 */
export function mosfetOfClass(
  kind: MosfetClass,
  rated: number,
  onResistance: number,
  { level, scatter, price }: Grade,
) {
  const specific = graded(kind.specificResistance, level) * scatter('area');
  const dieFor = (packaged: number): number => specific / Math.max(onResistance - packaged, onResistance / 3);
  const held =
    SILICON_PACKAGES.find(({ die, resistance }) => dieFor(resistance) <= die && resistance < onResistance / 2) ??
    SILICON_PACKAGES.at(-1);
  if (!held) throw new RangeError('No package is listed for switches.');
  const die = dieFor(held.resistance);
  const charge = (product: readonly [number, number], figure: string): number =>
    (graded(product, level) * scatter(figure)) / onResistance;
  const gateCharge = rounded(charge(kind.gate, 'gate'));
  const outputCharge = rounded(charge(kind.output, 'output'));
  const [bestRecovery] = kind.recovery;
  const junctionToCase = rounded(junctionToCaseOf(die));
  return {
    record: {
      onResistance,
      drainSourceVoltageMax: rated,
      drainCurrentMax: rounded(Math.min(held.current, ratedCurrent(die, rated))),
      onResistanceTemperatureCoefficient: rounded((((ROOM + WARMING) / ROOM) ** kind.warmExponent - 1) / WARMING),
      gateCharge,
      gateDrainCharge: rounded(Math.min(0.5 * gateCharge, charge(kind.gateDrain, 'gate drain'))),
      gateSourceCharge: rounded(0.32 * gateCharge),
      gateDriveVoltage: kind.drive,
      gateResistance: rounded(kind.material === 'superjunction' ? 1.5 : 0.6 + 0.6 * Math.min(1, 2e-6 / die)),
      thresholdVoltage: kind.threshold,
      plateauVoltage: kind.plateau,
      outputCharge,
      outputChargeVoltage: kind.outputAt,
      // Of one C ∝ v^−m: E = Q V (1 − m)/(2 − m).
      outputEnergy: rounded((outputCharge * kind.outputAt * (1 - kind.outputExponent)) / (2 - kind.outputExponent)),
      bodyDiodeVoltage: kind.bodyDiode,
      bodyDiodeResistance: rounded((kind.material === 'gallium-nitride' ? 1.7 : 1) * onResistance),
      recoveryCharge: bestRecovery === 0 ? 0 : rounded(charge(kind.recovery, 'recovery')),
      junctionToCase,
      junctionToAmbient: rounded(Math.max(held.toAmbient, junctionToCase + 16)),
      length: held.length,
      width: held.width,
      height: held.height,
    } satisfies Mosfet,
    price: rounded((held.price + kind.die * (die * 1e6) ** 0.9) * price),
  };
}

/**
 * A silicon MOSFET as they typically are, in the middle between the best and the ordinary of its class.
 *
 * @param rated drain-source voltage, V; onResistance: ohm.
 * @public
 */
export const typicalMosfet = (rated: number, onResistance: number) =>
  mosfetOfClass(classAt(rated), rated, onResistance, TYPICAL).record;

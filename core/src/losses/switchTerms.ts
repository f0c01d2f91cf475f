import { edgeOverlap, outputChargeLoss, periodicCharge, turnOffTime, turnOnTime } from '../firstcut/edgeForms.js';
import type { Stage } from '../stage/schema.js';
import type { Rectifier } from '../stage/completeStage.js';
import type { Mosfet } from '../stage/partsSchema.js';
import type { ClosedForm } from '../firstcut/closedForm.js';
import type { Bearing } from './bearing.js';
import { diodeOutputCharge, mosfetOutputCharge, type OutputCharge } from './outputCharge.js';

/** A closed form with the numbers to put in, not yet worked out for show. */
export interface Term {
  readonly form: ClosedForm;
  readonly values: Readonly<Record<string, number>>;
}

export const termOf = <K extends string>(form: ClosedForm<K>, values: Readonly<Record<K, number>>): Term => ({
  form: form,
  values,
});

/** Power of a term, W. */
export const watts = ({ form, values }: Term): number => form.compute(values);

/** What of a switch's losses comes at its edges. */
export type EdgeKind = 'TurnOn' | 'TurnOff' | 'OutputCharge' | 'Recovery' | 'Gate';

/** The edge losses of one position, by kind, and what its record leaves unknown. */
export interface SwitchTerms {
  readonly terms: readonly (Term & { readonly kind: EdgeKind })[];
  /** Words for what could not be reckoned. */
  readonly unknown: readonly string[];
}

/** The device on the other side of a leg: what it holds and what it must recover from. */
export type Opposite = Rectifier;

/** Driver and gate resistor where the stage states none, ohm. Common practice for a driver of some amperes. */
export const DRIVER_ON = 2;
export const DRIVER_OFF = 1;

type Driver = Stage['control']['gateDriver'];

/** Gate drive voltage of a device: the driver's, or that of its record. */
export const driveVoltage = (mosfet: Mosfet, driver: Driver): number | undefined =>
  driver?.voltage ?? mosfet.gateDriveVoltage;

/** Times of the edges of a device with its driver, s. */
export interface EdgeTimes {
  readonly on: number;
  readonly off: number;
  /** Of the voltage's fall at turn-on alone. */
  readonly fall: number;
}

/** Asked for at every load a switch is ranked at, with one driver at a time. */
const knownTimes = new WeakMap<Mosfet, { readonly driver: Driver; readonly times: EdgeTimes | undefined }>();

/** Times of the edges of a device; undefined where its record says too little, or the drive is too low. */
export function edgeTimes(mosfet: Mosfet, driver: Driver): EdgeTimes | undefined {
  const before = knownTimes.get(mosfet);
  if (before && before.driver === driver) return before.times;
  const times = timesOf(mosfet, driver);
  knownTimes.set(mosfet, { driver, times });
  return times;
}

function timesOf(mosfet: Mosfet, driver: Driver): EdgeTimes | undefined {
  const { gateDrainCharge: gateDrain, thresholdVoltage: threshold, plateauVoltage: plateau } = mosfet;
  const drive = driveVoltage(mosfet, driver);
  if (gateDrain === undefined || threshold === undefined || plateau === undefined || drive === undefined)
    return undefined;
  if (!(drive > plateau && plateau > threshold)) return undefined;
  const gateSource = mosfet.gateSourceCharge ?? 0;
  const own = mosfet.gateResistance ?? 0;
  const at = { gateSource, gateDrain, threshold, plateau };
  const resistance = (driver?.turnOnResistance ?? DRIVER_ON) + own;
  const least = leastEdge(mosfet);
  return {
    on: Math.max(least, turnOnTime.compute({ ...at, drive, resistance })),
    fall: Math.max(least, turnOnTime.compute({ ...at, gateSource: 0, drive, resistance })),
    off: Math.max(least, turnOffTime.compute({ ...at, resistance: (driver?.turnOffResistance ?? DRIVER_OFF) + own })),
  };
}

/**
 * Least time of an edge, s: package and loop inductance let the current rise no faster, whatever the gate is driven with. About 2 ns
 * with parts for 40 V and 8 ns with those for 400 V, between and beyond by the power that joins them. Common practice.
 */
function leastEdge({ drainSourceVoltageMax: rating }: Mosfet): number {
  if (rating === undefined) return LEAST_EDGE.time;
  return LEAST_EDGE.time * Math.max(1, rating / LEAST_EDGE.rating) ** LEAST_EDGE.power;
}

const LEAST_EDGE = { time: 2e-9, rating: 40, power: Math.log10(4) };

/** Share of the largest current at an edge from which a reversed one counts as more than rounding. */
const REVERSED = 1e-6;

const heldBy = (opposite: Opposite, voltage: number): OutputCharge =>
  opposite.kind === 'switch'
    ? mosfetOutputCharge(opposite.mosfet, voltage)
    : diodeOutputCharge(opposite.diode, voltage);

const recoveryOf = (opposite: Opposite): number | undefined =>
  opposite.kind === 'switch' ? opposite.mosfet.recoveryCharge : opposite.diode.recoveryCharge;

/** What a turn-on loses of the output charges of both devices, where some of the charge was moved before: not worth a term where all was. */
function outputChargeTerms(
  mosfet: Mosfet,
  opposite: Opposite,
  voltage: number,
  moved: number,
  { frequency: fSw, phases: devices }: Bearing,
): readonly (Term & { kind: EdgeKind })[] {
  const own = mosfetOutputCharge(mosfet, voltage);
  const held = heldBy(opposite, voltage);
  const whole = own.charge + held.charge;
  if (whole <= moved) return [];
  return [
    {
      kind: 'OutputCharge',
      ...termOf(outputChargeLoss, {
        share: moved / whole,
        ownEnergy: own.energy,
        otherCharge: held.charge,
        otherEnergy: held.energy,
        voltage,
        fSw,
        devices,
      }),
    },
  ];
}

/**
 * What a switch loses at its edges in the waveforms of a stage: overlap of voltage and current, the output charges of a hard
 * turn-on (its own and the other device's, which it has to charge), the recovery of a diode it turns off, and its gate.
 */
export function switchTerms(mosfet: Mosfet, opposite: Opposite, bearing: Bearing, driver: Driver): SwitchTerms {
  const { edges, frequency: fSw, phases: devices } = bearing;
  if (edges.length === 0) return { terms: [], unknown: [] };
  const terms: (Term & { kind: EdgeKind })[] = [];
  const unknown = new Set<string>();
  const times = edgeTimes(mosfet, driver);
  const largest = Math.max(...edges.map((edge) => Math.abs(edge.current)));
  for (const { kind, voltage, current, other, swing } of edges) {
    // A current that runs the other way swings the node by itself, as far as it gets within the dead time.
    const reversed = kind === 'on' && current < -REVERSED * largest;
    const stands = reversed ? (swing?.voltage ?? 0) : voltage;
    if (stands <= 0) continue;
    if (current > 0) {
      if (times)
        terms.push({
          kind: kind === 'on' ? 'TurnOn' : 'TurnOff',
          ...termOf(edgeOverlap, { voltage, current, time: times[kind], fSw, devices }),
        });
      else unknown.add('overlap at its edges');
    }
    if (kind === 'off') continue;
    const moved = reversed ? -current * (swing?.within ?? 0) : 0;
    terms.push(...outputChargeTerms(mosfet, opposite, stands, moved, bearing));
    if (mosfet.outputCharge === undefined) unknown.add('output charge');
    if (reversed || other !== 'diode') continue;
    const charge = recoveryOf(opposite);
    if (charge === undefined && opposite.kind === 'switch') unknown.add('recovery of the other body diode');
    if (charge !== undefined && charge > 0)
      terms.push({ kind: 'Recovery', ...termOf(periodicCharge, { charge, voltage, fSw, devices }) });
  }
  const drive = driveVoltage(mosfet, driver);
  if (mosfet.gateCharge !== undefined && drive !== undefined)
    terms.push({
      kind: 'Gate',
      ...termOf(periodicCharge, { charge: mosfet.gateCharge, voltage: drive, fSw, devices }),
    });
  else unknown.add('gate charge');
  return { terms, unknown: [...unknown] };
}

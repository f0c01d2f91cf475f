import type { PartOf } from './libraryPart.js';

/** Body diode of silicon at most, V: what drops more is a gate that wants a driver made for it. */
const SILICON_BODY = 1.5;

/** A gate that stands no more than its drive wants a driver made for it: such switches are taken where the driver is stated. */
export const isSilicon = ({ bodyDiodeVoltage = 0 }: PartOf<'mosfet'>): boolean => bodyDiodeVoltage <= SILICON_BODY;

/** Whether a controller with a gate drive, V, turns a switch fully on without harm. */
export const isDriven = (part: PartOf<'mosfet'>, drive: number): boolean =>
  isSilicon(part) && drive >= (part.gateDriveVoltage ?? 0);

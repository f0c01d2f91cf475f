import { CONVECTION, COPPER_CONDUCTIVITY, copperToAir, finEfficiency } from '../firstcut/thermalForms.js';
import type { Stage } from '../stage/schema.js';

type Cooling = NonNullable<Stage['parts']['cooling']>;

/** Thickness of the usual copper foil, m: 35 µm. */
const FOIL = 35e-6;

/** What a device says of its own heat path, K/W. */
export interface DevicePath {
  readonly junctionToCase?: number | undefined;
  readonly junctionToAmbient?: number | undefined;
}

/** Thermal resistance of a square copper area to the air, K/W, as a fin from its middle outwards. */
export function copperResistance(area: number, sides: number): number {
  const efficiency = finEfficiency.compute({
    convection: CONVECTION,
    conductivity: COPPER_CONDUCTIVITY,
    thickness: FOIL,
    length: Math.sqrt(area) / 2,
    // A foil cooled on one side is the fin of one side.
    sides,
  });
  return copperToAir.compute({ convection: CONVECTION, area, sides, efficiency });
}

/**
 * Thermal resistance from junction to ambient, K/W: over heatsink and pad where there is one, else over the copper area, else
 * as the device states it for the board of its data sheet.
 *
 * @returns undefined where nothing is known of the path.
 */
export function junctionToAmbient(device: DevicePath, cooling: Cooling | undefined): number | undefined {
  const { junctionToCase } = device;
  if (junctionToCase !== undefined && cooling?.heatsink !== undefined)
    return junctionToCase + (cooling.pad ?? 0) + cooling.heatsink;
  if (junctionToCase !== undefined && cooling?.copperArea !== undefined)
    return junctionToCase + copperResistance(cooling.copperArea, cooling.copperSides ?? 1);
  return device.junctionToAmbient;
}

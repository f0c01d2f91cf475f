import type { Mosfet } from './partsSchema.js';

const RESISTIVE = [
  'onResistance',
  'bodyDiodeResistance',
  'gateResistance',
  'junctionToCase',
  'junctionToAmbient',
] as const;
const CAPACITIVE = [
  'gateCharge',
  'gateDrainCharge',
  'gateSourceCharge',
  'outputCharge',
  'outputEnergy',
  'recoveryCharge',
  'drainCurrentMax',
] as const;

/** Equal MOSFETs in parallel as one: resistances of channel, gate and heat share, charges add. @public */
export function paralleledMosfet(mosfet: Mosfet): Mosfet {
  const { count = 1, ...one } = mosfet;
  if (count === 1) return one;
  const together: Mosfet = { ...one };
  for (const key of RESISTIVE) {
    const value = one[key];
    if (value !== undefined) together[key] = value / count;
  }
  for (const key of CAPACITIVE) {
    const value = one[key];
    if (value !== undefined) together[key] = value * count;
  }
  return together;
}

import type { Stage } from '../stage/schema.js';
import type { PartKind } from './libraryPart.js';

/** What kind of record stands at each place of a stage that is filled from records. */
export const PLACE_KINDS = {
  inductor: 'inductor',
  highSide: 'mosfet',
  lowSide: 'mosfet',
  outputHighSide: 'mosfet',
  outputLowSide: 'mosfet',
  diode: 'diode',
  outputCapacitors: 'capacitor',
  inputCapacitors: 'capacitor',
} as const satisfies Partial<Record<keyof Stage['parts'], PartKind>>;

/** The kind of record at a place; undefined where none stands. @public */
export const kindAt = (place: string): PartKind | undefined =>
  (PLACE_KINDS as Partial<Readonly<Record<string, PartKind>>>)[place];

import { nearestPreferred } from '../../quantity/preferredValues.js';
import type { PartOf } from '../libraryPart.js';
import { mosfetOfClass } from '../typicalMosfet.js';
import { gradeOf } from './grade.js';
import { MOSFET_CLASSES, type MosfetClass } from './mosfetClasses.js';
import { valueCode } from './values.js';

/** Steps of on-resistance within a class. */
const STEPS = 13;
/** Makers of a value, each with a grade of its own. */
const MAKERS: Readonly<Record<MosfetClass['material'], readonly string[]>> = {
  silicon: ['MQ', 'MR'],
  superjunction: ['MS', 'MT'],
  'gallium-nitride': ['MG'],
};

/** Generic MOSFETs, 20 to 650 V: in each class from the largest usual die to the smallest. */
export function mosfets(): readonly PartOf<'mosfet'>[] {
  return MOSFET_CLASSES.flatMap((kind) =>
    MAKERS[kind.material].flatMap((mark) => {
      const values = Array.from({ length: STEPS }, (_, i) =>
        nearestPreferred(kind.from * (kind.to / kind.from) ** (i / (STEPS - 1)), 'E24'),
      );
      return values.map((onResistance): PartOf<'mosfet'> => {
        const name = `${mark}${String(kind.rated)}-${valueCode(onResistance)}`;
        const { record, price } = mosfetOfClass(kind, kind.rated, onResistance, gradeOf(name));
        return { name, ...record, price };
      });
    }),
  );
}

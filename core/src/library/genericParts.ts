import { cans } from './generic/cans.js';
import { ceramics } from './generic/ceramics.js';
import { chokes } from './generic/chokes.js';
import { controllers } from './generic/controllers.js';
import { cores } from './generic/cores.js';
import { diodes } from './generic/diodes.js';
import { mosfets } from './generic/mosfets.js';
import type { PartKind, PartOf } from './libraryPart.js';

/**
 * The generic parts that ship with Yundro, by kind. Invented, and consistent in themselves: every figure follows from size, value and
 * rating by the laws that make real parts alike. No maker's part is meant by any of them.
 *
 * @public
 */
export function genericParts(): { readonly [K in PartKind]: readonly PartOf<K>[] } {
  return {
    inductor: chokes(),
    capacitor: [...ceramics(), ...cans()],
    mosfet: mosfets(),
    diode: diodes(),
    core: cores(),
    controller: controllers(),
  };
}

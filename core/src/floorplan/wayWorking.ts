import { GROUND } from '../circuit/elements.js';
import { applied, type AppliedForm, type ClosedForm } from '../firstcut/closedForm.js';
import { planeLoopInductance } from '../layout/conductorForms.js';
import { viaInductance, VIA_DIAMETER, type LoopWay } from './loopWay.js';
import { closedWayInductance } from './stripInductance.js';

/**
 * How the inductance of a loop over the board came about: over a plane piece by piece, without one as the sum of its partial inductances.
 *
 * @public
 */
export function wayWorking({ pieces, length }: LoopWay, plane: number | undefined): readonly AppliedForm[] {
  if (plane === undefined) {
    const width = pieces.reduce((sum, piece) => sum + piece.width, 0) / Math.max(1, pieces.length);
    const partials: ClosedForm<'length' | 'width'> = {
      name: 'Inductance of the loop',
      symbol: 'L_p',
      unit: 'H',
      formula:
        '\\sum_i\\sum_j \\frac{\\mu_0\\cos\\varepsilon_{ij}}{4\\pi}\\iint\\frac{\\mathrm{d}s\\,\\mathrm{d}t}{\\sqrt{r^2+g_{ij}^2}},\\quad g_{ij}=e^{-3/2}\\sqrt{w_i w_j}',
      source:
        'A. E. Ruehli, Inductance calculations in a complex integrated circuit environment (1972); mean distances from F. W. Grover, Inductance Calculations, ch. 3, from memory',
      assumption: 'Straight strips in air, parts among them; the field within the copper is not counted.',
      inputs: {
        length: { symbol: 'l', name: 'once round it', unit: 'm' },
        width: { symbol: 'w', name: 'width of its pieces, their mean', unit: 'm' },
      },
      compute: () => closedWayInductance(pieces),
    };
    return [applied(partials, { length, width })];
  }
  return pieces.flatMap(({ from, to, width, net }) => {
    const step = Math.hypot(to.x - from.x, to.y - from.y);
    if (net === GROUND) return [applied(viaInductance, { height: plane, diameter: VIA_DIAMETER })];
    return step > 0 ? [applied(planeLoopInductance, { length: step, width, height: plane })] : [];
  });
}

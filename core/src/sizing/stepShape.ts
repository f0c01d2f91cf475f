import { compensatorResponse } from '../controller/compensatorResponse.js';
import { completeCompensator, type CompleteCompensator } from '../controller/compensatorCircuit.js';
import { componentsOf, shapeOf, type Components, type Shape } from '../controller/shape.js';
import { magnitude } from '../linalg/complex.js';
import { nextPreferredDown, nextPreferredUp } from '../quantity/preferredValues.js';
import type { Stage } from '../stage/schema.js';
import { preferredComponents } from './networkParts.js';

/** What of a shape is moved: a zero or pole by its place, or the gain. @public */
export type ShapeHandle = { readonly of: 'zeros' | 'poles'; readonly place: number } | { readonly of: 'gain' };

/** Steps that are tried until the rounded components move: two decades of the series. */
const MOST_STEPS = 48;
/** A step moves a handle by more than rounding does. */
const MOVED = 1e-3;

const held = (shape: Shape, handle: ShapeHandle): number =>
  handle.of === 'gain' ? shape.gain : (shape[handle.of][handle.place] ?? NaN);

const put = (shape: Shape, handle: ShapeHandle, value: number): Shape =>
  handle.of === 'gain'
    ? { ...shape, gain: value }
    : { ...shape, [handle.of]: shape[handle.of].map((one, k) => (k === handle.place ? value : one)) };

/**
 * The components of preferred values that move one handle of a compensator's shape by the least there is: the handle walks the
 * E24 series until the rounded components follow it.
 *
 * @param shape the present one, of the present components.
 * @returns undefined where the network cannot go further that way.
 * @public
 */
export function steppedComponents(
  shape: Shape,
  handle: ShapeHandle,
  direction: 1 | -1,
  control: Stage['control'],
  frame: CompleteCompensator,
): Components | undefined {
  const { network, amplifier } = frame;
  const from = held(shape, handle);
  const moved = (components: Components): number | undefined => {
    const whole = completeCompensator({ ...control, compensator: { network, amplifier, components } });
    if (!whole.ok) return undefined;
    const gain = magnitude(compensatorResponse(whole.value)(shape.at));
    return held({ ...shapeOf(whole.value), at: shape.at, gain }, handle);
  };
  let value = from;
  for (let step = 0; step < MOST_STEPS; step += 1) {
    value = direction > 0 ? nextPreferredUp(value, 'E24') : nextPreferredDown(value, 'E24');
    const exact = componentsOf(put(shape, handle, value), frame);
    if (!exact) return undefined;
    const components = preferredComponents(exact);
    const reached = moved(components);
    if (reached !== undefined && direction * (reached / from - 1) > MOVED) return components;
  }
  return undefined;
}

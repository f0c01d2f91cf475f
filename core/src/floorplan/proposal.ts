import { Laying, type Laid } from './laying.js';
import type { Outline } from './outline.js';
import type { Placement } from './placement.js';
import { CONTROLLER, DIVIDER, type PlanGround } from './planGround.js';

/** An order in which parts are placed, and why. @public */
export interface PlacementStep {
  readonly words: string;
  readonly reason: string;
  readonly keys: readonly string[];
}

/**
 * The order in which a designer places this stage: what carries edges first, what is quiet last. Common practice.
 *
 * @public
 */
export function placementOrder({ outlines, loops }: PlanGround): readonly PlacementStep[] {
  const inLoops = new Set(loops.flatMap(({ steps }) => steps.flatMap(({ keys }) => keys)));
  const of = (holds: (outline: Outline) => boolean): readonly string[] => outlines.filter(holds).map(({ key }) => key);
  const steps: readonly PlacementStep[] = [
    {
      words: 'Switches',
      reason: 'The hot loops close through them: everything else is placed around them.',
      keys: of(({ kind }) => kind === 'switch' || kind === 'diode'),
    },
    {
      words: 'Capacitors of the hot loops',
      reason: 'They close the loops: each millimetre between them and the switches costs at every edge.',
      keys: of(({ kind, key }) => kind === 'capacitor' && inLoops.has(key)),
    },
    {
      words: 'Chokes',
      reason: 'At the switch node, so that its copper stays small; their current hardly changes at an edge.',
      keys: of(({ kind, element }) => kind === 'choke' && element !== 'inputFilter' && element !== 'outputFilter'),
    },
    {
      words: 'Other capacitors and sense resistors',
      reason: 'Between the choke and the terminals, in the way of the current.',
      keys: of(({ kind, key }) => kind === 'resistor' || (kind === 'capacitor' && !inLoops.has(key))),
    },
    {
      words: 'Filters, protection and terminals',
      reason:
        'At the edge, fuse and suppressor next to the terminal; what has been filtered does not pass the switches again.',
      keys: of(
        ({ kind, element }) =>
          kind === 'terminal' || kind === 'protection' || element === 'inputFilter' || element === 'outputFilter',
      ),
    },
    {
      words: 'Controller',
      reason: 'Near the gates it drives, its quiet side turned away from the switch node.',
      keys: of(({ kind }) => kind === 'controller'),
    },
    {
      words: 'Divider',
      reason: 'At the feedback pin: the long line belongs on the side of the output.',
      keys: of(({ kind }) => kind === 'divider'),
    },
  ];
  return steps.filter(({ keys }) => keys.length > 0);
}

/** Times that every part is taken up and laid down again. */
const ROUNDS = 3;
/** Places of the controller that are tried with the divider beside it. */
const TRIED = 32;

/**
 * A floor plan proposed: part by part in the order of placement, each at the best of the places beside those that lie already; then every part
 * is taken up and laid down again where it is better, the controller and its divider as a pair. The same ground gives the same plan.
 *
 * @public
 */
export function proposePlan(ground: PlanGround): Placement {
  const order = placementOrder(ground).flatMap(({ keys }) => keys);
  const laying = new Laying(ground);
  for (const key of order) {
    const place = laying.best(key);
    if (place) laying.put(key, place);
  }
  for (let round = 0; round < ROUNDS; round += 1)
    for (const key of order) {
      const before = laying.takeUp(key);
      const place = before && (laying.best(key) ?? before);
      if (place) laying.put(key, place);
    }
  layQuietPair(laying);
  return laying.placement();
}

/** Controller and divider laid anew together: where one stands best alone the line of the other may pass over what swings. */
function layQuietPair(laying: Laying): void {
  const [controller, divider] = [laying.takeUp(CONTROLLER), laying.takeUp(DIVIDER)];
  if (!controller) return;
  let best: { controller: Laid; divider: Laid | undefined; cost: number } | undefined;
  const consider = (one: Laid, other: Laid | undefined): void => {
    const cost = laying.costAt(one);
    laying.put(CONTROLLER, one);
    const beside = other && laying.costAt(other);
    laying.takeUp(CONTROLLER);
    const sum = cost + (beside ?? 0);
    if (!best || sum < best.cost) best = { controller: one, divider: other, cost: sum };
  };
  consider(controller, divider);
  for (const one of laying.bestFew(CONTROLLER, TRIED)) {
    laying.put(CONTROLLER, one);
    const other = divider && laying.best(DIVIDER);
    laying.takeUp(CONTROLLER);
    if (other !== undefined || divider === undefined) consider(one, other);
  }
  if (!best) return;
  laying.put(CONTROLLER, best.controller);
  if (best.divider) laying.put(DIVIDER, best.divider);
}

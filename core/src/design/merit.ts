import type { EvaluatedStage } from '../corners/evaluate.js';
import { placedParts, type Described, type PlacedPart } from '../powerstage/placedParts.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';

/** What a design is chosen by. @public */
export const OBJECTIVES = ['balanced', 'efficiency', 'size', 'cost'] as const;
/** @public */
export type Objective = (typeof OBJECTIVES)[number];

/** What a design costs in heat, board and money. @public */
export interface Figures {
  /** W at nominal input and full load. */
  readonly loss: number;
  /** m² of board under the parts. */
  readonly area: number;
  /** Sum of the prices, in the currency of the records. */
  readonly price: number;
}

/** Weights of the logarithms of loss, area and price: a design that loses a tenth more must save a fifth of its board to be as good. */
const WEIGHTS: Readonly<Record<Objective, Figures>> = {
  balanced: { loss: 1, area: 0.5, price: 0.5 },
  efficiency: { loss: 1, area: 0.05, price: 0.05 },
  size: { loss: 0.15, area: 1, price: 0.05 },
  cost: { loss: 0.15, area: 0.05, price: 1 },
};

/** How much is taken to be there besides the parts that are compared: a controller and its small parts. Common practice. */
const BESIDE: Figures = { loss: 0.05, area: 60e-6, price: 1 };

/** The merit of figures by an objective: the less the better. */
export const meritOf = ({ loss, area, price }: Figures, objective: Objective): number => {
  const weights = WEIGHTS[objective];
  return (
    weights.loss * Math.log(loss + BESIDE.loss) +
    weights.area * Math.log(area + BESIDE.area) +
    weights.price * Math.log(price + BESIDE.price)
  );
};

interface Sized extends Described {
  readonly count?: number | undefined;
}

const none: Pick<Figures, 'area' | 'price'> = { area: 0, price: 0 };

/** Room left about a part, m, and what it costs to place one: many small parts are dearer than they look. Common practice. */
const AROUND = 0.5e-3;
const PLACING = 0.02;

/** How the figures come about, for the place where they are shown. @public */
export const FIGURES_ARE = `Loss is that of the engine at nominal input and full load. Board is length times width of every part, each with ${String(1e3 * AROUND)} mm more both ways; price is that of the records, with ${String(PLACING)} to place each part. What a record does not state of them is taken to be that of a large and dear part of its kind. Of two designs the better has the lower sum of the logarithms of the three, weighted by what is asked for.`;

/**
 * Size, m, and price where a record states none: of a rather large and dear part of its kind, so that what is not said is no advantage.
 * Common practice.
 */
const UNSTATED = {
  choke: { length: 17e-3, width: 17e-3, price: 2.5 },
  switch: { length: 6e-3, width: 6e-3, price: 1.5 },
  diode: { length: 8e-3, width: 6e-3, price: 0.8 },
  ceramic: { length: 5.7e-3, width: 5e-3, price: 0.8 },
  can: { length: 10e-3, width: 10e-3, price: 1 },
} as const;

/** What the part of a first cut, which a record is still to take the place of, will about come to. Common practice. */
const TO_COME = {
  choke: { length: 10e-3, width: 10e-3, price: 0.8 },
  switch: { length: 3.3e-3, width: 3.3e-3, price: 0.35 },
  diode: { length: 4.5e-3, width: 3e-3, price: 0.25 },
  ceramic: { length: 3.2e-3, width: 2.5e-3, price: 0.12 },
  can: { length: 7e-3, width: 7e-3, price: 0.4 },
} as const satisfies Record<keyof typeof UNSTATED, unknown>;

function kindOf(part: Sized): keyof typeof UNSTATED {
  if ('inductance' in part) return 'choke';
  if ('onResistance' in part) return 'switch';
  if ('forwardVoltage' in part) return 'diode';
  return 'kind' in part && part.kind === 'ceramic' ? 'ceramic' : 'can';
}

/** Board and price of some equal parts. */
export function takenBy(part: Sized | undefined, times = 1): Pick<Figures, 'area' | 'price'> {
  if (!part) return none;
  const usual = (part.name === undefined ? TO_COME : UNSTATED)[kindOf(part)];
  const { length = usual.length, width = usual.width, price = usual.price, count = 1 } = part;
  return { area: (length + AROUND) * (width + AROUND) * count * times, price: (price + PLACING) * count * times };
}

/** The parts by which designs are compared: what is chosen for a place. */
const compared = (stage: Stage): readonly PlacedPart[] => placedParts(stage).filter(({ side }) => side === 'power');

/** How many power parts a stage places on its board. */
export const partsPlaced = (stage: Stage): number => compared(stage).reduce((sum, { count }) => sum + count, 0);

/** Board and price of all power parts of a stage. */
export function takenByParts(stage: Stage): Pick<Figures, 'area' | 'price'> {
  const taken = compared(stage).map(({ part, count }) => takenBy({ ...part, count }));
  return taken.reduce((sum, one) => ({ area: sum.area + one.area, price: sum.price + one.price }), none);
}

/** The solved point nearest to the nominal input, at full load; undefined where it has none. */
export function fullLoadPoint({ corners, complete }: EvaluatedStage): SolvedPoint | undefined {
  const { targets } = complete.stage;
  const nominal = nominalInput(complete.stage);
  const [at] = corners
    .filter(({ corner }) => corner.outputCurrent === targets.outputCurrent.max)
    .toSorted((a, b) => Math.abs(a.corner.inputVoltage - nominal) - Math.abs(b.corner.inputVoltage - nominal));
  return at?.result.kind === 'solved' ? at.result : undefined;
}

/** W lost there; infinite where there is no such point. */
export const lossOf = (evaluated: EvaluatedStage): number =>
  fullLoadPoint(evaluated)?.point.losses['total'] ?? Infinity;

/** Figures of a worked stage. */
export const figuresOf = (evaluated: EvaluatedStage): Figures => ({
  loss: lossOf(evaluated),
  ...takenByParts(evaluated.complete.stage),
});

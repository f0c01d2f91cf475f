import type { EvaluatedStage } from '../corners/evaluate.js';
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

interface Sized {
  readonly length?: number | undefined;
  readonly width?: number | undefined;
  readonly price?: number | undefined;
  readonly count?: number | undefined;
}

const none: Pick<Figures, 'area' | 'price'> = { area: 0, price: 0 };

/** Room left about a part, m, and what it costs to place one: many small parts are dearer than they look. Common practice. */
const AROUND = 0.5e-3;
const PLACING = 0.02;

/** Board and price of some equal parts. */
export const takenBy = (part: Sized | undefined, times = 1): Pick<Figures, 'area' | 'price'> =>
  part
    ? {
        area: ((part.length ?? 0) + AROUND) * ((part.width ?? 0) + AROUND) * (part.count ?? 1) * times,
        price: ((part.price ?? 0) + PLACING) * (part.count ?? 1) * times,
      }
    : none;

/** Board and price of all parts of a stage. */
export function takenByParts({ parts, phases }: Stage): Pick<Figures, 'area' | 'price'> {
  const taken = [
    takenBy(parts.inductor, phases),
    ...[parts.highSide, parts.lowSide, parts.outputHighSide, parts.outputLowSide, parts.diode].map((one) =>
      takenBy(one, phases),
    ),
    ...[...(parts.outputCapacitors ?? []), ...(parts.inputCapacitors ?? [])].map((bank) => takenBy(bank)),
  ];
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

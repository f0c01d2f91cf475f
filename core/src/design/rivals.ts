import type { Draft } from './search.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Figures } from './merit.js';

/** A design that was beaten, and by what. @public */
export interface Rival {
  readonly switchingFrequency: number;
  readonly inductor: string;
  readonly figures: Figures;
  /** Targets it misses before its load step is simulated, in words. */
  readonly misses: readonly string[];
  /** What it would gain and cost, in a sentence. */
  readonly words: string;
}

/** What a draft is, in few words: its frequency and choke. */
export function draftWords({ evaluated }: Draft): string {
  const { switchingFrequency, inductor } = evaluated.complete;
  return `${formatQuantity(switchingFrequency, 'Hz', 3)} with ${inductor.name ?? formatQuantity(inductor.inductance, 'H', 3)}`;
}

const percent = (value: number): string => `${(100 * value).toFixed(0)} %`;

/** The drafts that a design was chosen before, the nearest first. */
export function rivalsOf(drafts: readonly Draft[], taken: Draft): readonly Rival[] {
  const drafted = taken.figures;
  return drafts
    .filter((one) => one !== taken && Number.isFinite(one.figures.loss) && Number.isFinite(drafted.loss))
    .map((one): Rival => {
      const { figures } = one;
      const { switchingFrequency, inductor } = one.evaluated.complete;
      const than = (own: number, other: number, what: string): string =>
        `${percent(Math.abs(own / other - 1))} ${own < other ? 'less' : 'more'} ${what}`;
      const missing = one.evaluated.evaluation.verdicts.filter(({ pass }) => !pass).map(({ quantity }) => quantity);
      return {
        switchingFrequency,
        inductor: inductor.name ?? '',
        figures,
        misses: missing,
        words: `${draftWords(one)}: ${than(figures.loss, drafted.loss, 'loss')}, ${than(figures.area, drafted.area, 'board')}, ${than(figures.price, drafted.price, 'price')}, both before the load step is simulated${missing.length > 0 ? `; it misses ${missing.join(', ')}` : ''}`,
      };
    });
}

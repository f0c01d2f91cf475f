import type { Unit } from '@yundro/core';
import { InlineQuantity } from './InlineQuantity';

interface Props {
  readonly words: string;
  readonly unit: Unit;
  readonly value: number;
  /** What may be typed: anything else is refused with this range. */
  readonly range?: readonly [least: number, most: number] | undefined;
  readonly onTake: (value: number) => void;
}

/** A quantity of a tool with its words before it, as a row. */
export function InlineField({ words, ...quantity }: Props) {
  return (
    <div className="field">
      <span>{words}</span>
      <span>
        <InlineQuantity label={words} {...quantity} />
      </span>
    </div>
  );
}

import type { Unit } from '@yundro/core';
import { useState } from 'react';
import { inlineReading, inlineText } from './inlineReading';

interface Props {
  readonly label: string;
  readonly unit: Unit;
  readonly value: number;
  /** What may be typed: anything else is refused with this range. */
  readonly range?: readonly [least: number, most: number] | undefined;
  readonly onTake: (value: number) => void;
}

/**
 * A quantity of a tool, not of the stage: taken as Enter is pressed or the field is left. What cannot be read or taken stays to be mended,
 * with the sentence for it and the value that stands until then.
 */
export function InlineQuantity({ label, unit, value, range, onTake }: Props) {
  const [typed, setTyped] = useState<string>();
  const stands = inlineText(value, unit);
  const read = typed === undefined ? undefined : inlineReading(typed, unit, range);
  const take = (): void => {
    if (!read || 'fault' in read) return;
    setTyped(undefined);
    if (read.value !== value) onTake(read.value);
  };
  return (
    <>
      <input
        className="inline-number"
        aria-label={label}
        aria-invalid={read !== undefined && 'fault' in read}
        value={typed ?? stands}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          if (event.key === 'Escape') setTyped(undefined);
        }}
      />
      {read !== undefined && 'fault' in read && (
        <span className="fault d-block" role="alert">
          {read.fault} Until then it is {stands}.
        </span>
      )}
    </>
  );
}

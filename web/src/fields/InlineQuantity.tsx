import { formatQuantity, parseQuantity, problemsSentence, type Unit } from '@yundro/core';
import { useState } from 'react';

interface Props {
  readonly label: string;
  readonly unit: Unit;
  readonly value: number;
  readonly onTake: (value: number) => void;
}

/**
 * A quantity of a tool, not of the stage: taken as Enter is pressed or the field is left. What cannot be read stays to be mended, with
 * the sentence for it and the value that stands until then.
 */
export function InlineQuantity({ label, unit, value, onTake }: Props) {
  const [typed, setTyped] = useState<string>();
  const stands = unit === 'count' ? String(value) : formatQuantity(value, unit, 4);
  const read = typed === undefined ? undefined : parseQuantity(typed, unit);
  const take = (): void => {
    if (!read?.ok) return;
    setTyped(undefined);
    if (read.value !== value) onTake(read.value);
  };
  return (
    <>
      <input
        className="inline-number"
        aria-label={label}
        aria-invalid={read?.ok === false}
        value={typed ?? stands}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          if (event.key === 'Escape') setTyped(undefined);
        }}
      />
      {read?.ok === false && (
        <span className="fault d-block" role="alert">
          {problemsSentence(read.problems)} Until then it is {stands}.
        </span>
      )}
    </>
  );
}

import { formatQuantity, parseQuantity, type Unit } from '@yundro/core';
import { useState, type KeyboardEvent } from 'react';

interface Props {
  readonly name: string;
  /** Row and column, by which the keys find it. */
  readonly at?: string;
  readonly unit: Unit;
  readonly value: number | undefined;
  readonly onTake: (value: number | undefined) => void;
  readonly onKey?: (event: KeyboardEvent<HTMLInputElement>) => void;
}

/** A cell to type a reading in: taken as it is left, decimal commas understood. What cannot be read stays in it to be mended. */
export function QuantityCell({ name, at, unit, value, onTake, onKey }: Props) {
  const [typed, setTyped] = useState<string>();
  const read = typed === undefined || typed.trim() === '' ? undefined : parseQuantity(typed, unit, 'decimal');
  const take = (): void => {
    if (typed === undefined || read?.ok === false) return;
    setTyped(undefined);
    if (read?.value !== value) onTake(read?.value);
  };
  return (
    <input
      className="cell"
      aria-label={name}
      aria-invalid={read?.ok === false}
      data-cell={at}
      value={typed ?? (value === undefined ? '' : formatQuantity(value, unit, 5))}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setTyped(undefined);
        if (event.key === 'Enter') take();
        onKey?.(event);
      }}
    />
  );
}

import type { VerdictWord } from '@yundro/core';
import { Icon } from './Icon';

/** A verdict as word and shape in its colour. */
export function VerdictMark({ word, count }: { readonly word: VerdictWord; readonly count?: number }) {
  return (
    <span className={`verdict ${word}`}>
      <Icon shape={word} /> {word}
      {count !== undefined && ` ${String(count)}`}
    </span>
  );
}

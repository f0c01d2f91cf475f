import type { VerdictWord } from '@yundro/core';
import { Icon } from './Icon';

/** A verdict as word and shape in its colour. */
export function VerdictMark({ word, count }: { readonly word: VerdictWord | 'not judged'; readonly count?: number }) {
  return (
    <span className={`verdict ${word.replace(' ', '-')}`}>
      <Icon shape={word} /> {word}
      {count !== undefined && ` ${String(count)}`}
    </span>
  );
}

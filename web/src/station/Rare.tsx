import type { ReactNode } from 'react';

/** Fields that are rarely used: folded away under their name. */
export function Rare({ words, children }: { readonly words: string; readonly children: ReactNode }) {
  return (
    <details className="rare">
      <summary>{words}</summary>
      {children}
    </details>
  );
}

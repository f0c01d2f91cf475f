import type { LibraryPart, PartKind, PartOf } from '@yundro/core';
import { useEffect, useMemo, useState } from 'react';
import { api } from '../api/client';

/** The library parts of a kind; undefined while they are read, with the fault where they cannot be. */
export function useParts<K extends PartKind>(
  kind: K,
): { readonly parts: readonly PartOf<K>[] | undefined; readonly fault: string | undefined } {
  const [found, setFound] = useState<readonly LibraryPart[]>();
  const [fault, setFault] = useState<string>();
  useEffect(() => {
    let current = true;
    api.parts(kind).then(
      (parts) => current && setFound(parts),
      (error: unknown) =>
        current && setFault(error instanceof Error ? error.message : 'The library could not be read.'),
    );
    return () => {
      current = false;
    };
  }, [kind]);
  // The server has checked each against the schema of its kind.
  const parts = useMemo(() => found?.map(({ part }) => part as unknown as PartOf<K>), [found]);
  return { parts, fault };
}

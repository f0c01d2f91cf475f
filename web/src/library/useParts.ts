import { queryOptions, useQuery } from '@tanstack/react-query';
import type { LibraryPart, PartKind, PartOf } from '@yundro/core';
import { useMemo } from 'react';
import { api } from '../api/client';

/** Under what the parts of a kind are kept. */
export const partsKey = (kind: PartKind) => ['parts', kind] as const;

/** How the records of a kind are asked for. */
export const partsQuery = (kind: PartKind) =>
  queryOptions<readonly LibraryPart[]>({ queryKey: partsKey(kind), queryFn: () => api.parts(kind) });

/** The records of a kind as the server has them. */
export const useLibrary = (kind: PartKind) => useQuery(partsQuery(kind));

/** The parts in records; the server has checked each against the schema of its kind. */
export const partsOf = <K extends PartKind>(records: readonly LibraryPart[]): readonly PartOf<K>[] =>
  records.map(({ part }) => part as unknown as PartOf<K>);

/** The library parts of a kind; undefined while they are read, with the fault where they cannot be. */
export function useParts<K extends PartKind>(
  kind: K,
): { readonly parts: readonly PartOf<K>[] | undefined; readonly fault: string | undefined } {
  const { data, error } = useLibrary(kind);
  const parts = useMemo(() => data && partsOf<K>(data), [data]);
  return { parts, fault: error?.message };
}

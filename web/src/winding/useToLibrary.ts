import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { PartKind, PartOf } from '@yundro/core';
import { api } from '../api/client';
import { partsKey } from '../library/useParts';

/** Put a part into the library, in place of one of the same kind and name. */
export function useToLibrary<K extends PartKind>(
  kind: K,
  then?: (part: PartOf<K>) => void,
): {
  readonly save: (part: PartOf<K>) => void;
  readonly saving: boolean;
  /** What came of it, in a sentence. */
  readonly said: string;
} {
  const client = useQueryClient();
  const mutation = useMutation({
    mutationFn: async (part: PartOf<K>) => {
      const id = await api.openImport();
      await api.importRows(id, kind, [part]);
      await api.finishImport(id);
      return part;
    },
    onSuccess: async (part) => {
      await client.invalidateQueries({ queryKey: partsKey(kind) });
      then?.(part);
    },
  });
  return {
    save: (part) => mutation.mutate(part),
    saving: mutation.isPending,
    said: mutation.error
      ? `It is not in the library: ${mutation.error.message}`
      : mutation.data !== undefined
        ? `${mutation.data.name} is in the library.`
        : '',
  };
}

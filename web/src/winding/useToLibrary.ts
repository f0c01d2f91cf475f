import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { PartOf } from '@yundro/core';
import { api } from '../api/client';
import { partsKey } from '../library/useParts';

/** Put a choke into the library, in place of one of the same name. */
export function useToLibrary(): {
  readonly save: (part: PartOf<'inductor'>) => void;
  readonly saving: boolean;
  /** What came of it, in a sentence. */
  readonly said: string;
} {
  const client = useQueryClient();
  const mutation = useMutation({
    mutationFn: async (part: PartOf<'inductor'>) => {
      const id = await api.openImport();
      await api.importRows(id, 'inductor', [part]);
      await api.finishImport(id);
      return part.name;
    },
    onSuccess: () => client.invalidateQueries({ queryKey: partsKey('inductor') }),
  });
  return {
    save: (part) => mutation.mutate(part),
    saving: mutation.isPending,
    said: mutation.error
      ? `It is not in the library: ${mutation.error.message}`
      : mutation.data !== undefined
        ? `${mutation.data} is in the library.`
        : '',
  };
}

import { chokeSpecSchema, type ChokeSpec, type Fringing } from '@yundro/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface Winding {
  /** The choke that is being wound, by stage. */
  readonly chokes: Readonly<Partial<Record<string, ChokeSpec>>>;
  readonly fringing: Fringing;
  readonly put: (stageId: string, spec: ChokeSpec) => void;
  readonly setFringing: (fringing: Fringing) => void;
}

/** Chokes that are being wound: kept in the browser until they join the stage or the library. */
export const useWinding = create<Winding>()(
  persist(
    (set) => ({
      chokes: {},
      fringing: 'edge',
      put: (stageId, spec) => set(({ chokes }) => ({ chokes: { ...chokes, [stageId]: spec } })),
      setFringing: (fringing) => set({ fringing }),
    }),
    {
      name: 'winding',
      // What an older page kept may be of another form.
      merge: (kept, fresh) => {
        const { chokes, fringing } = (kept ?? {}) as Partial<Winding>;
        const read = Object.entries(chokes ?? {}).flatMap(([id, spec]) => {
          const one = chokeSpecSchema.safeParse(spec);
          return one.success ? [[id, one.data] as const] : [];
        });
        return { ...fresh, chokes: Object.fromEntries(read), ...(fringing === 'logarithm' && { fringing }) };
      },
    },
  ),
);

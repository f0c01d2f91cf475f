import { AUXILIARIES, type AuxiliaryName } from '@yundro/core';
import { z } from 'zod';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

const size = z.number().positive();
const geometrySchema = z.object({
  length: size,
  breadth: size,
  width: size,
  /** Height over a plane, m; undefined where there is none under the loop. */
  height: size.optional(),
});
/** A loop as it is laid out, m. */
export type LoopGeometry = z.infer<typeof geometrySchema>;

const copperSchema = z.object({ rise: size, foil: size, length: size });
/** What conductors are laid out for: K, m, and a length of them, m. */
export type Copper = z.infer<typeof copperSchema>;

const checkSchema = z.object({ state: z.enum(['open', 'done', 'not for us']), note: z.string() });
/** How a line of the checklist stands. */
export type Check = z.infer<typeof checkSchema>;

const onBoardSchema = z.object({
  geometry: z.record(z.string(), geometrySchema),
  copper: copperSchema,
  /** Values typed, by part and field, in SI. */
  values: z.record(z.string(), z.record(z.string(), z.number())),
  /** Shares or amounts typed for tolerances, by part and field. */
  tolerances: z.record(z.string(), z.record(z.string(), z.number())),
  checks: z.record(z.string(), checkSchema),
});
export type OnBoard = z.infer<typeof onBoardSchema>;

/** A small loop of an everyday board: 10 by 5 mm of 3 mm copper over a plane 0.2 mm below. */
export const USUAL_LOOP: LoopGeometry = { length: 10e-3, breadth: 5e-3, width: 3e-3, height: 0.2e-3 };
const FRESH: OnBoard = {
  geometry: {},
  copper: { rise: 20, foil: 35e-6, length: 20e-3 },
  values: {},
  tolerances: {},
  checks: {},
};

interface Board {
  readonly boards: Readonly<Partial<Record<string, OnBoard>>>;
  readonly put: (stageId: string, change: (board: OnBoard) => Partial<OnBoard>) => void;
}

/** What was typed about the boards of stages: kept in this browser. */
export const useBoards = create<Board>()(
  persist(
    (set) => ({
      boards: {},
      put: (stageId, change) =>
        set(({ boards }) => {
          const board = boards[stageId] ?? FRESH;
          return { boards: { ...boards, [stageId]: { ...board, ...change(board) } } };
        }),
    }),
    {
      name: 'boards',
      // What an older page kept may be of another form.
      merge: (kept, fresh) => {
        const { boards } = (kept ?? {}) as Partial<Board>;
        const read = Object.entries(boards ?? {}).flatMap(([id, board]) => {
          const one = onBoardSchema.safeParse(board);
          return one.success ? [[id, one.data] as const] : [];
        });
        return { ...fresh, boards: Object.fromEntries(read) };
      },
    },
  ),
);

/** The board of a stage, and how it is changed. */
export function useBoard(stageId: string) {
  const board = useBoards(({ boards }) => boards[stageId]) ?? FRESH;
  const put = useBoards((store) => store.put);
  return { board, change: (change: (board: OnBoard) => Partial<OnBoard>): void => put(stageId, change) };
}

export const AUXILIARY_NAMES = Object.keys(AUXILIARIES) as AuxiliaryName[];

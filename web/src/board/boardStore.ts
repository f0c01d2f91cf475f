import { AUXILIARIES, boardNotesSchema, type AuxiliaryName, type BoardNotes, type LoopGeometry } from '@yundro/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** A small loop of an everyday board: 10 by 5 mm of 3 mm copper over a plane 0.2 mm below. */
export const USUAL_LOOP: LoopGeometry = { length: 10e-3, breadth: 5e-3, width: 3e-3, height: 0.2e-3 };
const FRESH: BoardNotes = {
  geometry: {},
  copper: { rise: 20, foil: 35e-6, length: 20e-3 },
  values: {},
  tolerances: {},
  checks: {},
  noise: { network: 'mains', limit: '', margin: 6, deviation: 0 },
  plan: { placement: {}, plane: 0.2e-3 },
};

interface Board {
  readonly boards: Readonly<Partial<Record<string, BoardNotes>>>;
  readonly put: (stageId: string, change: (board: BoardNotes) => Partial<BoardNotes>) => void;
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
          const one = boardNotesSchema.safeParse(board);
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
  return { board, change: (change: (board: BoardNotes) => Partial<BoardNotes>): void => put(stageId, change) };
}

export const AUXILIARY_NAMES = Object.keys(AUXILIARIES) as AuxiliaryName[];

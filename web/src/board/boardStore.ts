import {
  AUXILIARIES,
  boardNotesSchema,
  keptBoardSchema,
  type AuxiliaryName,
  type BoardNotes,
  type KeptBoard,
  type LoopGeometry,
} from '@yundro/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** A small loop of an everyday board: 10 by 5 mm of 3 mm copper over a plane 0.2 mm below. */
export const USUAL_LOOP: LoopGeometry = { length: 10e-3, breadth: 5e-3, width: 3e-3, height: 0.2e-3 };
const FRESH: BoardNotes = {
  geometry: {},
  copper: { rise: 20, foil: 35e-6, length: 20e-3 },
  values: {},
  tolerances: {},
  taken: {},
  checks: {},
  noise: { network: 'mains', limit: '', margin: 6, deviation: 0 },
  heatsink: { sink: 8, insulator: 'pad', area: 1e-4 },
  plan: { placement: {}, plane: 0.2e-3 },
};

interface Boards {
  readonly boards: Readonly<Partial<Record<string, KeptBoard>>>;
  readonly put: (stageId: string, kept: KeptBoard) => void;
}

/** What was typed about the boards of stages: kept with the stages by the server, and in this browser until that has it. */
export const useBoards = create<Boards>()(
  persist(
    (set) => ({
      boards: {},
      put: (stageId, kept) => set(({ boards }) => ({ boards: { ...boards, [stageId]: kept } })),
    }),
    {
      name: 'boards',
      // What an older page kept may be of another form: notes alone, which no server has.
      merge: (stored, fresh) => {
        const { boards } = (stored ?? {}) as Partial<Boards>;
        const read = Object.entries(boards ?? {}).flatMap(([id, board]): [string, KeptBoard][] => {
          const kept = keptBoardSchema.safeParse(board);
          if (kept.success) return [[id, kept.data]];
          const notes = boardNotesSchema.safeParse(board);
          return notes.success ? [[id, { revision: 0, notes: notes.data, unsaved: true }]] : [];
        });
        return { ...fresh, boards: Object.fromEntries(read) };
      },
    },
  ),
);

/** The board of a stage, and how it is changed. */
export function useBoard(stageId: string) {
  const kept = useBoards(({ boards }) => boards[stageId]);
  return {
    board: kept?.notes ?? FRESH,
    change: (change: (board: BoardNotes) => Partial<BoardNotes>): void => {
      const { boards, put } = useBoards.getState();
      const { notes, revision } = boards[stageId] ?? { notes: FRESH, revision: 0 };
      put(stageId, { revision, notes: { ...notes, ...change(notes) }, unsaved: true });
    },
  };
}

export const AUXILIARY_NAMES = Object.keys(AUXILIARIES) as AuxiliaryName[];

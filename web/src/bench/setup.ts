import { instrumentsSchema, USUAL_INSTRUMENTS, type Instruments } from '@yundro/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface Setup {
  readonly instruments: Instruments;
  /** Of the board on the table. */
  readonly serial: string;
  readonly ambient: number;
  readonly set: (part: Partial<Pick<Setup, 'instruments' | 'serial' | 'ambient'>>) => void;
}

/** The instruments at hand and the board on the table: of this desk, kept in the browser. What a run was done with is kept with the run. */
export const useSetup = create<Setup>()(
  persist((set) => ({ instruments: USUAL_INSTRUMENTS, serial: '', ambient: 23, set: (part) => set(part) }), {
    name: 'bench',
    // What an older page kept may be of another form.
    merge: (kept, fresh) => {
      const { instruments, serial, ambient } = (kept ?? {}) as Partial<Setup>;
      const read = instrumentsSchema.safeParse(instruments);
      return {
        ...fresh,
        ...(read.success && { instruments: read.data }),
        ...(typeof serial === 'string' && { serial }),
        ...(typeof ambient === 'number' && { ambient }),
      };
    },
  }),
);

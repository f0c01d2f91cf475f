import { freed, valueAt, type Objective, type Stage } from '@yundro/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import type { NoDesign, ProposedDesign } from '../engine/designSurvey';
import { noteUnsaved } from '../stage/saving';
import { sessionNow, setTracked, setUntracked } from '../stage/stageSession';
import { work } from '../stage/working';

/** A design asked for: of the stage as it was then. */
export interface AskedDesign {
  readonly of: Stage;
  readonly objective: Objective;
  /** A switching frequency, Hz, and a choke of the library that it is to have, where a draft is to be finished. */
  readonly draft?: { readonly switchingFrequency: number; readonly inductor: string };
  /** Whether it is taken as soon as it is there, as part of the step before it. */
  readonly joins: boolean;
}

interface Designing {
  readonly asked: AskedDesign | undefined;
  readonly share: number;
  /** The draft that is ahead, in words. */
  readonly leading: string | undefined;
  readonly answer: { readonly to: AskedDesign; readonly value: ProposedDesign | NoDesign } | undefined;
}

const NONE: Designing = { asked: undefined, share: 0, leading: undefined, answer: undefined };
export const useDesigning = create<Designing>()(() => NONE);

interface Wishes {
  readonly objective: Objective;
  /** Whether what is free is chosen from records after every edit. */
  readonly always: boolean;
}
/** How the designer wants stages designed: kept from one visit to the next. */
export const useWishes = create<Wishes>()(
  persist((): Wishes => ({ objective: 'balanced', always: false }), { name: 'yundro-design' }),
);

/** Values of the control that a design chose and nobody typed since: they are chosen anew with the parts. */
let chosen: ReadonlyMap<string, number> = new Map();
const PATHS = ['deadTime', 'control.dutyMax', 'control.currentLimit', 'control.softStartTime'];

/** What of a stage is left to be designed: everything that is not pinned. */
export const toDesign = (stage: Stage): Stage => freed(stage, (path, value) => chosen.get(path) === value);

/** Ask for a design of the stage on the screen. */
export function askDesign(joins = false, draft?: AskedDesign['draft']): void {
  const { document } = sessionNow();
  if (!document) return;
  const { objective } = useWishes.getState();
  useDesigning.setState({
    asked: { of: document, objective, joins, ...(draft && { draft }) },
    share: 0,
    leading: undefined,
    answer: undefined,
  });
}

/** The stage that is to be designed as soon as it is open and worked: a new one. */
let wanted: string | undefined;
export const designOnceOpen = (id: string): void => {
  wanted = id;
};

/** Ask for the design that was wanted, once its stage stands as it was worked. */
export function askWanted(): void {
  const { id, document, worked, stale } = sessionNow();
  if (wanted === undefined || id !== wanted || !document || stale || !worked) return;
  wanted = undefined;
  askDesign();
}

/** Give up the design under way. */
export const stopDesign = (): void => useDesigning.setState({ asked: undefined, share: 0 });

/** Another stage is opened: what was proposed for the one before is of no use to it. */
export function forgetDesign(): void {
  chosen = new Map();
  useDesigning.setState(NONE);
}

/** What came of it; one that was to be taken at once is, where the stage is still the one it is of. */
export function answerDesign(to: AskedDesign, value: ProposedDesign | NoDesign): void {
  if (useDesigning.getState().asked !== to) return;
  useDesigning.setState({ asked: undefined, answer: { to, value } });
  if (to.joins) takeDesign();
}

/**
 * Take a stage that was drafted from another as one step of undo, and let what is free of it be designed as part of that step. Where the
 * other is no longer the design, or a text is under way, nothing is taken.
 */
export function takeDrafted(from: Stage, stage: Stage): void {
  const { document, typing } = sessionNow();
  if (document !== from || typing) return;
  setTracked({ document: stage });
  noteUnsaved();
  void work(false);
  askDesign(true);
}

/** Make the proposal the design, as one step of undo, or as part of the edit that it was asked with. */
export function takeDesign(): void {
  const { answer } = useDesigning.getState();
  const { document, typing } = sessionNow();
  // A text under way is an edit to come: it is not lost to a design of the stage before it.
  if (answer?.value.kind !== 'design' || document !== answer.to.of || typing) return;
  const { stage, choices } = answer.value;
  const set = answer.to.joins ? setUntracked : setTracked;
  set({ document: stage });
  chosen = new Map(
    choices.flatMap(({ path }) => {
      const value = PATHS.includes(path) ? valueAt(stage, path.split('.')) : undefined;
      return typeof value === 'number' ? [[path, value] as const] : [];
    }),
  );
  noteUnsaved();
  void work(false);
}

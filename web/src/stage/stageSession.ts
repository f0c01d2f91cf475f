import { valueAt, type Problem, type Stage, type StagePath, type StageRecord } from '@yundro/core';
import { temporal } from 'zundo';
import { create } from 'zustand';
import type { Worked } from '../engine/engine';

/** How the copy on this screen stands to the one in the database. */
export type SaveState =
  | { readonly kind: 'saved' }
  | { readonly kind: 'waiting' | 'saving' }
  /** Not reachable: tried again until it is. */
  | { readonly kind: 'unreachable'; readonly sentence: string }
  | { readonly kind: 'refused'; readonly sentence: string }
  /** Deleted meanwhile, in another tab or by someone else: the copy here is the last. */
  | { readonly kind: 'gone' }
  | { readonly kind: 'conflict'; readonly current: StageRecord };

/** What a field holds: a number, or the word of a choice. */
export type FieldValue = number | string;

/** Why a text is not the design: a problem to be said in the words of the screen, or a sentence. */
export type Fault = { readonly problem: Problem } | { readonly sentence: string };

/** A text in a field that is not the design: kept until it is taken, mended or withdrawn. */
export interface Pending {
  readonly path: StagePath;
  readonly text: string;
  /** Its value, where it is legible and was meant: tried again with every later edit. */
  readonly value: FieldValue | undefined;
  readonly fault: Fault;
}

/** The text under way in the field one is in. */
export interface Typing {
  readonly path: StagePath;
  readonly text: string;
  /** Why it cannot be taken as it stands; undefined where it can. */
  readonly fault: Fault | undefined;
}

/** Why a stage could not be opened, and whether that may pass by itself. */
export interface LoadFault {
  readonly kind: 'missing' | 'unreachable' | 'unreadable';
  readonly sentence: string;
}

export interface Session {
  /** The address that was opened. */
  readonly id: string | undefined;
  readonly record: StageRecord | undefined;
  readonly loadFault: LoadFault | undefined;
  /** The design: what is saved, judged and undone. */
  readonly document: Stage | undefined;
  /** The design as it would be with the text under way: worked and shown, neither saved nor a step of undo. */
  readonly preview: Stage | undefined;
  readonly typing: Typing | undefined;
  readonly pending: Readonly<Record<string, Pending>>;
  readonly save: SaveState;
  /** What the engine made of the preview where there is one, else of the design. */
  readonly worked: Worked | undefined;
  /** Whether the engine is behind what it should have worked. */
  readonly stale: boolean;
  /** Why the engine gave no answer. */
  readonly workFault: string | undefined;
}

export const emptySession: Session = {
  id: undefined,
  record: undefined,
  loadFault: undefined,
  document: undefined,
  preview: undefined,
  typing: undefined,
  pending: {},
  save: { kind: 'saved' },
  worked: undefined,
  stale: false,
  workFault: undefined,
};

/** The stage that is open. A step of undo is a change of the design, or of the texts that stand refused beside it. */
export const useSession = create<Session>()(
  temporal(() => emptySession, {
    partialize: ({ document, pending }) => ({ document, pending }),
    equality: (a, b) => a.document === b.document && a.pending === b.pending,
    limit: 500,
  }),
);

export const useHistory = useSession.temporal;

export const sessionNow = (): Session => useSession.getState();

/** Change the session as a step of undo where it changes the design. */
export const setTracked = (part: Partial<Session>): void => useSession.setState(part);

/** Change the session without a step of undo: what the engine or the server brings, or what joins the step before. */
export function setUntracked(part: Partial<Session>): void {
  const history = useHistory.getState();
  const tracking = history.isTracking;
  history.pause();
  useSession.setState(part);
  if (tracking) history.resume();
}

/** The number at a place of the open stage. */
export function numberAt(stage: Stage, path: StagePath): number | undefined {
  const value = valueAt(stage, path);
  return typeof value === 'number' ? value : undefined;
}

const NO_PENDING: readonly Pending[] = [];
let known: {
  readonly pending: Session['pending'];
  readonly typing: Typing | undefined;
  readonly all: readonly Pending[];
} = { pending: {}, typing: undefined, all: NO_PENDING };

/** Every text that stands in a field and cannot be the design: what the answers on the screen are without. */
export function refusedTexts({ pending, typing }: Pick<Session, 'pending' | 'typing'>): readonly Pending[] {
  // One and the same list while nothing changes, for views that compare by identity.
  if (known.pending === pending && known.typing === typing) return known.all;
  const at = typing?.path.join('.');
  const others = Object.entries(pending).flatMap(([key, one]) => (key === at ? [] : [one]));
  const all =
    typing?.fault === undefined
      ? others
      : [...others, { path: typing.path, text: typing.text, value: undefined, fault: typing.fault }];
  known = { pending, typing, all: all.length === 0 ? NO_PENDING : all };
  return known.all;
}

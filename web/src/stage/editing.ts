import {
  completeStage,
  followingDivider,
  parseQuantity,
  PINNABLE,
  problemsSentence,
  stageField,
  stageFromDocument,
  standsOnRecords,
  valueAt,
  pathKey,
  withInductor,
  withValue,
  type PartOf,
  type Pinnable,
  type Result,
  type Stage,
  type StagePath,
} from '@yundro/core';
import { askDesign, useWishes } from '../design/designing';
import { noteUnsaved } from './saving';
import {
  sessionNow,
  setTracked,
  setUntracked,
  useHistory,
  type Fault,
  type FieldValue,
  type Pending,
  type Session,
} from './stageSession';
import { work } from './working';

/** The pinnable value a place belongs to: editing it pins it. */
export function pinnableOf(path: StagePath): Pinnable | undefined {
  const key = pathKey(path);
  return PINNABLE.find((place) => key === place || key.startsWith(`${place}.`));
}

/** What is pinned once a place has been edited. */
function pinnedWith({ pinned }: Stage, path: StagePath): Stage['pinned'] {
  const pin = pinnableOf(path);
  return pin && !pinned.includes(pin) ? [...pinned, pin] : pinned;
}

/** A value to put at a place; undefined empties it. */
export interface Edit {
  readonly path: StagePath;
  readonly value: FieldValue | undefined;
}

/** What a text says, before the stage is asked whether it fits. */
export type Reading = { readonly value: FieldValue | undefined } | { readonly fault: Fault };

/** Read the text of a number's field. */
export function readNumber(path: StagePath, text: string, optional: boolean): Reading {
  const meta = stageField(path);
  if (!meta) throw new Error(`The stage file has no number at ${pathKey(path)}.`);
  if (text.trim() === '')
    return optional
      ? { value: undefined }
      : { fault: { sentence: `Give the ${meta.quantity}; this field cannot be empty.` } };
  const read = parseQuantity(text, meta.unit);
  if (read.ok) return { value: read.value };
  const [problem] = read.problems;
  return { fault: problem ? { problem } : { sentence: 'This text cannot be read here.' } };
}

/** The design with an edit, and the texts that stand refused beside it afterwards. */
interface Candidate {
  readonly stage: Stage;
  readonly pending: Session['pending'];
}

const without = (pending: Session['pending'], key: string): Session['pending'] =>
  key in pending ? Object.fromEntries(Object.entries(pending).filter(([other]) => other !== key)) : pending;

/** Where the divider stands that sets the output. */
const LOWER_DIVIDER: StagePath = ['control', 'compensator', 'components', 'rLower'];

/** What goes with an edit by itself: the divider follows the output that is asked for. */
function followingEdits(document: Stage | undefined, path: StagePath, value: FieldValue | undefined): readonly Edit[] {
  if (!document || pathKey(path) !== 'targets.outputVoltage' || typeof value !== 'number') return [];
  const lower = followingDivider(document, value);
  return lower === undefined ? [] : [{ path: LOWER_DIVIDER, value: lower }];
}

/**
 * What the design would be with an edit. Texts that were meant and did not fit are tried again with it: raising a minimum above
 * the maximum is no dead end, the maximum can follow.
 *
 * @param also further edits that go with this one, such as the sign of the output with the topology.
 */
function candidateOf(
  { document, pending }: Session,
  path: StagePath,
  value: FieldValue | undefined,
  also: readonly Edit[],
): Result<Candidate> {
  const others = without(pending, pathKey(path));
  const pinned = document && pinnedWith(document, path);
  const attempt = (edits: readonly Edit[]) =>
    stageFromDocument(
      edits.reduce<unknown>((doc, edit) => withValue(doc, edit.path, edit.value), { ...document, pinned }),
    );
  const own: readonly Edit[] = [{ path, value }, ...also, ...followingEdits(document, path, value)];
  const meant = Object.values(others).flatMap((one) =>
    one.value === undefined ? [] : [{ path: one.path, value: one.value }],
  );
  const together = meant.length > 0 ? attempt([...own, ...meant]) : undefined;
  if (together?.ok) {
    const unmeant = Object.fromEntries(Object.entries(others).filter(([, one]) => one.value === undefined));
    return { ok: true, value: { stage: together.value, pending: unmeant } };
  }
  const alone = attempt(own);
  return alone.ok ? { ok: true, value: { stage: alone.value, pending: others } } : alone;
}

const faultOf = (result: Extract<Result<unknown>, { ok: false }>): Fault => {
  const [problem] = result.problems;
  return problem ? { problem } : { sentence: 'This value does not fit.' };
};

/** Whether a text says what the design holds already: then nothing is changed, and nothing pinned. */
const isPresent = (document: Stage, path: StagePath, reading: Reading): boolean =>
  'value' in reading && valueAt(document, path) === reading.value;

/** Go back from what was being typed to the design, where something was previewed. */
function endPreview(): void {
  const { preview } = sessionNow();
  setUntracked({ typing: undefined, preview: undefined });
  if (preview !== undefined) void work(false);
}

/**
 * A text under way: where it is whole, legible and fits, the design with it is previewed; the design itself stays, whatever stands
 * in the field.
 */
export function typeText(path: StagePath, text: string, reading: Reading): void {
  const session = sessionNow();
  if (!session.document) return;
  if (isPresent(session.document, path, reading)) {
    setUntracked({ typing: { path, text, fault: undefined }, preview: undefined });
    if (session.preview !== undefined) void work(false);
    return;
  }
  const candidate = 'fault' in reading ? undefined : candidateOf(session, path, reading.value, []);
  const fault = 'fault' in reading ? reading.fault : candidate?.ok === false ? faultOf(candidate) : undefined;
  const preview = candidate?.ok ? candidate.value.stage : undefined;
  setUntracked({ typing: { path, text, fault }, preview });
  if (preview !== undefined) void work(!stands(session.document, preview));
  else if (session.preview !== undefined) void work(false);
}

/**
 * A text becomes the design: on Enter, on leaving the field, with a step key, or as the word of a choice. One that cannot be taken
 * leaves the design as it is and stands beside it, refused, until it is mended or withdrawn.
 *
 * @param joins whether it belongs to the step of undo before it, as one press of a step key after another.
 */
export function takeText(
  path: StagePath,
  text: string,
  reading: Reading,
  { also = [], joins = false }: { readonly also?: readonly Edit[]; readonly joins?: boolean } = {},
): void {
  const session = sessionNow();
  const { document, pending, worked, preview, stale, typing } = session;
  if (!document) return;
  const key = pathKey(path);
  if (isPresent(document, path, reading)) {
    withdraw(path);
    return;
  }
  const candidate = 'fault' in reading ? undefined : candidateOf(session, path, reading.value, also);
  if (!candidate?.ok) {
    const fault = 'fault' in reading ? reading.fault : candidate ? faultOf(candidate) : undefined;
    const value = 'fault' in reading ? undefined : reading.value;
    const entry: Pending = { path, text, value, fault: fault ?? { sentence: 'This value does not fit.' } };
    setTracked({ typing: undefined, preview: undefined, pending: { ...pending, [key]: entry } });
    if (preview !== undefined) void work(false);
    return;
  }
  const next = candidate.value;
  const set = joins ? setUntracked : setTracked;
  // What was previewed has been chosen and worked already: it only has to become the design.
  const same = typing?.text === text && pathKey(typing.path) === key;
  if (same && preview !== undefined && !stale && worked?.stage === preview) {
    set({ document: preview, pending: next.pending, typing: undefined, preview: undefined });
    noteUnsaved();
    if (useWishes.getState().always) askDesign(true);
    return;
  }
  apply(next.stage, { pending: next.pending, set });
}

/** Take over an edited stage: unless said otherwise what is not pinned is chosen anew, as any value may bear on it. */
function apply(
  next: Stage,
  {
    pending = sessionNow().pending,
    set = setTracked,
    rechoose = true,
  }: {
    readonly pending?: Session['pending'];
    readonly set?: typeof setTracked;
    readonly rechoose?: boolean;
  } = {},
): void {
  const before = sessionNow().document;
  set({ document: next, pending, typing: undefined, preview: undefined });
  noteUnsaved();
  void work(rechoose && !stands(before, next));
  // What is found in the records joins this step.
  if (rechoose && useWishes.getState().always) askDesign(true);
}

/**
 * Whether the parts stay as they are until the records have been searched: where they are from there, or will be. Those of another form of
 * stage do not.
 */
const stands = (before: Stage | undefined, next: Stage): boolean =>
  before?.topology === next.topology &&
  before.rectifier === next.rectifier &&
  before.phases === next.phases &&
  completeStage(next).ok &&
  (useWishes.getState().always || standsOnRecords(next));

const sameEntries = (a: Session['pending'], b: Session['pending']): boolean =>
  Object.keys(a).length === Object.keys(b).length && Object.entries(a).every(([key, one]) => b[key] === one);

/** Withdraw the text of a field, under way or refused: the field shows the design's value again. */
export function withdraw(path: StagePath): void {
  const key = pathKey(path);
  const { pending, typing } = sessionNow();
  if (key in pending) {
    const left = without(pending, key);
    setUntracked({ pending: left });
    // Where the refusal was the last step, it is as if it had not been: the next undo is of the step before it.
    const { pastStates } = useHistory.getState();
    const before = pastStates.at(-1);
    const same = before?.document === sessionNow().document && sameEntries(before?.pending ?? {}, left);
    if (same) useHistory.setState({ pastStates: pastStates.slice(0, -1) });
  }
  if (typing && pathKey(typing.path) === key) endPreview();
}

/**
 * Put a whole part at a place, or take it away with `undefined`: a bank, a filter, a coupling. The place is pinned where it can
 * be, for the designer has decided.
 *
 * @returns why the stage cannot take it; undefined when it did.
 */
export const putPart = (path: StagePath, value: unknown): string | undefined => put(path, value, true);

/**
 * Change one value and nothing else: what is not pinned stays as it is until the next edit. For a change whose effect was worked
 * just so.
 *
 * @returns why the stage cannot take it; undefined when it did.
 */
export const changeAlone = (path: StagePath, value: FieldValue): string | undefined => put(path, value, false);

/** Put an inductor of the library in, pinned; a pair of coupled windings brings its coefficient along. */
export function putInductor(part: PartOf<'inductor'>): string | undefined {
  const { document } = sessionNow();
  if (!document) return undefined;
  return take(withInductor({ ...document, pinned: pinnedWith(document, ['parts', 'inductor']) }, part), true);
}

/** Put a stage of the same design with more of its data in the place of the present one, as one step; nothing is chosen anew. */
export const putData = (stage: Stage): string | undefined => take(stage, false);

/** Put something at a place, pinned where it can be; `rechoose` chooses anew what is not pinned. */
function put(path: StagePath, value: unknown, rechoose: boolean): string | undefined {
  const { document } = sessionNow();
  if (!document) return undefined;
  return take(withValue({ ...document, pinned: pinnedWith(document, path) }, path, value), rechoose);
}

/** Make a document the design where it is a stage; else why it is none. */
function take(document: unknown, rechoose: boolean): string | undefined {
  const read = stageFromDocument(document);
  if (!read.ok) return problemsSentence(read.problems);
  apply(read.value, { rechoose });
  return undefined;
}

/** Put a whole stage in the place of the present one, as one step; what is not pinned is chosen anew. */
export const putStage = (stage: Stage): void => apply(stage);

/** Pin or free a design value; what is freed is chosen anew at once. */
export function setPinned(place: Pinnable, pinned: boolean): void {
  const { document } = sessionNow();
  if (!document) return;
  const others = document.pinned.filter((one) => one !== place);
  apply({ ...document, pinned: pinned ? [...others, place] : others });
}

function travel(which: 'undo' | 'redo'): void {
  const before = sessionNow().document;
  useHistory.getState()[which]();
  setUntracked({ typing: undefined, preview: undefined });
  // A refused text that comes or goes changes nothing that is worked or saved.
  if (sessionNow().document === before) return;
  noteUnsaved();
  void work(false);
}

/** Take back the text under way, where there is one; else the last step. */
export function undo(): void {
  const { typing } = sessionNow();
  if (typing) withdraw(typing.path);
  else travel('undo');
}
export const redo = (): void => travel('redo');

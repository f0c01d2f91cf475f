import type { Complex, ResponsePoint } from '@yundro/core';
import { create } from 'zustand';
import type { OtherLoop } from './loopCharts';

/** A loop gain laid over the present one: held from an earlier design, measured on a board, or by injection in the simulator. */
export interface Trace {
  readonly id: string;
  readonly words: string;
  readonly kind: 'held' | 'measured' | 'injected';
  /** How a file was taken. */
  readonly taken?: string;
  readonly points: readonly ResponsePoint[];
}

const KEY = 'yundro-loop-traces';
/** Traces kept of one stage: more than these no picture can tell apart. */
export const MOST_TRACES = 4;

type Kept = Readonly<Record<string, readonly Trace[]>>;

function kept(): Kept {
  try {
    const read: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return typeof read === 'object' && read !== null ? (read as Kept) : {};
  } catch {
    // Nothing kept, or storage forbidden.
    return {};
  }
}

/** Traces by stage, kept in the browser: they are the designer's, not part of the stage file. */
const useTraceStore = create<{ readonly byStage: Kept }>()(() => ({ byStage: kept() }));
const NONE: readonly Trace[] = [];

export const useTraces = (stage: string): readonly Trace[] => useTraceStore(({ byStage }) => byStage[stage] ?? NONE);

function put(stage: string, traces: readonly Trace[]): void {
  const others = Object.entries(useTraceStore.getState().byStage).filter(([one]) => one !== stage);
  const byStage = Object.fromEntries(traces.length > 0 ? [...others, [stage, traces] as const] : others);
  useTraceStore.setState({ byStage });
  try {
    localStorage.setItem(KEY, JSON.stringify(byStage));
  } catch {
    // The traces then last as long as the page.
  }
}

/** Lay a trace over the loops of a stage; the oldest goes where there are too many. @returns its name. */
export function addTrace(stage: string, trace: Omit<Trace, 'id'>): string {
  const before = useTraceStore.getState().byStage[stage] ?? [];
  const id = crypto.randomUUID();
  put(stage, [...before, { ...trace, id }].slice(-MOST_TRACES));
  return id;
}

/** Read otherwise: the same trace with other points. */
export function changeTrace(stage: string, id: string, change: Partial<Pick<Trace, 'taken' | 'points'>>): void {
  const before = useTraceStore.getState().byStage[stage] ?? [];
  put(
    stage,
    before.map((one) => (one.id === id ? { ...one, ...change } : one)),
  );
}

export function removeTrace(stage: string, id: string): void {
  put(
    stage,
    (useTraceStore.getState().byStage[stage] ?? []).filter((one) => one.id !== id),
  );
}

/** A trace as the pictures draw it. */
export const drawnTrace = ({ words, points }: Trace): OtherLoop => ({
  words,
  frequencies: points.map(({ frequency }) => frequency),
  values: points.map(({ value }): Complex => value),
  style: 'trace',
});

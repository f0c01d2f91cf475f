import type { Waveforms } from '@yundro/core';
import { create } from 'zustand';

/** A waveform laid over a run: of an earlier run that is held, or of a board. */
export interface Overlay {
  readonly id: string;
  readonly words: string;
  readonly kind: 'held' | 'measured';
  readonly waveforms: Waveforms;
  /** s and V or A, by which it is moved over the run. */
  readonly shift: number;
  readonly lift: number;
}

/** Overlays kept of one stage: more than these no picture can tell apart. */
export const MOST_OVERLAYS = 3;

/** Overlays by stage, for as long as the page is open: a run is large, and worked again in a moment. */
const useStore = create<Readonly<Record<string, readonly Overlay[]>>>()(() => ({}));
const NONE: readonly Overlay[] = [];

export const useOverlays = (stage: string): readonly Overlay[] => useStore((byStage) => byStage[stage] ?? NONE);

const change = (stage: string, to: (before: readonly Overlay[]) => readonly Overlay[]): void =>
  useStore.setState((byStage) => ({ [stage]: to(byStage[stage] ?? NONE) }));

/** Lay a waveform over the runs of a stage; the oldest goes where there are too many. */
export const addOverlay = (stage: string, overlay: Omit<Overlay, 'id'>): void =>
  change(stage, (before) => [...before, { ...overlay, id: crypto.randomUUID() }].slice(-MOST_OVERLAYS));

export const moveOverlay = (stage: string, id: string, by: Partial<Pick<Overlay, 'shift' | 'lift'>>): void =>
  change(stage, (before) => before.map((one) => (one.id === id ? { ...one, ...by } : one)));

export const removeOverlay = (stage: string, id: string): void =>
  change(stage, (before) => before.filter((one) => one.id !== id));

/** Where a waveform stands farthest from its first value, s; and that value. */
function farthest({ time, signals }: Waveforms): { readonly at: number; readonly first: number } {
  const [signal] = signals;
  const first = signal?.least[0] ?? 0;
  let at = 0;
  let most = 0;
  for (let i = 0; i < time.length; i += 1) {
    const off = Math.max(Math.abs((signal?.least[i] ?? first) - first), Math.abs((signal?.most[i] ?? first) - first));
    if (off <= most) continue;
    most = off;
    at = time[i] ?? 0;
  }
  return { at, first };
}

/** The shift and lift that lay a waveform's farthest excursion and its beginning over those of a run. */
export function aligned(waveform: Waveforms, run: Waveforms): Pick<Overlay, 'shift' | 'lift'> {
  const own = farthest(waveform);
  const to = farthest(run);
  return { shift: to.at - own.at, lift: to.first - own.first };
}

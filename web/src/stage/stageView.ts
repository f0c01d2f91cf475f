import type { Working } from '@yundro/core';
import { create } from 'zustand';

/** What a working is asked for: a figure at a corner, or one that was worked elsewhere. */
export type WorkingRequest =
  /** The target, where it was asked for from the ledger. */
  { readonly corner: number; readonly figure: string; readonly target?: string } | { readonly working: Working };

/** The picture shown in the Stage station. */
export type Picture = 'waveforms' | 'schematic' | 'conversion' | 'conduction' | 'frequency';

/** The picture shown in the Loop station. */
export type LoopPicture = 'gain' | 'corners' | 'plane' | 'impedance' | 'others' | 'step' | 'input' | 'spread';

/** The waveforms looked at, from the top down. */
export type PaneKeys = readonly [string, string, string];

const FIRST_PANES: PaneKeys = ['current:inductor1', 'node:sw1', 'ripple:out'];

interface Layout {
  readonly picture: Picture;
  readonly loopPicture: LoopPicture;
  readonly panes: PaneKeys;
  readonly folded: boolean;
  /** Whose lines the ledger shows. */
  readonly linesOf: 'stage' | 'station';
  readonly working: WorkingRequest | undefined;
  /** The corner looked at in the Stage station, by its place in the list; undefined for the worst of full load. */
  readonly corner: number | undefined;
}

/** Whether the window has no room for the ledger beside the station. */
const isNarrow = (): boolean => typeof window !== 'undefined' && window.matchMedia('(max-width: 1100px)').matches;

/** What is open and folded on the screen: not part of the stage, so not saved with it. */
export const useLayout = create<Layout>()(() => ({
  picture: 'waveforms',
  loopPicture: 'gain',
  panes: FIRST_PANES,
  folded: isNarrow(),
  linesOf: 'stage',
  working: undefined,
  corner: undefined,
}));

export const openWorking = (working: WorkingRequest | undefined): void => useLayout.setState({ working });
export const lookAt = (corner: number): void => useLayout.setState({ corner });
export const showPicture = (picture: Picture): void => useLayout.setState({ picture });
export const showTrace = (pane: number, key: string): void =>
  useLayout.setState(({ panes: [a, b, c] }) => ({
    panes: [pane === 0 ? key : a, pane === 1 ? key : b, pane === 2 ? key : c],
  }));
export const foldLedger = (folded: boolean): void => useLayout.setState({ folded });
export const showLinesOf = (linesOf: 'stage' | 'station'): void => useLayout.setState({ linesOf });
export const showLoopPicture = (loopPicture: LoopPicture): void => useLayout.setState({ loopPicture });

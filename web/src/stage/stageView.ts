import { create } from 'zustand';

/** What a line of working is asked for: a figure at a corner. */
export interface WorkingRequest {
  readonly corner: number;
  readonly figure: string;
}

interface Layout {
  readonly folded: boolean;
  readonly working: WorkingRequest | undefined;
  /** The corner looked at in the Stage station, by its place in the list; undefined for the worst of full load. */
  readonly corner: number | undefined;
}

/** What is open and folded on the screen: not part of the stage, so not saved with it. */
export const useLayout = create<Layout>()(() => ({ folded: false, working: undefined, corner: undefined }));

export const openWorking = (working: WorkingRequest | undefined): void => useLayout.setState({ working });
export const lookAt = (corner: number): void => useLayout.setState({ corner });
export const foldLedger = (folded: boolean): void => useLayout.setState({ folded });

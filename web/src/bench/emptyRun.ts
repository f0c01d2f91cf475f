import type { BenchRun } from '@yundro/core';

/** What a run is asked with before anything is measured. */
export const emptyRun = (
  part: Pick<BenchRun, 'kind' | 'title' | 'serial' | 'ambient' | 'instruments'> & Partial<BenchRun>,
): BenchRun => ({
  date: new Date().toISOString(),
  notes: '',
  points: [],
  readings: [],
  captures: [],
  pictures: [],
  state: 'entered',
  problem: null,
  ...part,
});

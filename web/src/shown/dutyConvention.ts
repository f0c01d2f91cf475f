import { pulseRatio } from '@yundro/core';
import { create } from 'zustand';

/** How a duty ratio is written: as D, the share of the period, or as the pulse ratio q = T/ton, its reciprocal. */
export type DutyConvention = 'D' | 'q';

const KEY = 'yundro-duty';

function kept(): DutyConvention {
  try {
    return localStorage.getItem(KEY) === 'q' ? 'q' : 'D';
  } catch {
    // Storage may be forbidden; the choice then lasts as long as the page.
    return 'D';
  }
}

export const useDutyConvention = create<{ readonly convention: DutyConvention }>()(() => ({ convention: kept() }));

export function writeDutyAs(convention: DutyConvention): void {
  useDutyConvention.setState({ convention });
  try {
    localStorage.setItem(KEY, convention);
  } catch {
    // As above.
  }
}

/** A duty ratio in the chosen convention. */
export const dutyAs = (convention: DutyConvention, duty: number): number =>
  convention === 'q' ? pulseRatio.compute({ duty }) : duty;

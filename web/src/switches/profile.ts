import { create } from 'zustand';
import type { LoadProfile } from '../engine/engine';

/** Loads of the profile, as shares of the full load, lightest first. */
const SHARES = [0.01, 0.05, 0.1, 0.25, 0.5, 0.75, 1];
const KEY = 'yundro-load-profile';
/** Most hours a load is given on the screen: a day. */
export const MOST_HOURS = 24;

/** Where nothing is known of the use: as long at every load. Common practice would ask the user. */
const FIRST: LoadProfile = SHARES.map((share) => ({ share, hours: 4 }));

function kept(): LoadProfile {
  try {
    const read: unknown = JSON.parse(localStorage.getItem(KEY) ?? '');
    if (!Array.isArray(read) || read.length !== SHARES.length) return FIRST;
    return SHARES.map((share, i) => {
      const hours: unknown = read[i];
      return { share, hours: typeof hours === 'number' && hours >= 0 && hours <= MOST_HOURS ? hours : 4 };
    });
  } catch {
    // Nothing kept, or storage forbidden.
    return FIRST;
  }
}

/** The hours a day at each load, by which switches are ranked: the designer's, for every stage alike. */
export const useLoadProfile = create<{ readonly profile: LoadProfile }>()(() => ({ profile: kept() }));

export function setHours(share: number, hours: number): void {
  const profile = useLoadProfile.getState().profile.map((one) => (one.share === share ? { ...one, hours } : one));
  useLoadProfile.setState({ profile });
  try {
    localStorage.setItem(KEY, JSON.stringify(profile.map((one) => one.hours)));
  } catch {
    // The profile then lasts as long as the page.
  }
}

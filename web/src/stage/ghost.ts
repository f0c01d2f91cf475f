import { create } from 'zustand';
import type { CornerView, Worked } from '../engine/engine';
import { askEngine } from '../engine/engineClient';
import { useSession } from './stageSession';

/** A design that is held under a name, to see later ones beside it. */
export interface Held {
  readonly name: string;
  readonly worked: Worked;
}

interface Ghosts {
  readonly held: readonly Held[];
  /** The work of the one that is drawn beside the present design. */
  readonly beside: number | undefined;
}

/** Designs that are held at once at most: more than that nobody compares. */
const MOST = 6;
const NONE: Ghosts = { held: [], beside: undefined };
/** They last as long as the stage is open. */
const useGhosts = create<Ghosts>()(() => NONE);

export const useAllHeld = (): readonly Held[] => useGhosts(({ held }) => held);
/** The design that is drawn beside the present one in every station. */
export const useHeld = (): Worked | undefined =>
  useGhosts(({ held, beside }) => held.find(({ worked }) => worked.work === beside)?.worked);

/** Smallest relative change worth showing: four digits are on the screen. */
const WORTH = 5e-4;

/** Whether two numbers differ on the screen. */
export const differs = (a: number, b: number): boolean => Math.abs(a - b) > WORTH * Math.max(Math.abs(a), Math.abs(b));

async function keep(next: Ghosts): Promise<void> {
  await askEngine((engine) => engine.hold(next.held.map(({ worked }) => worked.work)));
  useGhosts.setState(next);
}

/** Hold the present design beside those to come; of too many the oldest is let go. */
export async function holdPresent(): Promise<void> {
  const { worked } = useSession.getState();
  if (!worked) return;
  const { held } = useGhosts.getState();
  if (held.some((one) => one.worked.work === worked.work)) {
    useGhosts.setState({ beside: worked.work });
    return;
  }
  const taken = new Set(held.map(({ name }) => name));
  let n = held.length + 1;
  while (taken.has(`design ${String(n)}`)) n += 1;
  const next = [...held, { name: `design ${String(n)}`, worked }].slice(-MOST);
  await keep({ held: next, beside: worked.work });
}

/** Let a held design go. */
export async function letGo(work: number): Promise<void> {
  const { held, beside } = useGhosts.getState();
  const next = held.filter((one) => one.worked.work !== work);
  await keep({ held: next, beside: beside === work ? next.at(-1)?.worked.work : beside });
}

/** What is held belongs to the stage that was open. */
export const letAllGo = (): Promise<void> => keep(NONE);

export const showBeside = (work: number): void => useGhosts.setState({ beside: work });

export const nameHeld = (work: number, name: string): void =>
  useGhosts.setState(({ held }) => ({
    held: held.map((one) => (one.worked.work === work ? { ...one, name } : one)),
  }));

/** The corner of a design at the same input and load, and its place; undefined where it has none. */
export function cornerLike(
  worked: Worked | undefined,
  like: Pick<CornerView, 'inputVoltage' | 'outputCurrent'> | undefined,
): { readonly corner: CornerView; readonly index: number } | undefined {
  if (!worked || !like) return undefined;
  const index = worked.corners.findIndex(
    (one) => one.inputVoltage === like.inputVoltage && one.outputCurrent === like.outputCurrent,
  );
  const corner = worked.corners[index];
  return corner && { corner, index };
}

/** The corner of the held design at the same input and load, and its place; undefined where it had none. */
export function useHeldCorner(
  like: CornerView | undefined,
): { readonly corner: CornerView; readonly index: number } | undefined {
  return cornerLike(useHeld(), like);
}

import { create } from 'zustand';
import type { CornerView, Worked } from '../engine/engine';
import { askEngine } from '../engine/engineClient';
import { useSession } from './stageSession';

/** The design that is held, to see later ones beside it. It lasts as long as the stage is open. */
const useGhost = create<{ readonly held: Worked | undefined }>()(() => ({ held: undefined }));

export const useHeld = (): Worked | undefined => useGhost((ghost) => ghost.held);

/** Smallest relative change worth showing: four digits are on the screen. */
const WORTH = 5e-4;

/** Whether two numbers differ on the screen. */
export const differs = (a: number, b: number): boolean => Math.abs(a - b) > WORTH * Math.max(Math.abs(a), Math.abs(b));

/** Hold the present design, or let the held one go. */
export async function holdPresent(holding: boolean): Promise<void> {
  const { worked } = useSession.getState();
  await askEngine((engine) => engine.hold(holding ? worked?.work : undefined));
  useGhost.setState({ held: holding ? worked : undefined });
}

/** The corner of the held design at the same input and load, and its place; undefined where it had none. */
export function useHeldCorner(
  like: CornerView | undefined,
): { readonly corner: CornerView; readonly index: number } | undefined {
  const held = useHeld();
  if (!held || !like) return undefined;
  const index = held.corners.findIndex(
    (one) => one.inputVoltage === like.inputVoltage && one.outputCurrent === like.outputCurrent,
  );
  const corner = held.corners[index];
  return corner && { corner, index };
}

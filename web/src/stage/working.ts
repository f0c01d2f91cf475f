import type { Stage } from '@yundro/core';
import { askEngine } from '../engine/engineClient';
import { setEditing } from '../engine/useSurvey';
import { noteUnsaved } from './saving';
import { sessionNow, setUntracked } from './stageSession';

/** Numbers the works, so that later questions can name the one they are about. */
let lastWork = 0;
/** What waits for the engine: the newest only, for an answer to the others would be of no use. */
let waiting: { readonly rechoose: boolean } | undefined;
let busy = false;

/** What the engine should have worked: the design as it is being typed, else the design. */
const wanted = (): Stage | undefined => sessionNow().preview ?? sessionNow().document;

/**
 * Have the engine work the design, or its preview. While it is at one the newest of those that come meanwhile waits.
 *
 * @param rechoose whether what is not pinned is chosen anew.
 */
export async function work(rechoose: boolean): Promise<void> {
  waiting = { rechoose };
  setUntracked({ stale: true, workFault: undefined });
  setEditing(true);
  if (busy) return;
  busy = true;
  try {
    while (waiting) {
      const { rechoose: anew }: { readonly rechoose: boolean } = waiting;
      waiting = undefined;
      await workOnce(anew);
    }
  } finally {
    busy = false;
    setEditing(false);
  }
}

async function workOnce(rechoose: boolean): Promise<void> {
  const stage = wanted();
  if (!stage) return;
  lastWork += 1;
  const number = lastWork;
  let worked;
  try {
    worked = await askEngine((engine) => engine.work(number, stage, rechoose));
  } catch (error) {
    console.error('The engine gave no answer.', error);
    if (wanted() === stage) setUntracked({ workFault: error instanceof Error ? error.message : String(error) });
    return;
  }
  // Overtaken: the newer one is waiting.
  if (wanted() !== stage) return;
  const chosen = JSON.stringify(worked.stage) !== JSON.stringify(stage);
  const previewed = sessionNow().preview !== undefined;
  setUntracked({
    // What was asked and what is shown are one object: who takes something of it asks whether it is still the design.
    worked: chosen ? worked : { ...worked, stage },
    stale: false,
    ...(previewed ? { preview: worked.stage } : chosen && { document: worked.stage }),
  });
  if (chosen && !previewed) noteUnsaved();
}

/** Ask the engine once more, after it gave no answer. */
export const retryWork = (): void => void work(false);

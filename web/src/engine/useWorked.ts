import { useEffect, useState } from 'react';
import type { Remote } from 'comlink';
import type { Worked } from './engine.worker';
import type { Engine } from './engine.worker';
import { engine } from './engineClient';

/**
 * Ask the engine about the stage it worked last, anew whenever it was worked or the question changed. The last answer stays
 * until the next one is there.
 *
 * @param ask stable while the question stays the same (`useCallback`); undefined asks nothing.
 */
export function useWorked<T>(
  worked: Worked | undefined,
  ask: ((engine: Remote<Engine>) => Promise<T | undefined>) | undefined,
): T | undefined {
  const [found, setFound] = useState<T>();
  useEffect(() => {
    let current = true;
    if (worked && ask) void ask(engine).then((answer) => current && setFound(answer));
    return () => {
      current = false;
    };
  }, [worked, ask]);
  return found;
}

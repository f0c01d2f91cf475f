import { useEffect, useState } from 'react';

const fetched = async () => {
  const [{ NameDialog }, { NewStageDialog }] = await Promise.all([import('./NameDialog'), import('./NewStageDialog')]);
  return { NameDialog, NewStageDialog };
};

type Dialogs = Awaited<ReturnType<typeof fetched>>;

/**
 * The dialogs of the shelf, fetched with the first key or movement on the page: the shelf is read without them, and they are there before
 * they are asked for. Not by `lazy`, which shows a dialog a moment after its button, and loses what is typed in that moment.
 *
 * @param asked A dialog is waited for.
 * @param onFault is told when it cannot be fetched.
 */
export function useDialogs(asked: boolean, onFault: (sentence: string) => void): Dialogs | undefined {
  const [dialogs, setDialogs] = useState<Dialogs>();
  useEffect(() => {
    const heard = new AbortController();
    const fetchThem = (): void => {
      heard.abort();
      fetched().then(setDialogs, () => {
        if (asked) onFault('The dialog could not be fetched. Is the server running? Reload the page to try again.');
      });
    };
    if (asked) fetchThem();
    else
      for (const sign of ['pointermove', 'pointerdown', 'keydown', 'touchstart'])
        addEventListener(sign, fetchThem, { signal: heard.signal });
    return () => heard.abort();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the sentence is told once an asking
  }, [asked]);
  return dialogs;
}

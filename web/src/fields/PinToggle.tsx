import type { Pinnable } from '@yundro/core';
import { Icon } from '../shown/Icon';
import { setPinned } from '../stage/editing';
import { useSession } from '../stage/stageSession';

/** Whether the engine chooses a value or the designer has pinned it; one press changes it. */
export function PinToggle({ place, words }: { readonly place: Pinnable; readonly words: string }) {
  const pinned = useSession((session) => session.document?.pinned.includes(place) ?? false);
  return (
    <button
      type="button"
      className="pin"
      aria-pressed={pinned}
      aria-label={`${words}: pinned`}
      title={
        pinned
          ? 'Pinned by you: press to let Yundro choose it again.'
          : 'Chosen by Yundro and rechosen when targets move: press to keep it as it is.'
      }
      onClick={() => setPinned(place, !pinned)}
    >
      {pinned ? (
        <>
          <Icon shape="pin" /> pinned
        </>
      ) : (
        'auto'
      )}
    </button>
  );
}

import { statedCautions, type Caution } from '@yundro/core';
import { useState } from 'react';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { useLookedAt } from './useCorner';
import { useSession } from './stageSession';

/** What can hurt someone, or the stage, about it, from its own values: with its parts and its loop once it is opened. */
export function Cautions() {
  const stage = useSession((session) => session.document);
  const [open, setOpen] = useState(false);
  const looked = useLookedAt();
  const asked = useWorked(open ? looked : undefined, (engine, { work }) => engine.cautions(work));
  if (!stage) return null;
  return (
    <details className="caution mt-3" onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary>
        <strong>Cautions</strong> before power is applied
      </summary>
      {open && (
        <Answered of={asked} what="list of cautions" wait={<List of={statedCautions(stage)} />}>
          {(cautions) => <List of={cautions ?? statedCautions(stage)} />}
        </Answered>
      )}
    </details>
  );
}

const List = ({ of }: { readonly of: readonly Caution[] }) => (
  <ul className="mb-0" aria-label="Cautions">
    {of.map(({ code, sentence }) => (
      <li key={code}>{sentence}</li>
    ))}
  </ul>
);

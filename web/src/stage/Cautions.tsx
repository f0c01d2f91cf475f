import { cautionsOf, type Stage } from '@yundro/core';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { useLookedAt } from './useCorner';
import { useSession } from './stageSession';

/** What can hurt someone, or the stage, about it, from its own values: with its parts where they are worked. */
export function Cautions() {
  const stage = useSession((session) => session.document);
  const asked = useWorked(useLookedAt(), (engine, { work }) => engine.cautions(work));
  if (!stage) return null;
  return (
    <Answered of={asked} what="cautions" wait={<List of={cautionsOf(stage)} stage={stage} />}>
      {(cautions) => <List of={cautions ?? cautionsOf(stage)} stage={stage} />}
    </Answered>
  );
}

function List({ of, stage }: { readonly of: ReturnType<typeof cautionsOf>; readonly stage: Stage }) {
  return (
    <details className="caution mt-3" aria-label={`Cautions of ${stage.name}`}>
      <summary>
        <strong>
          {of.length} {of.length === 1 ? 'caution' : 'cautions'} before power is applied
        </strong>
      </summary>
      <ul className="mb-0">
        {of.map(({ code, sentence }) => (
          <li key={code}>{sentence}</li>
        ))}
      </ul>
    </details>
  );
}

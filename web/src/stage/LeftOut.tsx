import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { askEngine } from '../engine/engineClient';
import { partsOf, partsQuery } from '../library/useParts';
import { putData } from './editing';
import { useSession } from './stageSession';

/** What losses and efficiencies leave out, as nobody has stated it: to stand where they stand. */
export function LeftOut({
  of,
}: {
  /** What is left out of another than the stage on the screen. */
  readonly of?: readonly string[];
}) {
  const own = useSession((session) => session.worked?.evaluation?.notIncluded);
  const sentences = of ?? own;
  if (!sentences || sentences.length === 0) return null;
  return (
    <p className="small quiet mb-1" data-testid="left-out">
      {sentences.join(' ')} The real loss is higher. {of === undefined && <FillTypical />}
    </p>
  );
}

/** Takes what is missing from the class of each part, as one step that undo takes back. */
function FillTypical() {
  const document = useSession((session) => session.document);
  const library = useQueryClient();
  const [told, setTold] = useState<string>();
  if (!document) return null;
  const fill = async (): Promise<void> => {
    try {
      const [inductor, diode] = await Promise.all([
        library.query(partsQuery('inductor')),
        library.query(partsQuery('diode')),
      ]);
      const records = { inductor: partsOf<'inductor'>(inductor), diode: partsOf<'diode'>(diode) };
      const { stage, filled } = await askEngine((engine) => engine.filledFromClass(document, records));
      setTold(
        filled.length === 0
          ? 'No class of part says more: what is missing is of the controller or the source.'
          : putData(stage),
      );
    } catch (error) {
      setTold(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <Button
        variant="plain"
        title="Fills what the parts do not state with what is typical of their class, notes it in the part, and changes nothing else"
        onClick={() => void fill()}
      >
        Fill with what is typical
      </Button>
      {told !== undefined && <span role="status"> {told}</span>}
    </>
  );
}

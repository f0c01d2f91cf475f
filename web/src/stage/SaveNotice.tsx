import { Button } from 'react-bootstrap';
import { saveNow, settleConflict, useSession } from './stageSession';

/** What stands in the way of saving, and the ways out. */
export function SaveNotice() {
  const save = useSession((session) => session.save);
  if (save.kind === 'unreachable') {
    return (
      <div className="notice bad" role="alert">
        {save.sentence} Your edits are kept in this browser and saved as soon as it answers again.
        <Button variant="plain" onClick={() => void saveNow()}>
          Try now
        </Button>
      </div>
    );
  }
  if (save.kind === 'refused') {
    return (
      <div className="notice bad" role="alert">
        {save.sentence}
      </div>
    );
  }
  if (save.kind === 'conflict') {
    return (
      <div className="notice bad" role="alert">
        This stage was saved elsewhere meanwhile (revision {save.current.revision}). Whichever version you keep, the
        other one is put on the shelf as a copy.
        <Button variant="outline-secondary" onClick={() => void settleConflict('mine')}>
          Keep mine
        </Button>
        <Button variant="outline-secondary" onClick={() => void settleConflict('theirs')}>
          Take the other
        </Button>
      </div>
    );
  }
  return null;
}

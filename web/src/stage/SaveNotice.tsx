import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { downloadStage } from '../shelf/stageFiles';
import { makeAnew, saveNow, settleConflict } from './saving';
import { useSession } from './stageSession';
import { work } from './working';

const settle = async (keep: 'mine' | 'theirs'): Promise<void> => {
  if (await settleConflict(keep)) void work(false);
};

/** What stands in the way of saving, and the ways out. */
export function SaveNotice() {
  const navigate = useNavigate();
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
        {save.sentence} Your edits are kept in this browser.
        <Button variant="plain" onClick={() => void saveNow()}>
          Try again
        </Button>
      </div>
    );
  }
  if (save.kind === 'gone') {
    const anew = async (): Promise<void> => {
      const made = await makeAnew();
      if (made !== undefined) void navigate(`/stages/${made}/overview`);
    };
    const { document } = useSession.getState();
    return (
      <div className="notice bad" role="alert">
        This stage was deleted meanwhile, in another tab or by somebody else. What is on this screen is kept in this
        browser and saved nowhere else.
        <Button variant="outline-secondary" onClick={() => void anew()}>
          Make it anew
        </Button>
        <Button variant="outline-secondary" onClick={() => document && downloadStage(document)}>
          Export it
        </Button>
        <Link to="/">Back to the shelf</Link>
      </div>
    );
  }
  if (save.kind === 'conflict') {
    return (
      <div className="notice bad" role="alert">
        This stage was saved elsewhere meanwhile (revision {save.current.revision}). Whichever version you keep, the
        other one is put on the shelf as a copy.
        <Button variant="outline-secondary" onClick={() => void settle('mine')}>
          Keep mine
        </Button>
        <Button variant="outline-secondary" onClick={() => void settle('theirs')}>
          Take the other
        </Button>
      </div>
    );
  }
  return null;
}

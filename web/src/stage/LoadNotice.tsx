import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client';
import { downloadStage } from '../shelf/stageFiles';
import { clearDraft, readDraft } from './draft';
import { retryOpen } from './opening';
import { useSession } from './stageSession';

/** Why there is no stage on the screen, what of it this browser keeps, and what can be done. */
export function LoadNotice({ id }: { readonly id: string }) {
  const fault = useSession((session) => session.loadFault);
  const [failed, setFailed] = useState<string>();
  const navigate = useNavigate();
  if (!fault) return null;
  const draft = readDraft(id);
  const makeAnew = async (): Promise<void> => {
    if (!draft) return;
    try {
      const [first] = await api.shelf();
      const made = await api.createStage(first?.id ?? (await api.createProject('Recovered')), draft.document);
      clearDraft(id);
      void navigate(`/stages/${made.id}/overview`);
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'That did not work.');
    }
  };
  return (
    <div className="notice bad" role="alert">
      <p className="mb-1">
        {fault.sentence} {fault.kind === 'unreachable' && 'The stage is opened as soon as it can be. '}
        {draft
          ? `This browser keeps a copy of “${draft.document.name}” with edits that were never saved.`
          : fault.kind === 'missing' && 'This browser keeps no unsaved edits of it.'}
      </p>
      {draft && (
        <>
          {fault.kind === 'missing' && (
            <Button variant="outline-secondary" onClick={() => void makeAnew()}>
              Make it anew from the copy
            </Button>
          )}{' '}
          <Button variant="outline-secondary" onClick={() => downloadStage(draft.document)}>
            Export the copy
          </Button>{' '}
        </>
      )}
      {fault.kind !== 'missing' && (
        <Button variant="outline-secondary" onClick={() => void retryOpen(id)}>
          Try now
        </Button>
      )}{' '}
      <Link to="/">Back to the shelf</Link>
      {failed !== undefined && <p className="mb-0 mt-1">{failed}</p>}
    </div>
  );
}

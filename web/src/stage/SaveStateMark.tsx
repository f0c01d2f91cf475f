import { useSession } from './stageSession';

/** How the copy on this screen stands to the one in the database, in a word or two. */
export function SaveStateMark() {
  const save = useSession((session) => session.save);
  const opened = useSession((session) => session.record !== undefined);
  if (!opened) return null;
  const words = {
    saved: 'saved',
    waiting: 'unsaved changes',
    saving: 'saving …',
    unreachable: 'not saved: kept in this browser',
    refused: 'not saved',
    conflict: 'not saved: changed elsewhere',
    gone: 'not saved: deleted elsewhere',
  }[save.kind];
  return (
    <span className="quiet small" role="status" data-testid="save-state">
      {words}
    </span>
  );
}

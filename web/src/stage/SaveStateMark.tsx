import { useSession } from './stageSession';

/** How the copy on this screen stands to the one in the database, in a word or two. */
export function SaveStateMark() {
  const save = useSession((session) => session.save);
  const words = {
    saved: 'saved',
    waiting: 'unsaved changes',
    saving: 'saving …',
    unreachable: 'not saved: kept in this browser',
    refused: 'not saved',
    conflict: 'not saved: changed elsewhere',
  }[save.kind];
  return (
    <span className="quiet small" role="status" data-testid="save-state">
      {words}
    </span>
  );
}

import { Button } from 'react-bootstrap';
import type { Told } from './useTold';

/** How a long survey stands: what it is at, with a way to stop it, or to let it begin anew. */
export function ToldState({
  of: { working, stopped, stop, goOn },
  at,
}: {
  readonly of: Pick<Told<unknown, unknown>, 'working' | 'stopped' | 'stop' | 'goOn'>;
  /** What it is at, in words. */
  readonly at: string;
}) {
  if (!working && !stopped) return null;
  return (
    <span className="quiet">
      {stopped ? 'Stopped.' : at}{' '}
      <Button variant="plain" onClick={stopped ? goOn : stop}>
        {stopped ? 'Begin again' : 'Stop'}
      </Button>{' '}
    </span>
  );
}

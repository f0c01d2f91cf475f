import { useSession } from './stageSession';

/** What losses and efficiencies leave out, as nobody has stated it: to stand where they stand. */
export function LeftOut() {
  const sentences = useSession((session) => session.worked?.evaluation?.notIncluded);
  if (!sentences || sentences.length === 0) return null;
  return (
    <p className="small quiet mb-1" data-testid="left-out">
      {sentences.join(' ')} The real loss is higher.
    </p>
  );
}

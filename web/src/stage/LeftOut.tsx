import { useSession } from './stageSession';

/**
 * What losses and efficiencies leave out, as nobody has stated it: to stand where they stand.
 *
 * @param of what is left out of another than the stage on the screen.
 */
export function LeftOut({ of }: { readonly of?: readonly string[] }) {
  const own = useSession((session) => session.worked?.evaluation?.notIncluded);
  const sentences = of ?? own;
  if (!sentences || sentences.length === 0) return null;
  return (
    <p className="small quiet mb-1" data-testid="left-out">
      {sentences.join(' ')} The real loss is higher.
    </p>
  );
}

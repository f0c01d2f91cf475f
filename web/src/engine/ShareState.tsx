import { ToldState } from './ToldState';
import type { Shared } from './useShare';

/** How far a long survey is, with a way to stop it. */
export function ShareState({
  of,
  doing,
}: {
  readonly of: Omit<Shared<unknown, unknown>, 'asked'>;
  readonly doing: string;
}) {
  return <ToldState of={of} at={`${doing}: ${(100 * of.share).toFixed(0)} %.`} />;
}

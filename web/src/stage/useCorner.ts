import { useSession } from './stageSession';
import { useLayout } from './stageView';

/** The corner looked at: the one picked, else full load at the highest input. */
export function useCorner(): number | undefined {
  const corners = useSession((session) => session.worked?.corners);
  const picked = useLayout((layout) => layout.corner);
  if (!corners || corners.length === 0) return undefined;
  return picked !== undefined && picked < corners.length ? picked : corners.length - 1;
}

import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate } from 'react-router';
import { sessionNow } from '../stage/stageSession';
import { lookAt, useLayout } from '../stage/stageView';
import { NUMBERED, STATIONS } from '../stage/stations';

/** Keys of a stage: its stations by number, and the corner before and after. */
export function useStageKeys(id: string): void {
  const navigate = useNavigate();
  useHotkeys(
    STATIONS.slice(0, NUMBERED).map((_, k) => `alt+${String(k + 1)}`),
    (_, { keys }) => {
      const station = STATIONS[Number(keys?.[0]) - 1];
      if (station) void navigate(`/stages/${id}/${station.to}`);
    },
    { preventDefault: true, enableOnFormTags: true },
    [id, navigate],
  );
  const step = (by: number): void => {
    const count = sessionNow().worked?.corners.length ?? 0;
    const here = useLayout.getState().corner ?? count - 1;
    if (count > 0) lookAt((here + by + count) % count);
  };
  useHotkeys('[', () => step(-1), { useKey: true, enableOnFormTags: ['radio'] });
  useHotkeys(']', () => step(1), { useKey: true, enableOnFormTags: ['radio'] });
}

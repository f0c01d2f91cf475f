import { formatQuantity } from '@yundro/core';
import { useSession } from '../stage/stageSession';
import { MOST_HOURS, setHours, useLoadProfile } from './profile';

/** Hours a day at each load, drawn as bars to be pulled up and down. */
export function LoadProfileEditor() {
  const full = useSession((session) => session.document?.targets.outputCurrent.max) ?? 0;
  const profile = useLoadProfile(({ profile: now }) => now);
  return (
    <fieldset className="profile" aria-label="Load profile">
      <legend>Hours at each load</legend>
      <div className="profile-bars">
        {profile.map(({ share, hours }) => (
          <label key={share}>
            <span className="profile-hours">{hours} h</span>
            <input
              type="range"
              min={0}
              max={MOST_HOURS}
              step={1}
              value={hours}
              aria-label={`Hours at ${formatQuantity(share * full, 'A', 3)}`}
              onChange={(event) => setHours(share, Number(event.target.value))}
            />
            <span className="quiet small">{formatQuantity(share * full, 'A', 2)}</span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

import { kindAt } from '../library/placeKinds.js';
import type { Stage } from '../stage/schema.js';

/**
 * A stage without what is not pinned, to be designed anew: parts, compensator, and the switching frequency where the targets allow a
 * range of it. What surrounds it and what its control states stays.
 *
 * @param also whether further values of the control were chosen and not typed: those are freed too.
 * @public
 */
export function freed(stage: Stage, also: (path: string, value: number | undefined) => boolean = () => false): Stage {
  const pinned: ReadonlySet<string> = new Set(stage.pinned);
  const parts = Object.fromEntries(
    Object.entries(stage.parts).filter(([place]) => kindAt(place) === undefined || pinned.has(`parts.${place}`)),
  );
  const { switchingFrequency, control, deadTime, ...rest } = stage;
  const { compensator, currentLimit, softStartTime, dutyMax, ...kept } = control;
  const keepsFrequency = pinned.has('switchingFrequency') || !stage.targets.switchingFrequency;
  const bare = compensator && !pinned.has('control.compensator') ? { ...compensator, components: {} } : compensator;
  return {
    ...rest,
    parts,
    deadTime: also('deadTime', deadTime) ? 0 : deadTime,
    ...(keepsFrequency && switchingFrequency !== undefined && { switchingFrequency }),
    control: {
      ...kept,
      dutyMax: also('control.dutyMax', dutyMax) ? 1 : dutyMax,
      ...(currentLimit !== undefined && !also('control.currentLimit', currentLimit) && { currentLimit }),
      ...(softStartTime !== undefined && !also('control.softStartTime', softStartTime) && { softStartTime }),
      ...(bare && { compensator: bare }),
    },
  };
}

/** Whether what is not pinned of a stage came from records: it stands until the stage is designed anew. @public */
export function standsOnRecords({ parts, pinned }: Stage): boolean {
  const held: ReadonlySet<string> = new Set(pinned);
  return Object.entries(parts)
    .filter(([place]) => kindAt(place) !== undefined && !held.has(`parts.${place}`))
    .flatMap(([, part]) => (Array.isArray(part) ? (part as readonly object[]) : [part as object]))
    .some((part) => 'name' in part && part.name !== undefined);
}

import { isStale } from '../engine/inquiry';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { GiveSheet, SheetPaper } from '../shown/SheetPaper';
import { useWorkedStage } from '../stage/useCorner';
import type { BoardFramed } from './BoardStation';

/** All cautions of the stage on one sheet to print, with the numbers that make them true. */
export function CareView({ frame }: BoardFramed) {
  const asked = useSurvey(useWorkedStage(), (survey, { stage }) => survey.careSheet(stage));
  const sheet = asked.answer?.value;
  return frame({
    fields: (
      <fieldset>
        <legend>On paper</legend>
        {sheet && <GiveSheet sheet={sheet} file="care.pdf" stale={isStale(asked)} />}
      </fieldset>
    ),
    picture: (
      <Answered of={asked} what="sheet" wait={<p className="quiet">The cautions are being worked …</p>}>
        {(found) =>
          found ? (
            <SheetPaper sheet={found} words="Care" />
          ) : (
            <p className="quiet">The sheet appears when the stage has all its parts.</p>
          )
        }
      </Answered>
    ),
  });
}

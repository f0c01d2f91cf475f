import { useMemo } from 'react';
import { isStale } from '../engine/inquiry';
import { useSurvey } from '../engine/useSurvey';
import type { ChokeReport } from '../engine/windingSurvey';
import { Answered } from '../shown/Answered';
import { GiveSheet, SheetPaper } from '../shown/SheetPaper';
import { SurveyWait } from '../stage/SurveyWait';
import { useChokeWork } from './useChokeWork';
import type { WindingFramed } from './WindingStation';

/** What a choke is wound and checked by: on the page, on paper, as PDF. */
export function SheetView({ frame }: WindingFramed) {
  const { asked, spec } = useChokeWork();
  const question = useMemo(() => asked && spec && { ...asked, spec }, [asked, spec]);
  const report = useSurvey<NonNullable<typeof question>, ChokeReport | string>(question, (survey, of) =>
    survey.chokeWorked(of.stage, of.cores, of.spec),
  );
  return frame({
    fields: (
      <fieldset>
        <legend>On paper</legend>
        {report.answer && typeof report.answer.value !== 'string' && (
          <GiveSheet sheet={report.answer.value.sheet} file="winding-sheet.pdf" stale={isStale(report)} />
        )}
      </fieldset>
    ),
    picture: spec ? (
      <Answered of={report} what="winding sheet" wait={<SurveyWait working />}>
        {(found) =>
          typeof found === 'string' ? (
            <p className="quiet">{found}</p>
          ) : (
            <SheetPaper sheet={found.sheet} words="Winding sheet" />
          )
        }
      </Answered>
    ) : (
      <p className="quiet">Choose a choke first: under “Search”, or under “One choke”.</p>
    ),
  });
}

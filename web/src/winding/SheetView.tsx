import type { WindingSheet } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { isStale } from '../engine/inquiry';
import { useSurvey } from '../engine/useSurvey';
import type { ChokeReport } from '../engine/windingSurvey';
import { Answered } from '../shown/Answered';
import { download } from '../shown/download';
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
          <Given sheet={report.answer.value.sheet} stale={isStale(report)} />
        )}
      </fieldset>
    ),
    picture: spec ? (
      <Answered of={report} what="winding sheet" wait={<SurveyWait working />}>
        {(found) => (typeof found === 'string' ? <p className="quiet">{found}</p> : <Sheet sheet={found.sheet} />)}
      </Answered>
    ) : (
      <p className="quiet">Choose a choke first: under “Search”, or under “One choke”.</p>
    ),
  });
}

function Given({ sheet, stale }: { readonly sheet: WindingSheet; readonly stale: boolean }) {
  const [failed, setFailed] = useState<string>();
  const pdf = async (): Promise<void> => {
    try {
      const { sheetPdf } = await import('./sheetPdf');
      download('winding-sheet.pdf', 'application/pdf', await sheetPdf(sheet));
      setFailed(undefined);
    } catch (error) {
      console.error(error);
      setFailed('The PDF could not be made: print the page instead.');
    }
  };
  return (
    <>
      <Button variant="plain" disabled={stale} onClick={() => window.print()}>
        Print
      </Button>
      <Button variant="plain" disabled={stale} onClick={() => void pdf()}>
        PDF
      </Button>
      {failed !== undefined && (
        <p className="fault small" role="alert">
          {failed}
        </p>
      )}
    </>
  );
}

function Sheet({ sheet: { title, sections } }: { readonly sheet: WindingSheet }) {
  return (
    <article className="winding-sheet" aria-label="Winding sheet">
      <h2>{title}</h2>
      {sections.map(({ heading, lines }) => (
        <section key={heading}>
          <h3>{heading}</h3>
          {lines.map((line) =>
            typeof line === 'string' ? (
              <p key={line} className="small mb-1">
                {line}
              </p>
            ) : (
              <p key={line[0]} className="sheet-line">
                <span className="quiet">{line[0]}</span> {line[1]}
              </p>
            ),
          )}
        </section>
      ))}
    </article>
  );
}

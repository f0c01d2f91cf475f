import type { Sheet } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { download } from './download';

/** Ways in which a sheet is given away: printed, and as PDF. */
export function GiveSheet({
  sheet,
  file,
  stale,
}: {
  readonly sheet: Sheet;
  /** Name of the PDF. */
  readonly file: string;
  readonly stale: boolean;
}) {
  const [failed, setFailed] = useState<string>();
  const pdf = async (): Promise<void> => {
    try {
      const { sheetPdf } = await import('./sheetPdf');
      download(file, 'application/pdf', await sheetPdf(sheet));
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

/** A sheet as it is printed. */
export function SheetPaper({ sheet: { title, sections }, words }: { readonly sheet: Sheet; readonly words: string }) {
  return (
    <article className="sheet" aria-label={words}>
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

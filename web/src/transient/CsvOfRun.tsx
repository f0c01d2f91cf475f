import type { Waveforms } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useSurvey } from '../engine/useSurvey';
import { download } from '../shown/download';
import { Failed } from '../shown/Answered';

interface Wanted {
  /** Its own: two runs of one length look alike to who asks whether a question is a new one. */
  readonly id: string;
  readonly name: string;
  readonly waveforms: Waveforms;
}

/** The waveforms of a run as a file. Hundreds of thousands of rows take seconds: they are written off the thread that draws. */
export function CsvOfRun({ name, waveforms }: Omit<Wanted, 'id'>) {
  const [wanted, setWanted] = useState<Wanted>();
  const writing = useSurvey<Wanted, undefined>(wanted, async (survey, asked) => {
    download(`${asked.name} transient.csv`, 'text/csv', await survey.waveformsCsv(asked.waveforms));
    setWanted(undefined);
    return undefined;
  });
  if (writing.failure)
    return <Failed what="file of the waveforms" sentence={writing.failure.sentence} retry={writing.retry} />;
  if (wanted)
    return (
      <span className="small" role="status">
        Writing the waveforms …{' '}
        <Button variant="plain" onClick={() => setWanted(undefined)}>
          Stop
        </Button>
      </span>
    );
  return (
    <Button
      variant="outline-secondary"
      size="sm"
      onClick={() => setWanted({ id: crypto.randomUUID(), name, waveforms })}
    >
      Waveforms as CSV
    </Button>
  );
}

import type { ReadWaveform, Waveforms } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useParams } from 'react-router';
import { InlineQuantity } from '../fields/InlineQuantity';
import { useSurvey } from '../engine/useSurvey';
import { Failed } from '../shown/Answered';
import type { WorkedRun } from '../engine/transientSurvey';
import { addOverlay, aligned, MOST_OVERLAYS, moveOverlay, removeOverlay, useOverlays } from './overlays';

/** Largest file read, bytes: a million points. */
const LARGEST_FILE = 4e7;

/** A measured output as waveforms: one signal, laid over that of a run. */
const waveformsOf = ({ time, value }: ReadWaveform): Waveforms => ({
  time,
  signals: [{ name: 'output voltage', unit: 'V', least: value, most: value }],
});

/** A file that is being read, and the run it is to be laid over. */
interface Recording {
  /** Its own: two files look alike to who asks whether a question is a new one. */
  readonly id: string;
  readonly stage: string;
  readonly file: File;
  readonly over: Waveforms;
}

/** Holds a run to be compared with those that follow, and brings in what an oscilloscope recorded. */
export function RunTools({ worked, words }: { readonly worked: WorkedRun; readonly words: string }) {
  const { id = '' } = useParams();
  const overlays = useOverlays(id);
  const [fault, setFault] = useState<string>();
  const [record, setRecord] = useState<Recording>();
  const { waveforms } = worked.run;
  // A million lines take a while: they are read off the thread that draws.
  const reading = useSurvey<Recording, undefined>(record, async (survey, { stage, file, over }) => {
    const read = await survey.readRecord(await file.text());
    setFault(typeof read === 'string' ? `${file.name}: ${read}` : undefined);
    setRecord(undefined);
    if (typeof read === 'string') return undefined;
    const measured = waveformsOf(read);
    addOverlay(stage, {
      words: `measured, ${file.name} (${read.taken})`,
      kind: 'measured',
      waveforms: measured,
      ...aligned(measured, over),
    });
    return undefined;
  });
  const bring = (file: File): void => {
    const tooLarge = file.size > LARGEST_FILE;
    setFault(tooLarge ? `${file.name} is larger than 40 MB: give it fewer points.` : undefined);
    if (!tooLarge) setRecord({ id: crypto.randomUUID(), stage: id, file, over: waveforms });
  };
  return (
    <section aria-label="Runs laid over" className="traces small">
      <Button
        variant="plain"
        title="Keeps this run in the picture while the design changes, as long as the page is open"
        onClick={() => addOverlay(id, { words: `held: ${words}`, kind: 'held', waveforms, shift: 0, lift: 0 })}
      >
        Hold this run
      </Button>
      <label className="file-button" title="Columns of time and output voltage, as an oscilloscope writes them">
        Oscilloscope record …
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          aria-label="File of an oscilloscope record"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            if (file) bring(file);
            event.target.value = '';
          }}
        />
      </label>
      {record && !reading.failure && (
        <span role="status">
          Reading {record.file.name} …{' '}
          <Button variant="plain" onClick={() => setRecord(undefined)}>
            Stop
          </Button>
        </span>
      )}
      {reading.failure && (
        <Failed what="record of the oscilloscope" sentence={reading.failure.sentence} retry={reading.retry} />
      )}
      {fault !== undefined && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {overlays.length > 0 && (
        <ul aria-label={`Laid over, ${String(MOST_OVERLAYS)} at most`}>
          {overlays.map((overlay) => (
            <li key={overlay.id}>
              {overlay.words}{' '}
              {overlay.kind === 'measured' && (
                <>
                  <label>
                    later by{' '}
                    <InlineQuantity
                      label={`${overlay.words}: later by`}
                      unit="s"
                      value={overlay.shift}
                      onTake={(shift) => moveOverlay(id, overlay.id, { shift })}
                    />
                  </label>{' '}
                  <label>
                    higher by{' '}
                    <InlineQuantity
                      label={`${overlay.words}: higher by`}
                      unit="V"
                      value={overlay.lift}
                      onTake={(lift) => moveOverlay(id, overlay.id, { lift })}
                    />
                  </label>{' '}
                </>
              )}
              <button type="button" className="link" onClick={() => removeOverlay(id, overlay.id)}>
                remove
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

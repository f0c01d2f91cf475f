import { formatQuantity, parseQuantity, readWaveform, type ReadWaveform, type Waveforms } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useParams } from 'react-router';
import type { WorkedRun } from '../engine/transientSurvey';
import { addOverlay, aligned, MOST_OVERLAYS, moveOverlay, removeOverlay, useOverlays, type Overlay } from './overlays';

/** Largest file read, bytes: a million points. */
const LARGEST_FILE = 4e7;

/** A measured output as waveforms: one signal, laid over that of a run. */
const waveformsOf = ({ time, value }: ReadWaveform): Waveforms => ({
  time,
  signals: [{ name: 'output voltage', unit: 'V', least: value, most: value }],
});

/** Holds a run to be compared with those that follow, and brings in what an oscilloscope recorded. */
export function RunTools({ worked, words }: { readonly worked: WorkedRun; readonly words: string }) {
  const { id = '' } = useParams();
  const overlays = useOverlays(id);
  const [fault, setFault] = useState<string>();
  const { waveforms } = worked.run;
  const bring = async (file: File): Promise<void> => {
    if (file.size > LARGEST_FILE) {
      setFault(`${file.name} is larger than 40 MB: give it fewer points.`);
      return;
    }
    const read = readWaveform(await file.text());
    if (typeof read === 'string') {
      setFault(`${file.name}: ${read}`);
      return;
    }
    setFault(undefined);
    const measured = waveformsOf(read);
    addOverlay(id, {
      words: `measured, ${file.name} (${read.taken})`,
      kind: 'measured',
      waveforms: measured,
      ...aligned(measured, waveforms),
    });
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
            if (file) void bring(file);
            event.target.value = '';
          }}
        />
      </label>
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
                  <Moved stage={id} overlay={overlay} of="shift" words="later by" unit="s" />{' '}
                  <Moved stage={id} overlay={overlay} of="lift" words="higher by" unit="V" />{' '}
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

interface MovedProps {
  readonly stage: string;
  readonly overlay: Overlay;
  readonly of: 'shift' | 'lift';
  readonly words: string;
  readonly unit: 's' | 'V';
}

/** By how much a record is moved over the run: found from its farthest excursion, and to be typed over. */
function Moved({ stage, overlay, of, words, unit }: MovedProps) {
  const [typed, setTyped] = useState<string>();
  const shown = formatQuantity(overlay[of], unit, 4);
  return (
    <label>
      {words}{' '}
      <input
        className="inline-number"
        size={10}
        value={typed ?? shown}
        aria-label={`${overlay.words}: ${words}`}
        onChange={(event) => {
          const read = parseQuantity(event.target.value, unit);
          setTyped(event.target.value);
          if (read.ok) moveOverlay(stage, overlay.id, { [of]: read.value });
        }}
        onBlur={() => setTyped(undefined)}
      />
    </label>
  );
}

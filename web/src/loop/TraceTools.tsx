import {
  formatQuantity,
  loopCsv,
  readResponse,
  type LoopReport,
  type PhaseConvention,
  type ReadResponse,
  type ResponseReading,
} from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useParams } from 'react-router';
import { download } from '../shown/download';
import { useSession } from '../stage/stageSession';
import type { LookedAt } from '../stage/useCorner';
import { InjectedSweep } from './InjectedSweep';
import { addTrace, changeTrace, MOST_TRACES, removeTrace, useTraces } from './traces';

/** Largest file read, bytes: a sweep of a thousand points takes some ten thousand. */
const LARGEST_FILE = 4e6;

/** A measured file while this page is open: how it was read, and what it takes to read it otherwise. */
interface MeasuredFile {
  readonly text: string;
  readonly reading: ResponseReading;
  readonly read: ReadResponse;
}

/** Holds the present loop as a trace, brings in a measured one, and gives the responses away as a file. */
export function TraceTools({
  report,
  corner,
  looked,
}: {
  readonly report: LoopReport;
  readonly corner: string;
  readonly looked: Pick<LookedAt, 'stage' | 'inputVoltage' | 'outputCurrent'>;
}) {
  const { id = '' } = useParams();
  const name = useSession((session) => session.document?.name ?? 'stage');
  const traces = useTraces(id);
  const [convention, setConvention] = useState<PhaseConvention>('loop-gain');
  const [fault, setFault] = useState<string>();
  const [files, setFiles] = useState<Readonly<Record<string, MeasuredFile>>>({});
  const hold = (): void => {
    const crossover =
      report.crossover.kind === 'found'
        ? `${formatQuantity(report.crossover.value, 'Hz', 3)} crossover`
        : 'no crossover';
    addTrace(id, {
      kind: 'held',
      words: `held, ${corner}, ${crossover}`,
      points: report.points.map(({ frequency, loop }) => ({ frequency, value: loop })),
    });
  };
  const bring = async (file: File): Promise<void> => {
    if (file.size > LARGEST_FILE) {
      setFault(`${file.name} is larger than 4 MB; a sweep is not.`);
      return;
    }
    const text = await file.text();
    const reading = { convention };
    const read = readResponse(text, reading);
    if (typeof read === 'string') {
      setFault(`${file.name}: ${read}`);
      return;
    }
    setFault(undefined);
    const words = `measured, ${file.name}`;
    const trace = addTrace(id, { kind: 'measured', words, taken: read.taken, points: read.points });
    setFiles((before) => ({ ...before, [trace]: { text, reading, read } }));
  };
  const readAnew = (trace: string, file: MeasuredFile, change: Partial<ResponseReading>): void => {
    const reading = { ...file.reading, ...change };
    const read = readResponse(file.text, reading);
    if (typeof read === 'string') {
      setFault(`With these columns: ${read}`);
      return;
    }
    setFault(undefined);
    changeTrace(id, trace, { taken: read.taken, points: read.points });
    setFiles((before) => ({ ...before, [trace]: { ...file, reading, read } }));
  };
  return (
    <section aria-label="Traces" className="traces small">
      <Button variant="plain" onClick={hold} title="Keeps this loop gain in the picture while the design changes">
        Hold this loop
      </Button>
      <InjectedSweep looked={looked} />
      <label
        className="file-button"
        title="Columns of frequency, dB and degrees; delimiter and decimal comma are recognised"
      >
        Measured loop …
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          aria-label="File of a measured loop"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            if (file) void bring(file);
            event.target.value = '';
          }}
        />
      </label>
      <label>
        its phase is{' '}
        <select
          className="pick"
          value={convention}
          onChange={(event) => setConvention(event.target.value === 'margin' ? 'margin' : 'loop-gain')}
        >
          <option value="loop-gain">of the loop gain</option>
          <option value="margin">what is left to 180°</option>
        </select>
      </label>
      <Button
        variant="plain"
        onClick={() => download(`${name}, loop.csv`, 'text/csv', loopCsv(report.points))}
        title="Every response at this corner: plant, compensator, loop, output impedance, line, inductor current"
      >
        Responses as CSV
      </Button>
      {fault !== undefined && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {traces.length > 0 && (
        <ul aria-label={`Traces laid over, ${String(MOST_TRACES)} at most`}>
          {traces.map((trace) => (
            <li key={trace.id}>
              {trace.words}
              {trace.taken !== undefined && <span className="quiet"> ({trace.taken})</span>}{' '}
              <button type="button" className="link" onClick={() => removeTrace(id, trace.id)}>
                remove
              </button>
              {files[trace.id] && (
                <ReadAs
                  words={trace.words}
                  file={files[trace.id]}
                  onChange={(change) => {
                    const file = files[trace.id];
                    if (file) readAnew(trace.id, file, change);
                  }}
                />
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

const COLUMNS = [
  ['frequency', 'frequency'],
  ['gain', 'gain'],
  ['phase', 'phase'],
] as const;

interface ReadAsProps {
  readonly words: string;
  readonly file: MeasuredFile | undefined;
  readonly onChange: (change: Partial<ResponseReading>) => void;
}

/** Which columns of a measured file were taken, and what its commas mean: shown, and to be changed. */
function ReadAs({ words, file, onChange }: ReadAsProps) {
  if (!file) return null;
  const { headings, columns, commas } = file.read;
  const other = commas?.meaning === 'decimal' ? 'thousands' : 'decimal';
  return (
    <span className="read-as">
      {COLUMNS.map(([key, name]) => (
        <label key={key}>
          {name}{' '}
          <select
            className="pick"
            aria-label={`Column of the ${name}, ${words}`}
            value={columns[key]}
            onChange={(event) => onChange({ columns: { ...columns, [key]: Number(event.target.value) } })}
          >
            {headings.map((heading, column) => (
              <option key={`${String(column)} ${heading}`} value={column}>
                {heading}
              </option>
            ))}
          </select>
        </label>
      ))}
      {commas && (
        <span>
          Commas such as in {commas.example} were taken as{' '}
          {commas.meaning === 'decimal' ? 'decimal signs' : 'marks of thousands'}.{' '}
          <button type="button" className="link" onClick={() => onChange({ commas: other })}>
            Take them as {other === 'decimal' ? 'decimal signs' : 'marks of thousands'}
          </button>
        </span>
      )}
    </span>
  );
}

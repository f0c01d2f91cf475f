import {
  accuracyOf,
  CHANNELS,
  formatQuantity,
  readReadings,
  readingsCsv,
  regulationOf,
  type BenchRun,
  type BenchRunRow,
  type Channel,
  type Instruments,
} from '@yundro/core';
import { Formula } from '../shown/Formula';
import { Rare } from '../station/Rare';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { download } from '../shown/download';
import { FileButton } from '../shown/FileButton';
import { Failed } from '../shown/Answered';
import { useSession } from '../stage/stageSession';
import type { BenchFramed } from './BenchStation';
import { pictureOf } from './picture';
import { ReadingTable } from './ReadingTable';
import { RunPick } from './RunPick';
import { enter, letGo, saveAgain, saveLeft, useRunEdits } from './runEdits';
import { useSetup } from './setup';
import { emptyRun } from './emptyRun';
import { underWay, useRuns } from './useRuns';
import { api } from '../api/client';

/** Largest file of readings, bytes. */
const LARGEST = 5e6;
/** Pictures a run keeps. */
const MOST_PICTURES = 2;

/** What was measured: entered by hand, pasted, read from a file or by a run; with what follows from it and what cannot be. */
export function LogView({ frame }: BenchFramed) {
  const { chosen, create, choose, refresh, failure, retry } = useRuns();
  const { instruments, serial, ambient } = useSetup();
  const [deleted, setDeleted] = useState<BenchRunRow>();
  const begin = (part: Partial<BenchRun> = {}): void =>
    create.mutate(emptyRun({ kind: 'log', title: 'Readings', serial, ambient, instruments, ...part }));
  const remove = async (row: BenchRunRow): Promise<void> => {
    await api.deleteRun(row.id);
    setDeleted(row);
    choose(undefined);
    await refresh();
  };
  const bringBack = async (row: BenchRunRow): Promise<void> => {
    await api.restoreRun(row.id);
    setDeleted(undefined);
    await refresh();
    choose(row.id);
  };
  return frame({
    setup: false,
    fields: (
      <fieldset>
        <legend>Log</legend>
        <RunPick />
        <Button variant="primary" className="btn-sm" onClick={() => begin()}>
          New table
        </Button>
        {chosen && !underWay(chosen) && (
          <Button variant="plain" onClick={() => void remove(chosen)}>
            Delete this run
          </Button>
        )}
        {deleted && (
          <p className="small" role="status">
            “{deleted.run.title}” is deleted.{' '}
            <Button variant="plain" onClick={() => void bringBack(deleted)}>
              Bring it back
            </Button>
          </p>
        )}
      </fieldset>
    ),
    picture: (
      <>
        {failure && <Failed what="log" sentence={failure.message} retry={retry} />}
        {create.error && <Failed what="new table" sentence={create.error.message} retry={() => begin()} />}
        {chosen ? (
          <ChosenRun key={chosen.id} row={chosen} />
        ) : (
          <p className="quiet">
            Nothing has been measured yet: begin a table and type or paste, or let the instruments measure.
          </p>
        )}
      </>
    ),
  });
}

function ChosenRun({ row }: { readonly row: BenchRunRow }) {
  const { put: show } = useRuns();
  const stage = useSession((session) => session.document);
  const [said, setSaid] = useState<string>();
  const edit = useRunEdits(({ edits }) => edits[row.id]);
  const failed = edit?.failed;
  const busy = underWay(row);
  const run = busy ? row.run : (edit?.run ?? row.run);
  const put = (part: Partial<BenchRun>, words?: string): void => {
    setSaid(words);
    enter(row, { ...run, ...part }, show);
  };
  const bring = async (file: File): Promise<void> => {
    if (file.size > LARGEST) {
      setSaid(`${file.name} is larger than 5 MB.`);
      return;
    }
    const read = readReadings(await file.text());
    if (typeof read === 'string') setSaid(`${file.name}: ${read}`);
    else put({ readings: [...run.readings, ...read.readings] }, `${file.name}: ${read.taken}.`);
  };
  const addPicture = async (file: File): Promise<void> => {
    const data = await pictureOf(file);
    if (data === undefined) setSaid(`${file.name} is no picture that the browser can read.`);
    else put({ pictures: [...run.pictures, { name: file.name.slice(0, 200), data }] });
  };
  if (!stage) return null;
  const load = regulationOf(run.readings, run.instruments, 'outputCurrent');
  return (
    <>
      <div className="run-head">
        <Text label="Title" value={run.title} most={120} locked={busy} onTake={(title) => put({ title })} />
        <Text
          label="Board serial of the run"
          value={run.serial}
          most={120}
          locked={busy}
          onTake={(serial) => put({ serial })}
        />
        <span className="small quiet">
          {run.ambient} °C, {run.state === 'entered' ? 'entered by hand' : run.state}
        </span>
      </div>
      {run.problem !== null && (
        <p className="notice bad" role="alert">
          {run.problem}
        </p>
      )}
      {failed && (
        <p className="notice bad" role="alert">
          Not saved: {failed.sentence} What you entered is kept here.{' '}
          <Button variant="plain" onClick={() => saveAgain(row.id, show, failed.newer?.revision)}>
            {failed.newer ? 'Keep mine' : 'Save again'}
          </Button>
          {failed.newer && (
            <Button
              variant="plain"
              onClick={() => {
                letGo(row.id);
                if (failed.newer) show(failed.newer);
              }}
            >
              Take what is stored
            </Button>
          )}
        </p>
      )}
      {edit && !failed && !busy && <Unsaved id={row.id} show={show} />}
      <ReadingTable
        readings={run.readings}
        instruments={run.instruments}
        stage={stage}
        onChange={busy ? undefined : (readings, words) => put({ readings: [...readings] }, words)}
      />
      <p className="small" role="status">
        {said}
      </p>
      {load && load.to > load.from && (
        <p className="small">
          Over these lines the output moves by {(100 * load.value).toFixed(3)} % ± {(200 * load.standard).toFixed(3)} %
          of its middle.
        </p>
      )}
      <Text label="Notes" value={run.notes} most={20_000} locked={busy} onTake={(notes) => put({ notes })} long />
      <HowWorked instruments={run.instruments} />
      {run.pictures.map(({ name, data }, k) => (
        <figure key={name + String(k)} className="run-picture">
          <img src={data} alt={name} />
          <figcaption className="small">
            {name}{' '}
            <Button variant="plain" onClick={() => put({ pictures: run.pictures.filter((_, at) => at !== k) })}>
              Take out
            </Button>
          </figcaption>
        </figure>
      ))}
      <div className="table-acts small">
        {!busy && <FileButton words="Bring CSV" accept=".csv,.txt,.tsv" onFile={(file) => void bring(file)} />}
        <Button
          variant="plain"
          disabled={run.readings.length === 0}
          onClick={() => download(`${run.title}.csv`, 'text/csv', readingsCsv(run.readings))}
        >
          Write CSV
        </Button>
        {!busy && run.pictures.length < MOST_PICTURES && (
          <FileButton words="Add a picture" accept="image/*" onFile={(file) => void addPicture(file)} />
        )}
        <span className="quiet">
          Paste cells from a spreadsheet anywhere in the table: decimal commas are understood.
        </span>
      </div>
    </>
  );
}

const WORKED: readonly Channel[] = ['inputVoltage', 'inputCurrent', 'outputVoltage', 'outputCurrent'];

/** How loss, efficiency and what stands behind ± come about. */
function HowWorked({ instruments }: { readonly instruments: Instruments }) {
  return (
    <Rare words="How loss, efficiency and ± are worked">
      <p>
        <Formula tex="P_\mathrm{in} = V_\mathrm{in} I_\mathrm{in},\quad P_\mathrm{out} = |V_\mathrm{out}| I_\mathrm{out},\quad \eta = P_\mathrm{out}/P_\mathrm{in},\quad u^2 = \textstyle\sum_i (\partial f/\partial x_i)^2 u_i^2,\quad u_i = a_i/\sqrt{3}" />
      </p>
      <p className="small">
        ± is twice the standard uncertainty, by the law of propagation (JCGM 100:2008, 5.1 and 4.3.7), from the limits{' '}
        <i>a</i> that were stated when the run was begun:{' '}
        {WORKED.map((channel) => {
          const { ofReading, fixed, resolution } = accuracyOf(instruments, channel);
          const { short, unit } = CHANNELS[channel];
          return `${short} ${(100 * ofReading).toPrecision(2)} % + ${formatQuantity(fixed, unit, 2)}, steps of ${formatQuantity(resolution, unit, 2)}`;
        }).join('; ')}
        . A voltage read at the supply or at the load is brought to the board with the resistance of its lead,{' '}
        {formatQuantity(instruments.leads.input, 'ohm', 2)} and {formatQuantity(instruments.leads.output, 'ohm', 2)},
        known to a fifth.
      </p>
    </Rare>
  );
}

interface TextProps {
  readonly label: string;
  readonly value: string;
  readonly most: number;
  readonly long?: boolean;
  /** Whether its instruments write the run. */
  readonly locked: boolean;
  readonly onTake: (text: string) => void;
}

/** A text of the run: taken as it is left. */
function Text({ label, value, most, long, locked, onTake }: TextProps) {
  const [typed, setTyped] = useState<string>();
  const take = (): void => {
    if (typed !== undefined && typed !== value) onTake(typed);
    setTyped(undefined);
  };
  const shared = {
    'aria-label': label,
    placeholder: label,
    maxLength: most,
    value: typed ?? value,
    onBlur: take,
    readOnly: locked,
  };
  return long === true ? (
    <textarea {...shared} rows={3} className="run-notes" onChange={({ target }) => setTyped(target.value)} />
  ) : (
    <input
      {...shared}
      className="run-text"
      onChange={({ target }) => setTyped(target.value)}
      onKeyDown={({ key }) => key === 'Enter' && take()}
    />
  );
}

/** Entries that a closed page left behind are saved as the run is looked at again. */
function Unsaved({ id, show }: { readonly id: string; readonly show: (row: BenchRunRow) => void }) {
  useEffect(() => saveLeft(id, show));
  return null;
}

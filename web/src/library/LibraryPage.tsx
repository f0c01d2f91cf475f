import { parseQuantity, partColumns, PART_KINDS, UNITS, type LibraryPart, type PartKind } from '@yundro/core';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useSearchParams } from 'react-router';
import { api } from '../api/client';
import { WorkerLine } from '../engine/workerLine';
import { FindOrDo } from '../desk/FindOrDo';
import { TopBar } from '../shown/TopBar';
import { ImportDialog } from './ImportDialog';
import { PartDetails } from './PartDetails';
import { exportParts, isPartKind } from './partFiles';
import type { Importing, OpenedTable } from './import.worker';
import { PartTable } from './PartTable';
import { partsKey, useLibrary } from './useParts';

const KIND_WORDS: Readonly<Record<PartKind, string>> = {
  inductor: 'Inductors',
  capacitor: 'Capacitors',
  mosfet: 'MOSFETs',
  diode: 'Diodes',
  core: 'Cores',
  controller: 'Controllers',
};

interface Filter {
  readonly text: string;
  readonly column: string;
  readonly least: string;
  readonly most: string;
}
const NO_FILTER: Filter = { text: '', column: '', least: '', most: '' };

/** The parts a filter lets through: words anywhere in name or kind, and a range of one column. */
function filtered(kind: PartKind, parts: readonly LibraryPart[], filter: Filter): readonly LibraryPart[] {
  const meta = partColumns(kind).find(({ key }) => key === filter.column)?.meta;
  const bound = (text: string): number | undefined => {
    if (!meta || text.trim() === '') return undefined;
    const read = parseQuantity(text, meta.unit);
    return read.ok ? read.value : undefined;
  };
  const least = bound(filter.least);
  const most = bound(filter.most);
  const words = filter.text.toLowerCase().split(/\s+/).filter(Boolean);
  return parts.filter(({ part }) => {
    const text = Object.values(part)
      .filter((value) => typeof value === 'string')
      .join(' ')
      .toLowerCase();
    if (!words.every((word) => text.includes(word))) return false;
    const value = part[filter.column];
    if (least === undefined && most === undefined) return true;
    return typeof value === 'number' && value >= (least ?? -Infinity) && value <= (most ?? Infinity);
  });
}

/** The parts library: look, sort, filter, import, export. */
export function LibraryPage() {
  const [search, setSearch] = useSearchParams();
  const asked = search.get('kind');
  const kind: PartKind = isPartKind(asked) ? asked : 'inductor';
  const library = useLibrary(kind);
  const queries = useQueryClient();
  const renew = (): void => void queries.invalidateQueries({ queryKey: partsKey(kind) });
  const [refused, setFault] = useState<string>();
  const [said, setSaid] = useState<string>();
  const [filter, setFilter] = useState(NO_FILTER);
  const [selected, setSelected] = useState<string>();
  const [importing, setImporting] = useState<{ readonly table: OpenedTable; readonly line: WorkerLine<Importing> }>();
  const [reading, setReading] = useState<string>();
  const chooser = useRef<HTMLInputElement>(null);

  const parts = library.data;
  const fault = refused ?? library.error?.message;
  const shown = useMemo(() => (parts ? filtered(kind, parts, filter) : []), [kind, parts, filter]);
  const picked = shown.find(({ id }) => id === selected);
  const numbers = partColumns(kind).filter(({ meta }) => meta);
  const unit = numbers.find(({ key }) => key === filter.column)?.meta?.unit;
  const set = (part: Partial<Filter>): void => setFilter((before) => ({ ...before, ...part }));
  const read = useCallback(
    async (file: File | undefined): Promise<void> => {
      if (!file) return;
      setFault(undefined);
      setSaid(undefined);
      setReading(file.name);
      const line = new WorkerLine<Importing>(
        new Worker(new URL('./import.worker.ts', import.meta.url), { type: 'module' }),
      );
      try {
        setImporting({ line, table: await line.ask((worker) => worker.open(kind, file)) });
      } catch (error) {
        line.end();
        setFault(error instanceof Error ? error.message : 'The file could not be read.');
      } finally {
        setReading(undefined);
      }
    },
    [kind],
  );

  return (
    <div className="frame">
      <TopBar>
        <strong>Parts library</strong>
        <span className="push" />
        <FindOrDo />
      </TopBar>
      {fault !== undefined && (
        <div className="notice bad" role="alert">
          {fault}
          <Button variant="plain" onClick={() => setFault(undefined)}>
            Dismiss
          </Button>
        </div>
      )}
      <main className="library">
        <div className="shelf-title">
          <h1>Parts library</h1>
          <div className="picture-pick" role="group" aria-label="Kind of part">
            {PART_KINDS.map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={one === kind}
                onClick={() => {
                  setSearch({ kind: one });
                  setFilter(NO_FILTER);
                  setSelected(undefined);
                }}
              >
                {KIND_WORDS[one]}
              </button>
            ))}
          </div>
          <span className="ms-auto" />
          <Button variant="outline-secondary" onClick={() => chooser.current?.click()}>
            Import CSV or JSON
          </Button>
          <Button variant="plain" disabled={!parts} onClick={() => exportParts(kind, shown, 'csv')}>
            Export CSV
          </Button>
          <Button variant="plain" disabled={!parts} onClick={() => exportParts(kind, shown, 'json')}>
            Export JSON
          </Button>
        </div>
        <div className="corner-pick">
          <label>
            Find <input type="search" value={filter.text} onChange={(event) => set({ text: event.target.value })} />
          </label>
          <label>
            Column{' '}
            <select value={filter.column} onChange={(event) => set({ column: event.target.value })}>
              <option value="">any</option>
              {numbers.map(({ key, words }) => (
                <option key={key} value={key}>
                  {words}
                </option>
              ))}
            </select>
          </label>
          {unit && (
            <>
              <label>
                at least{' '}
                <input size={8} value={filter.least} onChange={(event) => set({ least: event.target.value })} />
              </label>
              <label>
                at most <input size={8} value={filter.most} onChange={(event) => set({ most: event.target.value })} />{' '}
                <span className="unit">{UNITS[unit].symbol}</span>
              </label>
            </>
          )}
          <span className="quiet" role="status">
            {parts ? `${String(shown.length)} of ${String(parts.length)} parts` : 'Reading the library …'}
            {said !== undefined && `. ${said}`}
            {reading !== undefined && `. Reading ${reading} …`}
          </span>
        </div>
        {parts?.length === 0 && (
          <p className="quiet">There is no part of this kind. Import some from CSV or JSON; a row is a part.</p>
        )}
        <div className={picked ? 'library-columns' : ''}>
          <div>
            <PartTable kind={kind} parts={shown} selected={selected} onSelect={setSelected} />
          </div>
          {picked && (
            <div>
              <PartDetails kind={kind} part={picked.part} />
              <Button
                variant="plain"
                onClick={() =>
                  void api.deletePart(picked.id).then(
                    () => {
                      setSaid(`${picked.part.name} was deleted.`);
                      renew();
                    },
                    (error: unknown) => setFault(error instanceof Error ? error.message : 'That did not work.'),
                  )
                }
              >
                Delete the part
              </Button>
            </div>
          )}
        </div>
        <p className="quiet small">
          The parts that come with Yundro are generic and invented, consistent in themselves. Check a real part against
          its data sheet.
        </p>
      </main>
      <input
        ref={chooser}
        type="file"
        accept=".csv,.json,text/csv,application/json"
        hidden
        data-testid="part-file"
        onChange={(event) => {
          void read(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      {importing && (
        <ImportDialog
          kind={kind}
          {...importing}
          onClose={(taken) => {
            importing.line.end();
            setImporting(undefined);
            if (taken === undefined) return;
            setSaid(`${String(taken)} parts were imported.`);
            renew();
          }}
        />
      )}
    </div>
  );
}

import {
  getCoreRowModel,
  getFilteredRowModel,
  getPaginationRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type SortingState,
  type VisibilityState,
} from '@tanstack/react-table';
import { useMemo, useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { tableAsText, type Cell } from './tableText';

/** A column: what it sorts, filters and copies by, and how it is shown. */
export interface DataColumn<R> {
  readonly key: string;
  readonly words: string;
  /** Symbol of the unit that its numbers count in, empty for a bare number; undefined for words. */
  readonly unit?: string;
  readonly value: (row: R) => Cell;
  /** As the notebook sets it; the value itself where nothing is said. */
  readonly shown?: (row: R) => ReactNode;
  /** Left out at first, and asked for by the list of columns. */
  readonly folded?: boolean;
  /** Said under the heading by the pointer. */
  readonly title?: string;
}

interface Props<R> {
  /** Its name, in the plural. */
  readonly words: string;
  readonly rows: readonly R[];
  readonly rowKey: (row: R) => string;
  /** The first names the row and cannot be left out. */
  readonly columns: readonly DataColumn<R>[];
  /** What can be done with a row, after its columns. */
  readonly act?: (row: R) => ReactNode;
  readonly picked?: (row: R) => boolean;
  readonly onSelect?: (row: R) => void;
  /** Said in place of every column after the first `keep`, where a row has no figures. */
  readonly instead?: { readonly keep: number; readonly of: (row: R) => ReactNode };
  /** Rows on a page. */
  readonly page?: number;
  /** A field that keeps the rows with given words, for tables that have no finer one of their own. */
  readonly filter?: boolean;
  readonly className?: string;
}

/** Few rows are read faster than they are filtered. */
const WORTH_A_FILTER = 8;
/** With few columns there is nothing to leave out. */
const WORTH_CHOOSING = 4;

/**
 * Records as rows: sorted by a press on a heading, kept by words, columns chosen, copied as text that a spreadsheet takes. One for
 * every table of records; small tables of words and numbers are plain ones.
 */
export function DataTable<R>({
  words,
  rows,
  rowKey,
  columns,
  act,
  picked,
  onSelect,
  instead,
  page,
  filter = true,
  className = '',
}: Props<R>) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const [chosen, setChosen] = useState<VisibilityState>();
  const [kept, setKept] = useState('');
  const [copied, setCopied] = useState<string>();
  const data = useMemo(() => [...rows], [rows]);
  const defined = useMemo(
    () =>
      columns.map(({ key, words: header, unit, value }): ColumnDef<R, Cell> => ({
        id: key,
        accessorFn: value,
        header,
        sortUndefined: 'last',
        // Names count their numbers: LX7 comes before LX13.
        sortingFn: unit === undefined ? 'alphanumeric' : 'basic',
        sortDescFirst: false,
        filterFn: 'includesString',
      })),
    [columns],
  );
  const columnVisibility = chosen ?? Object.fromEntries(columns.map(({ key, folded }) => [key, folded !== true]));
  // eslint-disable-next-line react-hooks/incompatible-library
  const table = useReactTable({
    data,
    columns: defined,
    state: { sorting, columnVisibility, globalFilter: kept },
    onSortingChange: setSorting,
    onColumnVisibilityChange: (next) => setChosen(typeof next === 'function' ? next(columnVisibility) : next),
    onGlobalFilterChange: setKept,
    globalFilterFn: 'includesString',
    getRowId: rowKey,
    getCoreRowModel: getCoreRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
    getSortedRowModel: getSortedRowModel(),
    ...(page !== undefined && {
      getPaginationRowModel: getPaginationRowModel(),
      initialState: { pagination: { pageSize: page } },
    }),
  });
  const visible = columns.filter(({ key }) => columnVisibility[key] !== false);
  const copy = (): void => {
    const all = table.getSortedRowModel().rows.map(({ original }) => visible.map(({ value }) => value(original)));
    const headings = visible.map(({ words: heading, unit }) =>
      unit === undefined || unit === '' ? heading : `${heading}, ${unit}`,
    );
    navigator.clipboard.writeText(tableAsText(headings, all)).then(
      () => setCopied(`${String(all.length)} rows are copied.`),
      () => setCopied('The browser does not let the page copy.'),
    );
  };
  const shownRows = table.getRowModel().rows;
  return (
    <>
      <div className="data-table" tabIndex={0} role="region" aria-label={words}>
        <table className={`plain ${className}`} aria-label={words}>
          <thead>
            <tr>
              {table.getFlatHeaders().map(({ id, column }) => {
                const of = columns.find(({ key }) => key === id);
                const sorted = column.getIsSorted();
                return (
                  <th
                    key={id}
                    className={of?.unit === undefined ? '' : 'number'}
                    title={of?.title}
                    aria-sort={sorted === false ? 'none' : sorted === 'asc' ? 'ascending' : 'descending'}
                  >
                    <button type="button" onClick={column.getToggleSortingHandler()}>
                      {of?.words}
                      {sorted === false ? '' : sorted === 'asc' ? ' ↑' : ' ↓'}
                    </button>
                  </th>
                );
              })}
              {act && (
                <th>
                  <span className="visually-hidden">what can be done</span>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {shownRows.map((row) => {
              const { original } = row;
              const said = instead?.of(original);
              const drawn = said === undefined || !instead ? visible : visible.slice(0, instead.keep);
              return (
                <tr
                  key={row.id}
                  className={picked?.(original) === true ? 'picked' : ''}
                  {...(onSelect && { onClick: () => onSelect(original) })}
                >
                  {drawn.map(({ key, unit, value, shown }, i) => (
                    <td key={key} className={unit === undefined ? '' : 'number'}>
                      {onSelect && i === 0 ? (
                        <Button variant="plain" onClick={() => onSelect(original)}>
                          {value(original)}
                        </Button>
                      ) : (
                        (shown?.(original) ?? value(original) ?? '–')
                      )}
                    </td>
                  ))}
                  {said !== undefined && (
                    <td colSpan={visible.length - drawn.length} className="quiet">
                      {said}
                    </td>
                  )}
                  {act && <td>{act(original)}</td>}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <div className="table-acts small">
        {filter && rows.length >= WORTH_A_FILTER && (
          <label>
            Rows with{' '}
            <input
              size={10}
              value={kept}
              aria-label={`${words}: rows with`}
              onChange={(event) => setKept(event.target.value)}
            />
          </label>
        )}
        {kept !== '' && (
          <span aria-live="polite">
            {table.getFilteredRowModel().rows.length} of {rows.length}
          </span>
        )}
        {table.getPageCount() > 1 && page !== undefined && (
          <span>
            <Button variant="plain" disabled={!table.getCanPreviousPage()} onClick={() => table.previousPage()}>
              Before
            </Button>{' '}
            {table.getState().pagination.pageIndex + 1} of {table.getPageCount()}{' '}
            <Button variant="plain" disabled={!table.getCanNextPage()} onClick={() => table.nextPage()}>
              After
            </Button>
          </span>
        )}
        <span className="table-copied" aria-live="polite">
          {copied}
        </span>
        <Button
          variant="plain"
          aria-label={`${words}: copy as text`}
          onClick={copy}
          onBlur={() => setCopied(undefined)}
        >
          Copy as text
        </Button>
        {columns.length > WORTH_CHOOSING && (
          <details className="rare">
            <summary>Columns</summary>
            <div className="table-columns">
              {table.getAllLeafColumns().map((column, i) => (
                <label key={column.id} className="small">
                  <input
                    type="checkbox"
                    checked={column.getIsVisible()}
                    disabled={i === 0}
                    onChange={column.getToggleVisibilityHandler()}
                  />{' '}
                  {columns[i]?.words}
                </label>
              ))}
            </div>
          </details>
        )}
      </div>
    </>
  );
}

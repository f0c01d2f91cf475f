import { partCellText, partColumns, UNITS, type LibraryPart, type PartKind } from '@yundro/core';
import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  getPaginationRowModel,
  getSortedRowModel,
  useReactTable,
  type SortingState,
} from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';

const ROWS = 100;
/** Columns that say little at a glance: in the file, not in the table. */
const HIDDEN = new Set(['notes', 'length', 'width']);
const helper = createColumnHelper<LibraryPart>();

interface Props {
  readonly kind: PartKind;
  readonly parts: readonly LibraryPart[];
  readonly selected: string | undefined;
  readonly onSelect: (id: string) => void;
}

/** The parts of one kind: every field a column with its unit, sorted by a press on its heading. */
export function PartTable({ kind, parts, selected, onSelect }: Props) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const columns = useMemo(
    () =>
      partColumns(kind)
        .filter(({ key, curve }) => !curve && !HIDDEN.has(key))
        .map((column) =>
          helper.accessor((row) => row.part[column.key] as string | number | undefined, {
            id: column.key,
            header: column.words,
            cell: ({ row }) => partCellText(column, row.original.part),
            sortUndefined: 'last',
            meta: { number: column.meta !== undefined, unit: column.meta ? UNITS[column.meta.unit].symbol : '' },
          }),
        ),
    [kind],
  );
  const data = useMemo(() => [...parts], [parts]);
  // eslint-disable-next-line react-hooks/incompatible-library
  const table = useReactTable({
    data,
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getPaginationRowModel: getPaginationRowModel(),
    initialState: { pagination: { pageSize: ROWS } },
  });
  const isNumber = (meta: unknown): boolean => (meta as { number?: boolean } | undefined)?.number === true;
  return (
    <>
      <div className="part-table" tabIndex={0} role="region" aria-label="Parts">
        <table className="plain">
          <thead>
            <tr>
              {table.getFlatHeaders().map((header) => {
                const sorted = header.column.getIsSorted();
                return (
                  <th
                    key={header.id}
                    className={isNumber(header.column.columnDef.meta) ? 'number' : ''}
                    aria-sort={sorted === false ? 'none' : sorted === 'asc' ? 'ascending' : 'descending'}
                  >
                    <button type="button" onClick={header.column.getToggleSortingHandler()}>
                      {flexRender(header.column.columnDef.header, header.getContext())}
                      {sorted === false ? '' : sorted === 'asc' ? ' ↑' : ' ↓'}
                    </button>
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {table.getRowModel().rows.map((row) => (
              <tr
                key={row.original.id}
                className={row.original.id === selected ? 'picked' : ''}
                onClick={() => onSelect(row.original.id)}
              >
                {row.getVisibleCells().map((cell, i) => (
                  <td key={cell.id} className={isNumber(cell.column.columnDef.meta) ? 'number' : ''}>
                    {i === 0 ? (
                      <Button variant="plain" onClick={() => onSelect(row.original.id)}>
                        {row.original.part.name}
                      </Button>
                    ) : (
                      flexRender(cell.column.columnDef.cell, cell.getContext())
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {table.getPageCount() > 1 && (
        <p className="small">
          <Button variant="plain" disabled={!table.getCanPreviousPage()} onClick={() => table.previousPage()}>
            Before
          </Button>{' '}
          {table.getState().pagination.pageIndex + 1} of {table.getPageCount()}{' '}
          <Button variant="plain" disabled={!table.getCanNextPage()} onClick={() => table.nextPage()}>
            After
          </Button>
        </p>
      )}
    </>
  );
}

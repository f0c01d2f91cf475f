import { partCellText, partColumns, UNITS, type LibraryPart, type PartKind } from '@yundro/core';
import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  getPaginationRowModel,
  getSortedRowModel,
  useReactTable,
  type SortingState,
  type VisibilityState,
} from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';

const ROWS = 100;
/** What tells parts of a kind apart at a glance; the rest stands in the details, and can be asked for. */
const SHOWN: Readonly<Record<PartKind, readonly string[]>> = {
  inductor: ['name', 'inductance', 'resistance', 'saturationCurrent', 'heatingCurrent', 'height'],
  capacitor: ['name', 'kind', 'capacitance', 'ratedVoltage', 'esr', 'rippleCurrentRating'],
  mosfet: ['name', 'drainSourceVoltageMax', 'onResistance', 'gateCharge', 'drainCurrentMax', 'junctionToAmbient'],
  diode: ['name', 'forwardVoltage', 'reverseVoltageMax', 'currentMax', 'recoveryCharge', 'junctionToAmbient'],
  core: ['name', 'material', 'effectiveArea', 'effectiveLength', 'relativePermeability', 'saturationFluxDensity'],
  controller: ['name', 'scheme', 'topologies', 'inputMax', 'reference', 'frequencyMax', 'features'],
};
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
  const [chosen, setChosen] = useState<Readonly<Partial<Record<PartKind, VisibilityState>>>>({});
  const columns = useMemo(
    () =>
      partColumns(kind)
        .filter(({ curve }) => !curve)
        .map((column) =>
          helper.accessor((row) => row.part[column.key] as string | number | undefined, {
            id: column.key,
            header: column.words,
            cell: ({ row }) => partCellText(column, row.original.part),
            sortUndefined: 'last',
            // Names count their numbers: LX7 comes before LX13.
            sortingFn: column.meta ? 'basic' : 'alphanumeric',
            meta: { number: column.meta !== undefined, unit: column.meta ? UNITS[column.meta.unit].symbol : '' },
          }),
        ),
    [kind],
  );
  const data = useMemo(() => [...parts], [parts]);
  const columnVisibility =
    chosen[kind] ?? Object.fromEntries(columns.map(({ id = '' }) => [id, SHOWN[kind].includes(id)]));
  // eslint-disable-next-line react-hooks/incompatible-library
  const table = useReactTable({
    data,
    columns,
    state: { sorting, columnVisibility },
    onSortingChange: setSorting,
    onColumnVisibilityChange: (next) =>
      setChosen({ ...chosen, [kind]: typeof next === 'function' ? next(columnVisibility) : next }),
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getPaginationRowModel: getPaginationRowModel(),
    initialState: { pagination: { pageSize: ROWS } },
  });
  const isNumber = (meta: unknown): boolean => (meta as { number?: boolean } | undefined)?.number === true;
  return (
    <>
      <details className="rare">
        <summary>Columns</summary>
        <div className="part-columns">
          {table.getAllLeafColumns().map((column) => (
            <label key={column.id} className="small">
              <input
                type="checkbox"
                checked={column.getIsVisible()}
                disabled={column.id === 'name'}
                onChange={column.getToggleVisibilityHandler()}
              />{' '}
              {String(column.columnDef.header)}
            </label>
          ))}
        </div>
      </details>
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

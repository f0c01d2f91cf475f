import { partCellText, partColumns, shownPower, UNITS, type LibraryPart, type PartKind, type Unit } from '@yundro/core';
import { useMemo } from 'react';
import { DataTable, type DataColumn } from '../shown/DataTable';

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

/** A datum in the unit it is shown in. */
const inUnit = (value: unknown, unit: Unit): number | undefined =>
  typeof value === 'number' ? value / 10 ** shownPower(unit) : undefined;

interface Props {
  readonly kind: PartKind;
  readonly parts: readonly LibraryPart[];
  readonly selected: string | undefined;
  readonly onSelect: (id: string) => void;
}

/** The parts of one kind: every field a column with its unit, sorted by a press on its heading. */
export function PartTable({ kind, parts, selected, onSelect }: Props) {
  const columns = useMemo(
    () =>
      partColumns(kind)
        .filter(({ curve }) => !curve)
        .map((column): DataColumn<LibraryPart> => ({
          key: column.key,
          words: column.words,
          ...(column.meta && { unit: UNITS[column.meta.unit].symbol }),
          value: ({ part }) => (column.meta ? inUnit(part[column.key], column.meta.unit) : partCellText(column, part)),
          ...(column.meta && { shown: ({ part }: LibraryPart) => partCellText(column, part) }),
          folded: !SHOWN[kind].includes(column.key),
        })),
    [kind],
  );
  return (
    <DataTable
      // Each kind has columns of its own, and a choice of them.
      key={kind}
      words="Parts"
      rows={parts}
      rowKey={({ id }) => id}
      columns={columns}
      picked={({ id }) => id === selected}
      onSelect={({ id }) => onSelect(id)}
      page={ROWS}
      filter={false}
    />
  );
}

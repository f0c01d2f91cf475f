import { shownPower, UNITS } from '@yundro/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import type { CornerView } from '../engine/engine';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { Quantity } from '../shown/Quantity';
import { differs, useHeldCorner } from './ghost';
import { useShownFigures, type ShownFigure } from './shownFigures';
import { useSession } from './stageSession';
import { openWorking } from './stageView';

/** Which of the figures have a column at first. */
const COLUMN_KEYS = new Set([
  'duty',
  'inductorCurrent.ripple',
  'inductorCurrent.peak',
  'outputRipple',
  'inputCapacitorRms',
  'losses.total',
]);

/** The same figure of the held design, below the present one where they differ. */
function HeldFigure({ corner, unit, value }: { readonly corner: CornerView } & Pick<ShownFigure, 'unit' | 'value'>) {
  const before = useHeldCorner(corner)?.corner.point;
  if (!before || !corner.point || !differs(value(before), value(corner.point))) return null;
  return (
    <span className="was d-block">
      <Quantity value={value(before)} unit={unit} />
    </span>
  );
}

/** The operating point at every corner of input voltage and load; each number opens its working. */
export function CornerTable() {
  const corners = useSession((session) => session.worked?.corners);
  const figures = useShownFigures();
  const columns = useMemo(
    (): readonly DataColumn<CornerView>[] => [
      {
        key: 'input',
        words: 'Input',
        unit: 'V',
        value: ({ inputVoltage }) => inputVoltage,
        shown: ({ inputVoltage }) => <Quantity value={inputVoltage} unit="V" digits={3} />,
      },
      {
        key: 'load',
        words: 'Load',
        unit: 'A',
        value: ({ outputCurrent }) => outputCurrent,
        shown: ({ outputCurrent }) => <Quantity value={outputCurrent} unit="A" digits={3} />,
      },
      { key: 'mode', words: 'Mode', value: ({ point }) => point?.conductionMode },
      ...figures.map(({ words, key, unit, value }): DataColumn<CornerView> => ({
        key,
        words,
        unit: UNITS[unit].symbol,
        folded: !COLUMN_KEYS.has(key),
        value: ({ point }) => point && value(point) / 10 ** shownPower(unit),
        shown: (corner) =>
          corner.point && (
            <>
              <Button
                variant="plain"
                onClick={() => openWorking({ corner: corners?.indexOf(corner) ?? -1, figure: key })}
              >
                <Quantity value={value(corner.point)} unit={unit} />
              </Button>
              <HeldFigure corner={corner} unit={unit} value={value} />
            </>
          ),
      })),
    ],
    [figures, corners],
  );
  if (!corners || corners.length === 0) return null;
  return (
    <DataTable
      words="Operating points"
      className="corners"
      rows={corners}
      rowKey={({ inputVoltage, outputCurrent }) => `${String(inputVoltage)} ${String(outputCurrent)}`}
      columns={columns}
      filter={false}
      instead={{
        keep: 2,
        of: ({ point, reason }) => (point ? undefined : `no operating point: ${reason ?? ''}`),
      }}
    />
  );
}

import type { OperatingPoint } from '@yundro/core';
import { Button } from 'react-bootstrap';
import type { CornerView } from '../engine/engine';
import { Quantity } from '../shown/Quantity';
import { differs, useHeldCorner } from './ghost';
import { useShownFigures, type ShownFigure } from './shownFigures';
import { useSession } from './stageSession';
import { openWorking } from './stageView';

/** Which of the figures have a column. */
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
  const columns = useShownFigures().filter(({ key }) => COLUMN_KEYS.has(key));
  if (!corners || corners.length === 0) return null;
  return (
    <table className="plain corners">
      <thead>
        <tr>
          <th className="number">Input</th>
          <th className="number">Load</th>
          <th>Mode</th>
          {columns.map(({ words }) => (
            <th key={words} className="number">
              {words}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {corners.map((corner, i) => (
          <tr key={`${String(corner.inputVoltage)} ${String(corner.outputCurrent)}`}>
            <td className="number">
              <Quantity value={corner.inputVoltage} unit="V" digits={3} />
            </td>
            <td className="number">
              <Quantity value={corner.outputCurrent} unit="A" digits={3} />
            </td>
            {corner.point ? (
              <>
                <td>{corner.point.conductionMode}</td>
                {columns.map(({ words, key, unit, value }) => (
                  <td key={words} className="number">
                    <Button variant="plain" onClick={() => openWorking({ corner: i, figure: key })}>
                      <Quantity value={value(corner.point as OperatingPoint)} unit={unit} />
                    </Button>
                    <HeldFigure corner={corner} unit={unit} value={value} />
                  </td>
                ))}
              </>
            ) : (
              <td colSpan={1 + columns.length}>no operating point: {corner.reason}</td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

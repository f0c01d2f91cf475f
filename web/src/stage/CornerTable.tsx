import type { OperatingPoint } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { Quantity } from '../shown/Quantity';
import { SHOWN_FIGURES } from './shownFigures';
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
const COLUMNS = SHOWN_FIGURES.filter(({ key }) => COLUMN_KEYS.has(key));

/** The operating point at every corner of input voltage and load; each number opens its working. */
export function CornerTable() {
  const corners = useSession((session) => session.worked?.corners);
  if (!corners || corners.length === 0) return null;
  return (
    <table className="plain corners">
      <thead>
        <tr>
          <th className="number">Input</th>
          <th className="number">Load</th>
          <th>Mode</th>
          {COLUMNS.map(({ words }) => (
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
                {COLUMNS.map(({ words, key, unit, value }) => (
                  <td key={words} className="number">
                    <Button variant="plain" onClick={() => openWorking({ corner: i, figure: key })}>
                      <Quantity value={value(corner.point as OperatingPoint)} unit={unit} />
                    </Button>
                  </td>
                ))}
              </>
            ) : (
              <td colSpan={1 + COLUMNS.length}>no operating point: {corner.reason}</td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

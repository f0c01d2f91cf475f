import type { OperatingPoint, Unit } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { Quantity } from '../shown/Quantity';
import { useSession } from './stageSession';
import { openWorking } from './stageView';

interface Column {
  readonly words: string;
  readonly figure: string;
  readonly unit: Unit;
  readonly value: (point: OperatingPoint) => number;
}

const COLUMNS: readonly Column[] = [
  { words: 'Duty ratio', figure: 'duty', unit: 'ratio', value: (p) => p.duty },
  { words: 'Inductor ripple', figure: 'inductorCurrent.ripple', unit: 'A', value: (p) => p.inductorCurrent.ripple },
  { words: 'Inductor peak', figure: 'inductorCurrent.peak', unit: 'A', value: (p) => p.inductorCurrent.peak },
  { words: 'Output ripple', figure: 'outputRipple', unit: 'V', value: (p) => p.outputRipple },
  { words: 'Input cap. RMS', figure: 'inputCapacitorRms', unit: 'A', value: (p) => p.inputCapacitorRms },
  { words: 'Conduction loss', figure: 'losses.total', unit: 'W', value: (p) => p.losses['total'] ?? 0 },
];

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
                {COLUMNS.map(({ words, figure, unit, value }) => (
                  <td key={words} className="number">
                    <Button variant="plain" onClick={() => openWorking({ corner: i, figure })}>
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

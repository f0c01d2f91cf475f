import type { StageRow } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { Quantity } from '../shown/Quantity';
import { VerdictMark } from '../shown/VerdictMark';

interface Props {
  readonly rows: readonly StageRow[];
  readonly onExport: (row: StageRow) => void;
  readonly onRename: (row: StageRow) => void;
  readonly onDuplicate: (row: StageRow) => void;
  readonly onDelete: (row: StageRow) => void;
}

function Verdicts({ summary }: { readonly summary: StageRow['summary'] }) {
  if (!summary.verdicts) return <span className="quiet">{summary.reason}</span>;
  const words = (['fails', 'tight', 'holds'] as const).filter((word) => (summary.verdicts?.[word] ?? 0) > 0);
  return (
    <span className="d-inline-flex gap-3">
      {words.map((word) => (
        <VerdictMark key={word} word={word} count={summary.verdicts?.[word] ?? 0} />
      ))}
    </span>
  );
}

/** The stages of a project, one to a row. */
export function StageRows({ rows, onExport, onRename, onDuplicate, onDelete }: Props) {
  if (rows.length === 0)
    return <p className="quiet mt-2">No stages yet. Start one with “New stage”, or drop a stage file here.</p>;
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>Stage</th>
          <th>Form</th>
          <th className="number">Input</th>
          <th className="number">Output</th>
          <th className="number">Full load</th>
          <th>Targets at the worst corner</th>
          <th>
            <span className="visually-hidden">Actions</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.id}>
            <td>
              <Link to={`/stages/${row.id}/targets`}>{row.name}</Link>
            </td>
            <td>{row.topology.replaceAll('-', ' ')}</td>
            <td className="number">
              {row.inputVoltage.min} to <Quantity value={row.inputVoltage.max} unit="V" digits={3} />
            </td>
            <td className="number">
              <Quantity value={row.outputVoltage} unit="V" digits={3} />
            </td>
            <td className="number">
              <Quantity value={row.outputCurrent} unit="A" digits={3} />
            </td>
            <td>
              <Verdicts summary={row.summary} />
            </td>
            <td className="actions">
              {(
                [
                  ['Rename', onRename],
                  ['Duplicate', onDuplicate],
                  ['Export', onExport],
                  ['Delete', onDelete],
                ] as const
              ).map(([words, act]) => (
                <Button key={words} variant="plain" aria-label={`${words} ${row.name}`} onClick={() => act(row)}>
                  {words}
                </Button>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

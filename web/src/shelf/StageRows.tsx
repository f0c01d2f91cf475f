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

/** What can be done with a row, and whether with one that cannot be read too. */
const ACTIONS = [
  ['Rename', false],
  ['Duplicate', false],
  ['Export', true],
  ['Delete', true],
] as const;

function Verdicts({ summary }: { readonly summary: StageRow['summary'] }) {
  if (summary.state === 'pending')
    return (
      <span className="quiet" role="status">
        being worked …
      </span>
    );
  if (!summary.verdicts) return <span className="quiet">{summary.reason}</span>;
  const { verdicts } = summary;
  const words = (['fails', 'tight', 'holds'] as const).filter((word) => verdicts[word] > 0);
  return (
    <span className="d-inline-flex gap-3">
      {words.map((word) => (
        <VerdictMark key={word} word={word} count={verdicts[word]} />
      ))}
    </span>
  );
}

/** What a stage is, in the columns of its row. */
function Facts({ facts }: { readonly facts: StageRow['facts'] }) {
  if (!facts) return <td colSpan={4} />;
  const { topology, inputVoltage, outputVoltage, outputCurrent } = facts;
  return (
    <>
      <td>{topology.replaceAll('-', ' ')}</td>
      <td className="number">
        {inputVoltage.min} to <Quantity value={inputVoltage.max} unit="V" digits={3} />
      </td>
      <td className="number">
        <Quantity value={outputVoltage} unit="V" digits={3} />
      </td>
      <td className="number">
        <Quantity value={outputCurrent} unit="A" digits={3} />
      </td>
    </>
  );
}

/** The stages of a project, one to a row. */
export function StageRows({ rows, onExport, onRename, onDuplicate, onDelete }: Props) {
  const acts = { Rename: onRename, Duplicate: onDuplicate, Export: onExport, Delete: onDelete };
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
            <td>{row.facts ? <Link to={`/stages/${row.id}/overview`}>{row.name}</Link> : row.name}</td>
            <Facts facts={row.facts} />
            <td>
              <Verdicts summary={row.summary} />
            </td>
            <td className="actions">
              {ACTIONS.filter(([, ofUnreadable]) => row.facts !== null || ofUnreadable).map(([words]) => (
                <Button
                  key={words}
                  variant="plain"
                  aria-label={`${words} ${row.name}`}
                  onClick={() => acts[words](row)}
                >
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

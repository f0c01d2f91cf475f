import { partColumns, suggestedMapping, type ColumnMapping, type PartKind } from '@yundro/core';
import { useMemo, useRef, useState } from 'react';
import { Button, Modal, ProgressBar } from 'react-bootstrap';
import { api } from '../api/client';
import { batchesOf, partsOfTable, type PartTable } from './partFiles';

/** Refused rows listed; the rest are counted. */
const LISTED = 50;

interface Props {
  readonly kind: PartKind;
  readonly table: PartTable;
  readonly onClose: (taken: number | undefined) => void;
}

/** Which column goes where, which rows are refused and why, and then the import itself, which can be given up. */
export function ImportDialog({ kind, table, onClose }: Props) {
  const [mapping, setMapping] = useState<ColumnMapping>(() => suggestedMapping(kind, table.headings));
  const [done, setDone] = useState<number>();
  const [fault, setFault] = useState<string>();
  const givenUp = useRef(false);
  const { parts, refused } = useMemo(() => partsOfTable(kind, table, mapping), [kind, table, mapping]);
  const columns = partColumns(kind);
  const missing = columns.filter(({ key, required }) => required && !Object.values(mapping).includes(key));
  const running = done !== undefined;

  const take = async (): Promise<void> => {
    setFault(undefined);
    setDone(0);
    givenUp.current = false;
    let id: string | undefined;
    try {
      id = await api.openImport();
      let sent = 0;
      for (const batch of batchesOf(parts)) {
        await api.importRows(id, kind, batch);
        // A press of the button may have come while the batch was on its way.
        if (stopped()) {
          await api.giveUpImport(id);
          setDone(undefined);
          return;
        }
        sent += batch.length;
        setDone(sent);
      }
      onClose(await api.finishImport(id));
    } catch (error) {
      if (id !== undefined) await api.giveUpImport(id).catch(() => undefined);
      setDone(undefined);
      setFault(`${error instanceof Error ? error.message : 'The import failed.'} Nothing was imported.`);
    }
  };
  const stopped = (): boolean => givenUp.current;

  return (
    <Modal show onHide={() => !running && onClose(undefined)} size="lg" aria-labelledby="import-title" scrollable>
      <Modal.Header closeButton={!running}>
        <Modal.Title as="h2" id="import-title">
          Import from {table.fileName}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <table className="plain" aria-label="Column mapping">
          <thead>
            <tr>
              <th>column of the file</th>
              <th>first row</th>
              <th>goes into</th>
            </tr>
          </thead>
          <tbody>
            {table.headings.map((heading) => (
              <tr key={heading}>
                <td>{heading}</td>
                <td className="quiet">{table.rows[0]?.[heading]}</td>
                <td>
                  <select
                    aria-label={`Field for ${heading}`}
                    disabled={running}
                    value={mapping[heading] ?? ''}
                    onChange={(event) => {
                      const others = Object.fromEntries(Object.entries(mapping).filter(([other]) => other !== heading));
                      const key = event.target.value;
                      setMapping(key === '' ? others : { ...others, [heading]: key });
                    }}
                  >
                    <option value="">nothing: left out</option>
                    {columns.map(({ key, words, required }) => (
                      <option key={key} value={key}>
                        {words}
                        {required ? ' (needed)' : ''}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="mt-3 mb-1" role="status">
          {parts.length} of {table.rows.length} rows can be taken
          {refused.length > 0 && `; ${String(new Set(refused.map(({ row }) => row)).size)} are refused`}. A part of the
          same name is replaced. Nothing is imported yet.
        </p>
        {missing.length > 0 && (
          <p className="small">
            No column goes into {missing.map(({ words }) => words).join(', ')}; a part cannot be without.
          </p>
        )}
        {refused.length > 0 && (
          <table className="plain small" aria-label="Refused rows">
            <thead>
              <tr>
                <th className="number">row</th>
                <th>column</th>
                <th>why</th>
              </tr>
            </thead>
            <tbody>
              {refused.slice(0, LISTED).map(({ row, column, sentence }) => (
                <tr key={`${String(row)} ${column} ${sentence}`}>
                  <td className="number">{row}</td>
                  <td>{column}</td>
                  <td>{sentence}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {refused.length > LISTED && <p className="small quiet">And {refused.length - LISTED} more.</p>}
        {fault !== undefined && (
          <p className="notice bad" role="alert">
            {fault}
          </p>
        )}
        {running && (
          <ProgressBar
            now={done}
            max={parts.length}
            label={`${String(done)} of ${String(parts.length)}`}
            className="mt-2"
          />
        )}
      </Modal.Body>
      <Modal.Footer>
        {running ? (
          <Button
            variant="outline-secondary"
            onClick={() => {
              givenUp.current = true;
            }}
          >
            Give the import up
          </Button>
        ) : (
          <>
            <Button variant="outline-secondary" onClick={() => onClose(undefined)}>
              Cancel
            </Button>
            <Button disabled={parts.length === 0} onClick={() => void take()}>
              Import {parts.length} {refused.length > 0 ? 'good ' : ''}
              {parts.length === 1 ? 'part' : 'parts'}
            </Button>
          </>
        )}
      </Modal.Footer>
    </Modal>
  );
}

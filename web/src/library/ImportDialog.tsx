import { partColumns, suggestedMapping, type ColumnMapping, type CommaMeaning, type PartKind } from '@yundro/core';
import { useRef, useState } from 'react';
import { Button, Modal, ProgressBar } from 'react-bootstrap';
import { api } from '../api/client';
import { Inquiry } from '../engine/inquiry';
import { useInquiry } from '../engine/useInquiry';
import type { WorkerLine } from '../engine/workerLine';
import { Failed } from '../shown/Answered';
import type { Importing, OpenedTable, ReadTable } from './import.worker';

interface Props {
  readonly kind: PartKind;
  readonly table: OpenedTable;
  /** The worker that keeps the rows of the file. */
  readonly line: WorkerLine<Importing>;
  readonly onClose: (taken: number | undefined) => void;
}

/** Which column goes where, which rows are refused and why, and then the import itself, which can be given up. */
export function ImportDialog({ kind, table, line, onClose }: Props) {
  const [mapping, setMapping] = useState<ColumnMapping>(() => suggestedMapping(kind, table.headings));
  const [commas, setCommas] = useState<CommaMeaning>();
  const [done, setDone] = useState<number>();
  const [fault, setFault] = useState<string>();
  const givenUp = useRef(false);
  const [inquiry] = useState(
    () =>
      new Inquiry<{ readonly mapping: ColumnMapping; readonly commas: CommaMeaning | undefined }, ReadTable>(
        (asked) => ({
          result: line.ask((importing) => importing.read(kind, asked.mapping, asked.commas)),
          stop: () => undefined,
        }),
      ),
  );
  const asked = useInquiry(inquiry, { mapping, commas });
  const read = asked.working ? undefined : asked.answer?.value;
  const columns = partColumns(kind);
  const missing = columns.filter(({ key, required }) => required && !Object.values(mapping).includes(key));
  const running = done !== undefined;

  const take = async (): Promise<void> => {
    if (!read) return;
    setFault(undefined);
    setDone(0);
    givenUp.current = false;
    let id: string | undefined;
    try {
      id = await api.openImport();
      let sent = 0;
      for (let index = 0; index < read.batches; index += 1) {
        const batch = await line.ask((importing) => importing.batch(index));
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
                <td className="quiet">{table.first[heading]}</td>
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
        {read?.commas.ambiguous !== undefined && read.commas.settled === undefined && (
          <label className="mt-3 d-block">
            In this file “{read.commas.ambiguous}” may mean either. Its comma is{' '}
            <select
              className="pick"
              aria-label="What the commas of this file mean"
              disabled={running}
              value={commas ?? ''}
              onChange={({ target: { value } }) =>
                setCommas(value === 'decimal' || value === 'thousands' ? value : undefined)
              }
            >
              <option value="">not said: such rows are refused</option>
              <option value="decimal">the decimal sign</option>
              <option value="thousands">a mark of thousands</option>
            </select>
          </label>
        )}
        {asked.failure && <Failed what="answer on the rows" sentence={asked.failure.sentence} retry={asked.retry} />}
        <p className="mt-3 mb-1" role="status">
          {read
            ? `${String(read.parts)} of ${String(table.rows)} rows can be taken${read.refusedRows > 0 ? `; ${String(read.refusedRows)} are refused` : ''}. A part of the same name is replaced. Nothing is imported yet.`
            : 'The rows are being read …'}
        </p>
        {missing.length > 0 && (
          <p className="small">
            No column goes into {missing.map(({ words }) => words).join(', ')}; a part cannot be without.
          </p>
        )}
        {read && read.refused.length > 0 && (
          <table className="plain small" aria-label="Refused rows">
            <thead>
              <tr>
                <th className="number">row</th>
                <th>column</th>
                <th>why</th>
              </tr>
            </thead>
            <tbody>
              {read.refused.map(({ row, column, sentence }) => (
                <tr key={`${String(row)} ${column} ${sentence}`}>
                  <td className="number">{row}</td>
                  <td>{column}</td>
                  <td>{sentence}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {read && read.faults > read.refused.length && (
          <p className="small quiet">And {read.faults - read.refused.length} more.</p>
        )}
        {fault !== undefined && (
          <p className="notice bad" role="alert">
            {fault}
          </p>
        )}
        {running && (
          <ProgressBar
            now={done}
            max={read?.parts ?? 0}
            label={`${String(done)} of ${String(read?.parts ?? 0)}`}
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
            <Button disabled={!read || read.parts === 0} onClick={() => void take()}>
              Import {read?.parts ?? 0} {read && read.refusedRows > 0 ? 'good ' : ''}
              {read?.parts === 1 ? 'part' : 'parts'}
            </Button>
          </>
        )}
      </Modal.Footer>
    </Modal>
  );
}

import type { Check } from '@yundro/core';
import { Form } from 'react-bootstrap';
import { Answered } from '../shown/Answered';
import type { BoardFramed } from './BoardStation';
import { useBoard } from './boardStore';

const STATES = ['open', 'done', 'not for us'] as const;
const FRESH: Check = { state: 'open', note: '' };

/** What is to be looked at on this board, line by line, with its state and a note. */
export function ChecklistView({ stageId, asked, frame }: BoardFramed) {
  const { board, change } = useBoard(stageId);
  const lines = asked.answer?.value?.checklist ?? [];
  const put = (key: string, part: Partial<Check>): void =>
    change(({ checks }) => ({ checks: { ...checks, [key]: { ...FRESH, ...checks[key], ...part } } }));
  const open = lines.filter(({ key }) => (board.checks[key] ?? FRESH).state === 'open').length;
  return frame({
    fields: (
      <fieldset>
        <legend>Review</legend>
        <p role="status">
          {lines.length === 0
            ? 'No lines yet.'
            : open === 0
              ? 'Every line is settled.'
              : `${String(open)} of ${String(lines.length)} lines are open.`}
        </p>
        <p className="small quiet mb-0">
          Made from the circuit, its waveforms and its records: it changes with them. States and notes are kept with the
          stage. What can hurt someone is decided by your local code and by who is licensed to.
        </p>
      </fieldset>
    ),
    picture: (
      <Answered of={asked} what="board" wait={<p className="quiet">The list is being made …</p>}>
        {(needs) =>
          !needs ? (
            <p className="quiet">The list appears when the stage has all its parts.</p>
          ) : (
            <ol className="checklist">
              {needs.checklist.map(({ key, line, reason }, k) => {
                const check = board.checks[key] ?? FRESH;
                const label = `line ${String(k + 1)}`;
                return (
                  <li key={key} className={check.state === 'open' ? '' : 'settled'}>
                    <strong>{line}</strong> <span className="small quiet d-block">{reason}</span>
                    <span className="checklist-state">
                      <select
                        className="pick"
                        aria-label={`State of ${label}`}
                        value={check.state}
                        onChange={({ target }) =>
                          put(key, { state: STATES.find((one) => one === target.value) ?? 'open' })
                        }
                      >
                        {STATES.map((one) => (
                          <option key={one}>{one}</option>
                        ))}
                      </select>
                      <Form.Control
                        size="sm"
                        aria-label={`Note on ${label}`}
                        placeholder="Note"
                        maxLength={2000}
                        value={check.note}
                        onChange={({ target }) => put(key, { note: target.value })}
                      />
                    </span>
                  </li>
                );
              })}
            </ol>
          )
        }
      </Answered>
    ),
  });
}

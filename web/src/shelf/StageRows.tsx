import { marginText, printQuantity, type StageRow, type Unit } from '@yundro/core';
import { useInView } from 'react-intersection-observer';
import { Link } from 'react-router';
import { VerdictMark } from '../shown/VerdictMark';
import { Miniature } from './Miniature';

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

const COUNTED = [
  ['fails', 'fails'],
  ['notJudged', 'not judged'],
  ['tight', 'tight'],
  ['holds', 'holds'],
] as const;

/** How many targets are in each state: as a strip, whose lengths are the numbers, and in words; far from the window in words alone. */
function Verdicts({ summary, near }: { readonly summary: StageRow['summary']; readonly near: boolean }) {
  const { verdicts, state, reason, tightest } = summary;
  if (state === 'pending')
    return (
      <span className="quiet" role="status">
        being worked …
      </span>
    );
  if (!verdicts) return <span className="quiet">{reason}</span>;
  const present = COUNTED.filter(([key]) => verdicts[key] > 0);
  if (!near) return present.map(([key, word]) => `${word} ${String(verdicts[key])}`).join(' ');
  return (
    <>
      <span className="strip" aria-hidden="true">
        {present.map(([key, word]) => (
          <i key={key} className={word.replace(' ', '-')} style={{ flexGrow: verdicts[key] }} />
        ))}
      </span>
      <span className="counts small">
        {present.map(([key, word]) => (
          <VerdictMark key={key} word={word} count={verdicts[key]} />
        ))}
      </span>
      {tightest && (
        <span className="small quiet d-block">
          tightest: {tightest.quantity}, {tightest.margin === null ? 'no number' : marginText(tightest.margin)}
        </span>
      )}
    </>
  );
}

/** A figure as text: it does not change under the reader's eyes, and there are hundreds of them. */
const shown = (value: number, unit: Unit): string => {
  const { number, unit: symbol } = printQuantity(value, unit, 3);
  return `${number}\u2009${symbol}`;
};

/** What a stage is, in the columns of its row. */
function Facts({ facts }: { readonly facts: StageRow['facts'] }) {
  if (!facts) return <td colSpan={4} />;
  const { topology, inputVoltage, outputVoltage, outputCurrent, phases } = facts;
  return (
    <>
      <td>
        {topology.replaceAll('-', ' ')}
        {phases > 1 && <span className="small quiet d-block">{phases} phases</span>}
      </td>
      <td className="number">{`${String(inputVoltage.min)} to ${shown(inputVoltage.max, 'V')}`}</td>
      <td className="number">{shown(outputVoltage, 'V')}</td>
      <td className="number">{shown(outputCurrent, 'A')}</td>
    </>
  );
}

/** Made once: a formatter is dear, and a full shelf has hundreds of times. */
const CLOCK = new Intl.DateTimeFormat(undefined, { hour: '2-digit', minute: '2-digit' });
const CALENDAR = new Intl.DateTimeFormat(undefined, { day: 'numeric', month: 'short', year: 'numeric' });

/** When a stage was last worked on, as one says it. */
function when(updatedAt: string): string {
  const at = new Date(updatedAt);
  const today = at.toDateString() === new Date().toDateString();
  return (today ? CLOCK : CALENDAR).format(at);
}

/** Rows of a project that are drawn whole at once: as many as a high window shows. */
const SHOWN_AT_ONCE = 16;

/** A stage as a row. What is dear to draw (drawing, strip, actions) waits until the row comes near the window. */
function Row({ row, first, acts }: { readonly row: StageRow; readonly first: boolean; readonly acts: Acts }) {
  const { ref, inView: near } = useInView({ triggerOnce: true, rootMargin: '800px 0px', initialInView: first });
  return (
    <tr ref={ref}>
      <td>{near && row.facts && <Miniature topology={row.facts.topology} rectifier={row.facts.rectifier} />}</td>
      <td className="stage-name">{row.facts ? <Link to={`/stages/${row.id}/overview`}>{row.name}</Link> : row.name}</td>
      <Facts facts={row.facts} />
      <td className="verdicts">
        <Verdicts summary={row.summary} near={near} />
      </td>
      <td className="number small quiet">{when(row.updatedAt)}</td>
      <td className="actions">
        {near &&
          ACTIONS.filter(([, ofUnreadable]) => row.facts !== null || ofUnreadable).map(([words]) => (
            <button
              key={words}
              type="button"
              className="btn btn-plain small"
              aria-label={`${words} ${row.name}`}
              onClick={() => acts[words](row)}
            >
              {words}
            </button>
          ))}
      </td>
    </tr>
  );
}

type Acts = Readonly<Record<(typeof ACTIONS)[number][0], (row: StageRow) => void>>;

/** The stages of a project, one to a row. */
export function StageRows({ rows, onExport, onRename, onDuplicate, onDelete }: Props) {
  const acts = { Rename: onRename, Duplicate: onDuplicate, Export: onExport, Delete: onDelete };
  if (rows.length === 0)
    return <p className="quiet mt-2">No stages yet. Start one with “New stage”, or drop a stage file here.</p>;
  return (
    <table className="plain stages">
      <thead>
        <tr>
          <th>
            <span className="visually-hidden">Drawing</span>
          </th>
          <th>Stage</th>
          <th>Form</th>
          <th className="number">Input</th>
          <th className="number">Output</th>
          <th className="number">Full load</th>
          <th>Targets at the worst corner</th>
          <th className="number">Last worked</th>
          <th>
            <span className="visually-hidden">Actions</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row, i) => (
          <Row key={row.id} row={row} first={i < SHOWN_AT_ONCE} acts={acts} />
        ))}
      </tbody>
    </table>
  );
}

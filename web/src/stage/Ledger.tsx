import { formatQuantity, problemsSentence, verdictWord, type Verdict } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { Quantity } from '../shown/Quantity';
import { VerdictMark } from '../shown/VerdictMark';
import { useSession } from './stageSession';
import { foldLedger, openWorking, useLayout } from './stageView';

/** Margin at which the bar is full. */
const FULL_BAR = 0.5;

function MarginBar({ verdict }: { readonly verdict: Verdict }) {
  const { margin } = verdict;
  if (margin === null) return <span />;
  const share = Math.min(1, Math.abs(margin) / FULL_BAR);
  return (
    <span className="margin">
      <span className={`bar ${verdictWord(verdict)}`}>
        <i style={{ width: `${String(100 * share)}%` }} />
      </span>
      <span className="share">{(100 * margin).toFixed(Math.abs(margin) < 0.1 ? 1 : 0)} %</span>
    </span>
  );
}

function Line({
  verdict,
  folded,
  onOpen,
}: {
  readonly verdict: Verdict;
  readonly folded: boolean;
  readonly onOpen: () => void;
}) {
  const { quantity, sense, required, worst, unit, corner, reason } = verdict;
  return (
    <button
      type="button"
      className="line"
      onClick={onOpen}
      title={`${quantity}: open the working`}
      data-target={verdict.target}
    >
      <VerdictMark word={verdictWord(verdict)} />
      {!folded && (
        <>
          <span>{quantity}</span>
          <MarginBar verdict={verdict} />
          <span className="where">
            {worst === null ? reason : <Quantity value={worst} unit={unit} />},{' '}
            {sense === 'at-most' ? 'at most' : 'at least'} <Quantity value={required} unit={unit} digits={3} />; worst
            at {formatQuantity(corner.inputVoltage, 'V', 3)}, {formatQuantity(corner.outputCurrent, 'A', 3)}
          </span>
        </>
      )}
    </button>
  );
}

/** One line per target: required, worst-corner result, margin and where it occurs. Always in view. */
export function Ledger() {
  const worked = useSession((session) => session.worked);
  const stale = useSession((session) => session.stale);
  const folded = useLayout((layout) => layout.folded);
  const evaluation = worked?.evaluation;
  const cornerOf = ({ corner }: Verdict): number =>
    worked?.corners.findIndex(
      (one) => one.inputVoltage === corner.inputVoltage && one.outputCurrent === corner.outputCurrent,
    ) ?? 0;
  return (
    <aside className={`ledger ${folded ? 'folded' : ''}`} aria-label="Ledger" aria-busy={stale}>
      <div className="ledger-head">
        {!folded && <h2>Ledger</h2>}
        {!folded && stale && <span className="quiet small">working …</span>}
        <Button variant="plain" className="ms-auto" aria-expanded={!folded} onClick={() => foldLedger(!folded)}>
          {folded ? 'Unfold' : 'Fold'}
        </Button>
      </div>
      {worked && !evaluation && <p className="quiet">{problemsSentence(worked.problems)}</p>}
      {evaluation?.verdicts.map((verdict) => (
        <Line
          key={verdict.target}
          verdict={verdict}
          folded={folded}
          onOpen={() => openWorking({ corner: cornerOf(verdict), figure: verdict.figure })}
        />
      ))}
      {evaluation && evaluation.notJudged.length > 0 && !folded && (
        <p className="quiet small mt-2">
          Stated in the stage file and not judged by this version: {evaluation.notJudged.join(', ')}.
        </p>
      )}
    </aside>
  );
}

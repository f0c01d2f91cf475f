import {
  formatQuantity,
  marginText,
  pathKey,
  problemsSentence,
  stageField,
  valueAt,
  verdictSummary,
  verdictWord,
  type LedgerLine,
  type Verdict,
} from '@yundro/core';
import { Button } from 'react-bootstrap';
import { useNavigate, useParams } from 'react-router';
import { Quantity } from '../shown/Quantity';
import { dutyAs, useDutyConvention } from '../shown/dutyConvention';
import { VerdictMark } from '../shown/VerdictMark';
import { useFullLine, useWorkFullLedger } from './fullLedger';
import { differs, useHeld } from './ghost';
import { Failed } from '../shown/Answered';
import { faultSentence, labelled } from '../fields/labels';
import { refusedTexts, useSession } from './stageSession';
import { retryWork } from './working';
import { foldLedger, lookAt, openWorking, useLayout } from './stageView';
import { useLoopVerdicts, useWorkLoop } from '../loop/loopJudgement';

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
      <span className="share">{marginText(margin)}</span>
    </span>
  );
}

/** A verdict on the duty ratio, written with the pulse ratio: its limit is on the other side. Others stay as they are. */
function asPulseRatio(verdict: Verdict): Pick<Verdict, 'quantity' | 'sense' | 'required' | 'worst' | 'unit'> {
  if (verdict.figure !== 'duty' || verdict.unit !== 'ratio') return verdict;
  return {
    quantity: verdict.quantity.replace('duty ratio', 'pulse ratio q'),
    sense: verdict.sense === 'at-most' ? 'at-least' : 'at-most',
    required: dutyAs('q', verdict.required),
    worst: verdict.worst === null ? null : dutyAs('q', verdict.worst),
    unit: 'ratio',
  };
}

/** Whether the spread of the parts takes enough of the margin to be worth a word. */
const isMoved = ({ margin, nominal }: LedgerLine): boolean =>
  margin !== null && nominal.margin !== null && nominal.margin - margin > WORTH_A_WORD;
const WORTH_A_WORD = 0.005;

function Line({
  verdict: given,
  folded,
  onOpen,
}: {
  readonly verdict: Verdict;
  readonly folded: boolean;
  readonly onOpen: () => void;
}) {
  const before = useHeld()?.evaluation?.verdicts.find((one) => one.target === given.target);
  const full = useFullLine(given.target);
  const verdict = full ?? given;
  const { corner, reason } = verdict;
  const convention = useDutyConvention((chosen) => chosen.convention);
  const { quantity, sense, required, worst, unit } = convention === 'q' ? asPulseRatio(verdict) : verdict;
  return (
    <button
      type="button"
      className="line"
      onClick={onOpen}
      title={`${quantity}: ${verdict.figure === 'loop' ? 'look at the loop' : 'open the working'}`}
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
            {full && isMoved(full) && ', parts at their limits'}
            {before?.margin != null && given.margin !== null && differs(before.margin, given.margin) && (
              <>; held design: {marginText(before.margin)}</>
            )}
            {given.note !== undefined && <>. Note: {given.note}</>}
          </span>
        </>
      )}
    </button>
  );
}

/** How many targets fail, are tight and hold, the worst first. */
function LedgerSummary({ verdicts }: { readonly verdicts: readonly Verdict[] }) {
  const counts = verdictSummary(verdicts);
  return (
    <span className="ledger-summary">
      {(['fails', 'tight', 'holds'] as const).map(
        (word) => counts[word] > 0 && <VerdictMark key={word} word={word} count={counts[word]} />,
      )}
    </span>
  );
}

/** What the verdicts are of, where that is not what stands in the fields: a text under way, or one that was refused. */
function JudgedWith() {
  const document = useSession((session) => session.document);
  const previewed = useSession(({ preview, typing }) => (preview === undefined ? undefined : typing));
  const refused = useSession(refusedTexts);
  return (
    <>
      {previewed && (
        <p className="judged-with" role="status">
          As being typed, {labelled(previewed.path)} {previewed.text}: Enter takes it, Escape drops it.
        </p>
      )}
      {refused.map(({ path, text, fault }) => {
        const value = valueAt(document, path);
        const meta = stageField(path);
        const inForce =
          typeof value === 'number' && meta
            ? formatQuantity(value, meta.unit)
            : typeof value === 'string'
              ? value
              : 'none';
        return (
          <p key={pathKey(path)} className="judged-with" title={faultSentence(path, fault)}>
            {labelled(path)}: judged with {inForce}; “{text}” is refused.
          </p>
        );
      })}
    </>
  );
}

/** One line per target: required, worst-corner result, margin and where it occurs. Always in view. */
export function Ledger() {
  const worked = useSession((session) => session.worked);
  const stale = useSession((session) => session.stale);
  const folded = useLayout((layout) => layout.folded);
  const evaluation = worked?.evaluation;
  const workFault = useSession((session) => session.workFault);
  const full = useWorkFullLedger();
  const askedLoop = useWorkLoop();
  const { working } = full;
  const loop = useLoopVerdicts();
  const judgedToo = new Set(loop.map(({ quantity }) => quantity));
  const notJudged = evaluation?.notJudged.filter((words) => !judgedToo.has(words)) ?? [];
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const cornerOf = ({ corner }: Verdict): number =>
    worked?.corners.findIndex(
      (one) => one.inputVoltage === corner.inputVoltage && one.outputCurrent === corner.outputCurrent,
    ) ?? 0;
  return (
    <aside className={`ledger ${folded ? 'folded' : ''}`} aria-label="Ledger" aria-busy={stale}>
      <div className="ledger-head">
        {folded ? <LedgerSummary verdicts={[...(evaluation?.verdicts ?? []), ...loop]} /> : <h2>Ledger</h2>}
        {!folded && (stale || working) && (
          <span className="quiet small">{stale ? 'working …' : 'working the drivers …'}</span>
        )}
        <Button variant="plain" className="ms-auto" aria-expanded={!folded} onClick={() => foldLedger(!folded)}>
          {folded ? 'Unfold' : 'Fold'}
        </Button>
      </div>
      {!folded && (
        <>
          {workFault !== undefined && <Failed what="verdict" sentence={workFault} retry={retryWork} />}
          {full.failure && <Failed what="driver of the margins" sentence={full.failure.sentence} retry={full.retry} />}
          {askedLoop.failure && (
            <Failed what="verdict on the loop" sentence={askedLoop.failure.sentence} retry={askedLoop.retry} />
          )}
        </>
      )}
      <JudgedWith />
      {worked && !evaluation && <p className="quiet">{problemsSentence(worked.problems)}</p>}
      {evaluation?.verdicts.map((verdict) => (
        <Line
          key={verdict.target}
          verdict={verdict}
          folded={folded}
          onOpen={() => openWorking({ corner: cornerOf(verdict), figure: verdict.figure, target: verdict.target })}
        />
      ))}
      {evaluation &&
        loop.map((verdict) => (
          <Line
            key={verdict.target}
            verdict={verdict}
            folded={folded}
            onOpen={() => {
              lookAt(cornerOf(verdict));
              void navigate(`/stages/${id}/loop`);
            }}
          />
        ))}
      {notJudged.length > 0 && !folded && (
        <p className="quiet small mt-2">Stated, and not judged as it stands: {notJudged.join(', ')}.</p>
      )}
    </aside>
  );
}

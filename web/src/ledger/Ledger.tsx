import {
  formatQuantity,
  marginText,
  pathKey,
  problemsSentence,
  stageField,
  valueAt,
  verdictWord,
  type LedgerLine,
  type Verdict,
} from '@yundro/core';
import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useLocation, useNavigate, useParams } from 'react-router';
import { faultSentence, labelled } from '../fields/labels';
import { Failed } from '../shown/Answered';
import { dutyAs, useDutyConvention } from '../shown/dutyConvention';
import { Icon } from '../shown/Icon';
import { Quantity } from '../shown/Quantity';
import { VerdictMark } from '../shown/VerdictMark';
import { useHeld } from '../stage/ghost';
import { refusedTexts, useSession } from '../stage/stageSession';
import { foldLedger, lookAt, openWorking, showLinesOf, useLayout } from '../stage/stageView';
import { picturedAt, STATIONS } from '../stage/stations';
import { retryWork } from '../stage/working';
import { useAllJudgements, useLedger } from './judgements';
import { markOf, MARKS, ofStation, type Groups, type Line, type Mark, type Unjudged } from './lines';

/** A margin as a bar on one scale from nothing to all of the required value. */
function MarginBar({ margin, word }: { readonly margin: number; readonly word: string }) {
  return (
    <span className={`bar ${word}`} aria-hidden="true">
      <i style={{ width: `${String(100 * Math.min(1, Math.abs(margin)))}%` }} />
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

/** Whether a line is worked in full. */
const isFull = (verdict: Verdict | LedgerLine): verdict is LedgerLine => verdict.drivers !== undefined;

/** Whether the spread of the parts takes enough of the margin to be worth a word. */
const isMoved = ({ margin, nominal }: LedgerLine): boolean =>
  margin !== null && nominal.margin !== null && nominal.margin - margin > WORTH_A_WORD;
const WORTH_A_WORD = 0.005;

/** What drives a margin most, and where it would be gone. */
function driverWords({ drivers }: LedgerLine): string | undefined {
  const [first] = drivers;
  if (!first) return undefined;
  const value = (of: number): string => formatQuantity(of, first.unit, 3);
  return first.zeroAt === null
    ? `driven by ${first.quantity}`
    : `driven by ${first.quantity}: ${value(first.value)} now, no margin at ${value(first.zeroAt)}`;
}

function VerdictLine({ line, onOpen }: { readonly line: Line; readonly onOpen: () => void }) {
  const { verdict, stated, kept } = line;
  const before = useHeld()?.evaluation?.verdicts.find((one) => one.target === verdict.target);
  const convention = useDutyConvention((chosen) => chosen.convention);
  const word = verdictWord(verdict);
  const { margin, corner, reason } = verdict;
  const { quantity, sense, required, worst, unit } = convention === 'q' ? asPulseRatio(verdict) : verdict;
  const open = word !== 'holds';
  const driver = isFull(verdict) ? driverWords(verdict) : undefined;
  const held =
    before?.margin != null && stated.margin !== null && marginText(before.margin) !== marginText(stated.margin)
      ? before.margin
      : undefined;
  return (
    <button
      type="button"
      className={`line ${word}`}
      onClick={onOpen}
      title={`${quantity}: ${picturedAt(verdict.figure)?.words ?? 'open the working'}`}
      data-target={verdict.target}
    >
      <span className="what">
        {quantity}
        <span className="visually-hidden">, {word}</span>
      </span>
      {margin === null ? <span /> : <MarginBar margin={margin} word={word} />}
      <span className="share">{margin === null ? '–' : marginText(margin)}</span>
      <span className={open ? 'where' : 'visually-hidden'}>
        {worst === null ? reason : <Quantity value={worst} unit={unit} />},{' '}
        {sense === 'at-most' ? 'at most' : 'at least'} <Quantity value={required} unit={unit} digits={3} />; worst at{' '}
        {formatQuantity(corner.inputVoltage, 'V', 3)}, {formatQuantity(corner.outputCurrent, 'A', 3)}
        {isFull(verdict) && isMoved(verdict) && ', parts at their limits'}
        {verdict.note !== undefined && <>. Note: {verdict.note}</>}
      </span>
      {open && driver !== undefined && <span className="where">{driver}</span>}
      {kept !== undefined && <span className="where">{kept}</span>}
      {held !== undefined && <span className="where">held design: {marginText(held)}</span>}
    </button>
  );
}

function UnjudgedLine({ quantity, reason, station }: Unjudged) {
  const { id = '' } = useParams();
  const where = STATIONS.find(({ to }) => to === station)?.words ?? station;
  return (
    <Link className="line unjudged" to={`/stages/${id}/${station}`} data-unjudged={quantity}>
      <span className="what">{quantity}</span>
      <span />
      <span className="share">–</span>
      <span className="where">
        {reason} <span className="door">{where}</span>
      </span>
    </Link>
  );
}

function Group({
  mark,
  count,
  children,
}: {
  readonly mark: Mark;
  readonly count: number;
  readonly children: ReactNode;
}) {
  if (count === 0) return null;
  return (
    <section aria-label={mark} className={`lines ${mark.replace(' ', '-')}`}>
      <h3>
        <VerdictMark word={mark} count={count} />
      </h3>
      {children}
    </section>
  );
}

/** How many lines of each group there are, the worst first. */
function LedgerSummary({ groups }: { readonly groups: Groups }) {
  const counts: Record<Mark, number> = {
    fails: groups.fails.length,
    'not judged': groups.unjudged.length,
    tight: groups.tight.length,
    holds: groups.holds.length,
  };
  return (
    <span className="ledger-summary">
      {MARKS.map((mark) => counts[mark] > 0 && <VerdictMark key={mark} word={mark} count={counts[mark]} />)}
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

/** The station that is shown, where it has lines of its own. */
function useStationShown() {
  const { pathname } = useLocation();
  const last = pathname.split('/').at(-1);
  return STATIONS.find(({ to }) => to === last && to !== 'overview' && to !== 'targets');
}

/** Every target at its worst corner, what presses most first. Always in view. */
export function Ledger() {
  const worked = useSession((session) => session.worked);
  const stale = useSession((session) => session.stale);
  const workFault = useSession((session) => session.workFault);
  const folded = useLayout((layout) => layout.folded);
  const only = useLayout((layout) => layout.linesOf) === 'station';
  const station = useStationShown();
  const judgements = Object.values(useAllJudgements());
  const working = judgements.some(({ asked }) => asked.working);
  const all = useLedger();
  const groups = only && station ? ofStation(all, station.to) : all;
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const open = ({ verdict }: Line): void => {
    const { corner, figure, target } = verdict;
    const place =
      worked?.corners.findIndex(
        (one) => one.inputVoltage === corner.inputVoltage && one.outputCurrent === corner.outputCurrent,
      ) ?? 0;
    const picture = picturedAt(figure);
    if (!picture) {
      openWorking({ corner: place, figure, target });
      return;
    }
    // A step goes between loads that are no corners: the input is what is looked at.
    const here = place >= 0 ? place : worked?.corners.findLastIndex((one) => one.inputVoltage === corner.inputVoltage);
    if (here !== undefined && here >= 0) lookAt(here);
    void navigate(`/stages/${id}/${picture.to}`);
  };
  const lines = (list: readonly Line[]) =>
    list.map((line) => <VerdictLine key={line.verdict.target} line={line} onOpen={() => open(line)} />);
  return (
    <aside className={`ledger ${folded ? 'folded' : ''}`} aria-label="Ledger" aria-busy={stale}>
      <div className="ledger-head">
        {folded ? <LedgerSummary groups={all} /> : <h2>Ledger</h2>}
        {!folded && (stale || working) && <span className="quiet small">working …</span>}
        {!folded && station && (
          <Button
            variant="plain"
            className="ms-auto small"
            aria-pressed={only}
            onClick={() => showLinesOf(only ? 'stage' : 'station')}
          >
            {only ? 'All lines' : 'This station only'}
          </Button>
        )}
        <Button
          variant="plain"
          className={station && !folded ? '' : 'ms-auto'}
          aria-expanded={!folded}
          aria-label={folded ? 'Unfold the ledger' : 'Fold the ledger'}
          title={folded ? 'Unfold the ledger' : 'Fold the ledger'}
          onClick={() => foldLedger(!folded)}
        >
          <Icon shape={folded ? 'unfold' : 'fold'} />
        </Button>
      </div>
      {!folded && (
        <>
          {workFault !== undefined && <Failed what="verdict" sentence={workFault} retry={retryWork} />}
          {judgements.map(
            ({ what, asked }) =>
              asked.failure && <Failed key={what} what={what} sentence={asked.failure.sentence} retry={asked.retry} />,
          )}
        </>
      )}
      <JudgedWith />
      {worked && !worked.evaluation && <p className="quiet">{problemsSentence(worked.problems)}</p>}
      {!folded && worked?.evaluation && (
        <>
          <Group mark="fails" count={groups.fails.length}>
            {lines(groups.fails)}
          </Group>
          <Group mark="not judged" count={groups.unjudged.length}>
            {groups.unjudged.map((one) => (
              <UnjudgedLine key={one.quantity} {...one} />
            ))}
          </Group>
          <Group mark="tight" count={groups.tight.length}>
            {lines(groups.tight)}
          </Group>
          <Group mark="holds" count={groups.holds.length}>
            {lines(groups.holds)}
          </Group>
          {only && station && markOf(groups) === undefined && (
            <p className="quiet small">No target is decided at this station.</p>
          )}
        </>
      )}
    </aside>
  );
}

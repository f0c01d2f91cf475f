import { changeWords, marginText, pathKey, type LedgerLine, type NextStep, type Verdict } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useSurvey } from '../engine/useSurvey';
import { useAllJudgements, useLedger } from '../ledger/judgements';
import { worstLine } from '../ledger/lines';
import { Failed } from '../shown/Answered';
import { changeAlone } from '../stage/editing';
import { holdPresent, useHeld } from '../stage/ghost';
import { useSession } from '../stage/stageSession';
import { picturedAt, STATIONS, stationOf } from '../stage/stations';

const isFull = (verdict: Verdict | LedgerLine): verdict is LedgerLine => verdict.drivers !== undefined;

const margin = (value: number | null): string => (value === null ? 'none' : marginText(value));

/** What a change costs elsewhere. */
function costWords({ costs, clean }: NextStep): string {
  if (costs.length === 0) return 'No other margin loses more than 2 %.';
  const said = costs
    .slice(0, 3)
    .map(({ quantity, before, after }) => `${quantity} ${margin(before)} to ${margin(after)}`);
  return `${clean ? 'It costs' : 'But then something else fails'}: ${said.join(', ')}${costs.length > 3 ? ', …' : ''}.`;
}

/** What would mend the line that presses most: each change with what it costs elsewhere, to be tried. */
export function NextStepCard() {
  const groups = useLedger();
  const worst = worstLine(groups);
  const stage = useSession((session) => session.worked?.stage);
  const stale = useSession((session) => session.stale);
  const presses = worst !== undefined && (groups.fails.length > 0 || groups.tight.length > 0);
  const line = presses && isFull(worst.verdict) ? worst.verdict : undefined;
  const question = stage && line ? { stage, line } : undefined;
  const asked = useSurvey(question, (survey, of) => survey.nextSteps(of.stage, of.line));
  const [others, showOthers] = useState(false);
  const [refused, setRefused] = useState<string>();
  const tried = useHeld() !== undefined;
  const { id = '' } = useParams();
  const unanswered = useAllJudgements()['transient']?.asked.failure !== undefined;
  if (!worst || !stage) return <div className="next-step" aria-hidden="true" />;
  const quantity = worst.verdict.quantity;
  if (!presses)
    return (
      <section className="next-step calm" aria-label="Next step">
        <p>
          <b>Nothing presses.</b> Nearest to its limit is {quantity}, with {margin(worst.verdict.margin)} of it left.
        </p>
      </section>
    );
  const station = stationOf(worst.verdict.target);
  const where = STATIONS.find(({ to }) => to === station)?.words ?? station;
  const door = (
    <Link className="btn btn-outline-secondary" to={`/stages/${id}/${station}`}>
      Go to {where}
    </Link>
  );
  const simulated = worst.verdict.figure === 'transient' && !unanswered;
  const picture = line === undefined && !simulated ? picturedAt(worst.verdict.figure) : undefined;
  if (picture)
    return (
      <section className="next-step" aria-label="Next step">
        <p>
          <b>{sentence(quantity)} presses most.</b> {picture.mend}
        </p>
        {door}
      </section>
    );
  const { answer, failure, working, retry } = asked;
  const steps = answer?.question.stage === stage && answer.question.line === line ? answer.value : undefined;
  if (failure) return <Failed what="next step" sentence={failure.sentence} retry={retry} />;
  if (!steps)
    return (
      <section className="next-step" aria-label="Next step" aria-busy={working || stale}>
        <p className="quiet">What would mend {quantity} is being worked …</p>
      </section>
    );
  const [first, ...rest] = steps;
  const attempt = async (step: NextStep): Promise<void> => {
    await holdPresent();
    setRefused(changeAlone(step.path, step.to));
  };
  if (!first)
    return (
      <section className="next-step" aria-label="Next step">
        <p>
          <b>No single value mends {quantity}.</b> Its station shows what drives it; two changes together, another
          topology or another target may.
        </p>
        {door}
      </section>
    );
  const mended = `${quantity} ${margin(first.mended.before)} to ${margin(first.mended.after)}`;
  return (
    <section className={`next-step ${groups.fails.length > 0 ? 'fails' : 'tight'}`} aria-label="Next step">
      <div>
        <p>
          <b>{sentence(changeWords(first))}</b>: {mended}.
        </p>
        <p className="quiet small">{refused ?? costWords(first)}</p>
        {others && (
          <ul className="other-ways">
            {rest.map((step) => (
              <li key={pathKey(step.path)}>
                <span>
                  {sentence(changeWords(step))}: {margin(step.mended.after)}.{' '}
                  <span className="quiet small">{costWords(step)}</span>
                </span>
                <Button variant="outline-secondary" disabled={stale} onClick={() => void attempt(step)}>
                  Try<span className="visually-hidden">: {changeWords(step)}</span>
                </Button>
              </li>
            ))}
          </ul>
        )}
        {tried && <p className="quiet small">The design of before is held beside this one; undo goes back to it.</p>}
      </div>
      {rest.length > 0 && (
        <Button variant="outline-secondary" aria-expanded={others} onClick={() => showOthers(!others)}>
          {others ? 'Fewer ways' : `Other ways, ${String(rest.length)}`}
        </Button>
      )}
      <Button variant="primary" disabled={stale} onClick={() => void attempt(first)}>
        Try it
      </Button>
    </section>
  );
}

const sentence = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

import { formatQuantity } from '@yundro/core';
import { Fragment } from 'react';
import { useSession } from '../stage/stageSession';
import { useAllJudgements, useLedger } from '../ledger/judgements';
import type { Line } from '../ledger/lines';

/** What fails, with its number and where. */
function failure({ verdict }: Line): string {
  const { quantity, worst, unit, required, sense, corner, reason } = verdict;
  const at = `${formatQuantity(corner.inputVoltage, 'V', 3)}, ${formatQuantity(corner.outputCurrent, 'A', 3)}`;
  if (worst === null) return `${quantity} at ${at}: ${reason ?? 'no number'}`;
  return `${quantity} ${formatQuantity(worst, unit, 3)}, ${sense === 'at-most' ? 'at most' : 'at least'} ${formatQuantity(required, unit, 3)}, at ${at}`;
}

/** Whether the stage holds, in a sentence: what fails first, then how many are tight, hold, and are not judged. */
export function VerdictSentence() {
  const { fails, unjudged, tight, holds } = useLedger();
  const stale = useSession((session) => session.stale);
  const evaluated = useSession((session) => session.worked?.evaluation !== undefined);
  const judgements = Object.values(useAllJudgements());
  const working = judgements.some(({ asked }) => asked.working);
  // What gave no answer cannot be said to hold.
  const silent = judgements.filter(({ asked }) => asked.failure !== undefined).map(({ what }) => `no ${what}`);
  if (!evaluated)
    return (
      <p className="verdict-sentence quiet">{stale ? 'The stage is being worked …' : 'The stage lacks a part.'}</p>
    );
  const counted = [
    tight.length > 0 && { word: 'tight', says: `${String(tight.length)} ${tight.length === 1 ? 'is' : 'are'} tight` },
    holds.length > 0 && { word: 'holds', says: `${String(holds.length)} ${holds.length === 1 ? 'holds' : 'hold'}` },
    unjudged.length > 0 && {
      word: 'not-judged',
      says: `${unjudged.map(({ quantity }) => quantity).join(', ')} not judged`,
    },
  ].filter((one) => one !== false);
  const [first, ...others] = fails;
  return (
    <p className="verdict-sentence" role="status" aria-busy={stale || working}>
      {first ? (
        <>
          <b className="verdict fails">{others.length === 0 ? 'One fails' : `${String(fails.length)} fail`}</b>:{' '}
          {failure(first)}
          {others.length > 0 && `; also ${others.map(({ verdict }) => verdict.quantity).join(', ')}`}.{' '}
        </>
      ) : (
        <>
          <b className="verdict holds">Nothing fails{(stale || working || silent.length > 0) && ' so far'}</b>.{' '}
        </>
      )}
      {counted.map(({ word, says }, k) => (
        <Fragment key={word}>
          {k > 0 && ', '}
          <b className={`verdict ${word}`}>{k === 0 ? says.charAt(0).toUpperCase() + says.slice(1) : says}</b>
        </Fragment>
      ))}
      {silent.length > 0 && <b className="verdict fails">; there is {silent.join(' and ')}</b>}.
      {(stale || working) && <span className="quiet"> Being worked …</span>}
    </p>
  );
}

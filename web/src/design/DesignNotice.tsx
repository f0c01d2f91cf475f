import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useSession } from '../stage/stageSession';
import { stopDesign, useDesigning } from './designing';
import { standing } from './proposalWords';

/** On the overview: that a design from records is under way, or there to be looked at. */
export function DesignNotice() {
  const { id = '' } = useParams();
  const asked = useDesigning((state) => state.asked);
  const share = useDesigning((state) => state.share);
  const answer = useDesigning((state) => state.answer);
  const document = useSession((session) => session.document);
  if (asked)
    return (
      <p className="quiet" role="status">
        Parts for these targets are being looked for in the records, {(100 * share).toFixed(0)} %.{' '}
        <Button variant="plain" onClick={stopDesign}>
          Stop designing
        </Button>
      </p>
    );
  if (answer?.value.kind !== 'design' || document !== answer.to.of) return null;
  return (
    <p role="status">
      <b>A design from records is there.</b> {standing(answer.value)}{' '}
      <Link to={`/stages/${id}/targets`}>Look at it, and take it</Link>
    </p>
  );
}

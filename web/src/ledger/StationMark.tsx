import { Icon } from '../shown/Icon';
import type { Station } from '../stage/stations';
import { useLedger } from './judgements';
import { markOf, ofStation } from './lines';

/** The mark of the worst verdict that a station decides: shape, colour, and the word for readers of screens. */
export function StationMark({ station }: { readonly station: Station }) {
  const mark = markOf(ofStation(useLedger(), station));
  if (!mark) return null;
  return (
    <span className={`verdict station-mark ${mark.replace(' ', '-')}`} title={mark}>
      <Icon shape={mark} />
      <span className="visually-hidden">, {mark}</span>
    </span>
  );
}

import { partsCsv, partsList, priceOf, type PartsLine } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { download } from '../shown/download';
import { useSession } from '../stage/stageSession';
import type { BoardFramed } from './BoardStation';
import { useBoard } from './boardStore';

const SIDES: Readonly<Record<PartsLine['side'], string>> = {
  power: 'power stage',
  input: 'input',
  output: 'output',
  control: 'control',
  around: 'around the controller',
};
const money = (value: number | undefined): string => (value === undefined ? '' : value.toFixed(2));
const all = ({ price, count }: PartsLine): number | undefined => (price === undefined ? undefined : price * count);

const COLUMNS: readonly DataColumn<PartsLine>[] = [
  { key: 'part', words: 'part', value: ({ words }) => words },
  { key: 'count', words: 'count', unit: '', value: ({ count }) => count },
  { key: 'value', words: 'asked of it', value: ({ value }) => value },
  { key: 'name', words: 'record', value: ({ name }) => name },
  { key: 'side', words: 'where', value: ({ side }) => SIDES[side] },
  { key: 'price', words: 'price each', unit: '', value: ({ price }) => price, shown: ({ price }) => money(price) },
  { key: 'all', words: 'together', unit: '', value: all, shown: (line) => money(all(line)), folded: true },
  {
    key: 'size',
    words: 'size',
    folded: true,
    value: ({ length, width }) =>
      length === undefined || width === undefined
        ? undefined
        : `${(1e3 * length).toFixed(1)} × ${(1e3 * width).toFixed(1)} mm`,
  },
];

/** Everything that is to be bought for this stage, as it stands now. */
export function PartsListView({ stageId, frame }: BoardFramed) {
  const stage = useSession((session) => session.document);
  const { board } = useBoard(stageId);
  const lines = stage ? partsList(stage, board.taken) : [];
  const { stated, unstated } = priceOf(lines);
  const pieces = lines.reduce((sum, { count }) => sum + count, 0);
  return frame({
    fields: (
      <fieldset>
        <legend>Together</legend>
        <p role="status">
          {stage
            ? `${String(lines.length)} lines, ${String(pieces)} parts. Priced: ${money(stated)}${unstated > 0 ? `; ${String(unstated)} lines have no price and are not in that` : ''}.`
            : 'The stage is being read …'}
        </p>
        <div className="part-acts">
          <Button
            variant="outline-secondary"
            disabled={lines.length === 0}
            onClick={() => download('parts.csv', 'text/csv', partsCsv(lines))}
          >
            As CSV
          </Button>
        </div>
        <p className="small quiet">
          Out of the design and its networks. Parts around the controller stand on it once they are put there; gate
          resistors, bootstrap and snubbers are worked at Switches and are not on it.
        </p>
      </fieldset>
    ),
    picture: <DataTable words="Parts" rows={lines} rowKey={({ key }) => key} columns={COLUMNS} page={40} />,
  });
}

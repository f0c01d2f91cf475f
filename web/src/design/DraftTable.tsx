import { formatQuantity } from '@yundro/core';
import { Button } from 'react-bootstrap';
import type { ProposedDesign } from '../engine/designSurvey';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { askDesign } from './designing';

type Draft = ProposedDesign['drafts'][number];

const words = ({ switchingFrequency, inductor }: Draft): string =>
  `${formatQuantity(switchingFrequency, 'Hz', 3)} with ${inductor}`;

const NAMED: DataColumn<Draft> = { key: 'draft', words: 'Other drafts, before their load step', value: words };
const LOST: DataColumn<Draft> = {
  key: 'loss',
  words: 'Lost',
  unit: 'W',
  value: ({ figures }) => figures.loss,
  shown: ({ figures }) => formatQuantity(figures.loss, 'W', 3),
};
const TAKEN: readonly DataColumn<Draft>[] = [
  {
    key: 'area',
    words: 'Board',
    unit: 'cm²',
    value: ({ figures }) => figures.area * 1e4,
    shown: ({ figures }) => `${(figures.area * 1e4).toFixed(2)} cm²`,
  },
  {
    key: 'price',
    words: 'Price',
    unit: '',
    value: ({ figures }) => figures.price,
    shown: ({ figures }) => figures.price.toFixed(2),
  },
];
const MISSED: DataColumn<Draft> = { key: 'misses', words: 'Misses', value: ({ misses }) => misses.join(', ') };
const WITH_SIZES = [NAMED, LOST, ...TAKEN, MISSED];
const WITHOUT_SIZES = [NAMED, LOST, MISSED];

/** What else was drafted, each with what it loses and, where every part states it, takes: to be finished and looked at. */
export function DraftTable({ drafts, sized }: { readonly drafts: readonly Draft[]; readonly sized: boolean }) {
  return (
    <DataTable
      words="Other drafts"
      rows={drafts}
      rowKey={words}
      columns={sized ? WITH_SIZES : WITHOUT_SIZES}
      act={(draft) => (
        <Button
          variant="plain"
          aria-label={`Finish the draft at ${words(draft)}`}
          onClick={() => askDesign(false, { switchingFrequency: draft.switchingFrequency, inductor: draft.inductor })}
        >
          Finish it
        </Button>
      )}
    />
  );
}

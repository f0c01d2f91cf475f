import { useState, type ReactNode } from 'react';
import type { Framed } from './framed';
import { QuantityField } from '../fields/QuantityField';
import { CouplingFields } from '../stage/FormFields';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { CancellationView } from './CancellationView';
import { CriticalView } from './CriticalView';
import { CountView } from './CountView';
import { CouplingView } from './CouplingView';
import { SharingView } from './SharingView';
import { SheddingView } from './SheddingView';

const VIEWS = [
  { view: 'count', words: 'How many' },
  { view: 'cancellation', words: 'Cancellation' },
  { view: 'coupling', words: 'Coupling' },
  { view: 'sharing', words: 'Sharing' },
  { view: 'shedding', words: 'Shedding' },
  { view: 'critical', words: 'Critical conduction' },
] as const;
type View = (typeof VIEWS)[number]['view'];

const SHOWN: Readonly<Record<View, (props: Framed) => ReactNode>> = {
  count: CountView,
  cancellation: CancellationView,
  coupling: CouplingView,
  sharing: SharingView,
  shedding: SheddingView,
  critical: CriticalView,
};

/** Whether several phases, and coupled ones, are worth it over this operating range. */
export function PhasesStation() {
  const [view, setView] = useState<View>('count');
  const Shown = SHOWN[view];
  const frame = (picture: ReactNode, below?: ReactNode): ReactNode => (
    <Station
      title="Phases"
      says="what interleaving and coupling bring over this operating range"
      views={<ViewPick what="View" views={VIEWS} shown={view} onPick={setView} />}
      fields={
        <fieldset>
          <legend>Phases</legend>
          <QuantityField path={['phases']} label="Phases" />
          <CouplingFields />
        </fieldset>
      }
      picture={picture}
    >
      {below}
    </Station>
  );
  return <Shown frame={frame} />;
}

import { useState, type ReactNode } from 'react';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { AgainstView } from './AgainstView';
import { ExpectView } from './ExpectView';
import { FaultsView } from './FaultsView';
import { LogView } from './LogView';
import { MeasureView } from './MeasureView';
import { PlanView } from './PlanView';
import { SetupFields } from './SetupFields';
import { TrainerView } from './TrainerView';

const VIEWS = [
  { view: 'plan', words: 'Plan' },
  { view: 'expect', words: 'What to expect' },
  { view: 'measure', words: 'Measure' },
  { view: 'log', words: 'Log' },
  { view: 'against', words: 'Against the prediction' },
  { view: 'faults', words: 'Faults' },
  { view: 'trainer', words: 'Trainer' },
] as const;
type View = (typeof VIEWS)[number]['view'];

/** How a view puts its picture into the station, with fields of its own under those of the instruments. */
export interface BenchFramed {
  readonly frame: (parts: {
    readonly fields?: ReactNode;
    /** Whether the instruments at hand stand beside it. */
    readonly setup?: boolean;
    readonly picture: ReactNode;
    readonly below?: ReactNode;
  }) => ReactNode;
}

const SHOWN: Readonly<Record<View, (props: BenchFramed) => ReactNode>> = {
  plan: PlanView,
  expect: ExpectView,
  measure: MeasureView,
  log: LogView,
  against: AgainstView,
  faults: FaultsView,
  trainer: TrainerView,
};

/** The board on the table: brought up in a safe order, measured, and held against the prediction. */
export function BenchStation() {
  const [view, setView] = useState<View>('plan');
  const Shown = SHOWN[view];
  const frame: BenchFramed['frame'] = ({ fields, setup = true, picture, below }) => (
    <Station
      title="Bench"
      says="the board brought up, measured, and held against the prediction"
      views={<ViewPick what="View" views={VIEWS} shown={view} onPick={setView} />}
      fields={
        <>
          {fields}
          {setup && <SetupFields />}
        </>
      }
      picture={picture}
    >
      {below}
    </Station>
  );
  return <Shown frame={frame} />;
}

import { useState, type ReactNode } from 'react';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { ChokeView } from './ChokeView';
import { MaterialView } from './MaterialView';
import { MeasuredView } from './MeasuredView';
import { PairView } from './PairView';
import { SearchView } from './SearchView';
import { SheetView } from './SheetView';
import { SwingView } from './SwingView';

/** A view of the station: what is chosen, the picture beside it, and the rest across underneath. */
export interface WindingFramed {
  readonly frame: (of: {
    readonly fields: ReactNode;
    readonly picture: ReactNode;
    readonly below?: ReactNode;
  }) => ReactNode;
  readonly goTo: (view: View) => void;
}

const VIEWS = [
  { view: 'search', words: 'Search' },
  { view: 'choke', words: 'One choke' },
  { view: 'material', words: 'Powder or ferrite' },
  { view: 'swing', words: 'Swinging' },
  { view: 'pair', words: 'Two on one core' },
  { view: 'measured', words: 'Measured' },
  { view: 'sheet', words: 'Sheet' },
] as const;
type View = (typeof VIEWS)[number]['view'];

const SHOWN: Readonly<Record<View, (props: WindingFramed) => ReactNode>> = {
  search: SearchView,
  choke: ChokeView,
  material: MaterialView,
  swing: SwingView,
  pair: PairView,
  measured: MeasuredView,
  sheet: SheetView,
};

/** A choke that is wound, not bought: searched, worked by hand, compared, measured, and put on a sheet. */
export function WindingStation() {
  const [view, setView] = useState<View>('search');
  const Shown = SHOWN[view];
  return (
    <Shown
      goTo={setView}
      frame={({ fields, picture, below }) => (
        <Station
          title="Winding"
          says="a choke of this stage, wound on a core"
          views={<ViewPick what="View" views={VIEWS} shown={view} onPick={setView} />}
          fields={fields}
          picture={picture}
        >
          {below}
        </Station>
      )}
    />
  );
}

import { useState, type ReactNode } from 'react';
import { useParams } from 'react-router';
import type { Asked } from '../engine/useInquiry';
import type { BoardNeeds } from '../engine/boardSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { useWorkedStage } from '../stage/useCorner';
import { AroundView, LeadsView } from './AroundView';
import { CareView } from './CareView';
import { ChecklistView } from './ChecklistView';
import { ConductorsView } from './ConductorsView';
import { FloorPlanView } from './FloorPlanView';
import { HeatsinkView } from './HeatsinkView';
import { LoopsView } from './LoopsView';
import { NoiseView } from './NoiseView';
import { PartsListView } from './PartsListView';
import { useBoardKeeping, type Keeping } from './useBoardKeeping';

/** A view of the station: what is chosen, the picture beside it, and the rest across underneath. */
export interface BoardFramed {
  readonly stageId: string;
  readonly asked: Asked<{ readonly work: number }, BoardNeeds | undefined>;
  readonly frame: (of: {
    readonly fields: ReactNode;
    readonly picture: ReactNode;
    readonly below?: ReactNode;
  }) => ReactNode;
}

const VIEWS = [
  { view: 'loops', words: 'Hot loops' },
  { view: 'plan', words: 'Floor plan' },
  { view: 'conductors', words: 'Conductors' },
  { view: 'heatsink', words: 'Heatsink' },
  { view: 'leads', words: 'Leads' },
  { view: 'around', words: 'Around the controller' },
  { view: 'noise', words: 'Conducted noise' },
  { view: 'parts', words: 'List of parts' },
  { view: 'checklist', words: 'Checklist' },
  { view: 'care', words: 'Care' },
] as const;
type View = (typeof VIEWS)[number]['view'];

const SHOWN: Readonly<Record<View, (props: BoardFramed) => ReactNode>> = {
  loops: LoopsView,
  plan: FloorPlanView,
  conductors: ConductorsView,
  heatsink: HeatsinkView,
  leads: LeadsView,
  around: AroundView,
  noise: NoiseView,
  parts: PartsListView,
  checklist: ChecklistView,
  care: CareView,
};

const KEEPING: Readonly<Record<Keeping, string>> = {
  kept: '',
  saving: '',
  here: '; notes are in this browser until the server can be reached',
};

/** What the board of the stage must do, out of its circuit: loops, copper, parts around the controller, and a list to go through. */
export function BoardStation() {
  const { id = '' } = useParams();
  const [view, setView] = useState<View>('loops');
  const asked = useSurvey(useWorkedStage(), (survey, { stage }) => survey.board(stage));
  const keeping = useBoardKeeping(id);
  const leftOut = asked.answer?.value?.leftOut ?? 0;
  const Shown = SHOWN[view];
  return (
    <Shown
      stageId={id}
      asked={asked}
      frame={({ fields, picture, below }) => (
        <Station
          title="Board"
          says={`what the copper of this stage must do${leftOut === 0 ? '' : `; ${String(leftOut)} of its corners have no operating point and are left out`}${KEEPING[keeping]}`}
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

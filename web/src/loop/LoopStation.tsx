import { formatQuantity, LOOP_BREAK_WORDS, type AppliedForm, type LoopBreak } from '@yundro/core';
import { useState } from 'react';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { CornerWords } from '../stage/CornerFigures';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { SurveyWait } from '../stage/SurveyWait';
import { showLoopPicture, useLayout } from '../stage/stageView';
import { useLookedAt } from '../stage/useCorner';
import { FormView } from '../stage/FormView';
import { LimitTable } from './LimitTable';
import { LoopFields } from './LoopFields';
import { LOOP_PICTURES, LoopPictures } from './LoopPictures';
import { MarginTable } from './MarginTable';

/** The loop: its response at a corner, the compensator to shape, and the margins of every corner. */
export function LoopStation() {
  const picture = useLayout((layout) => layout.loopPicture);
  const [loopBreak, setLoopBreak] = useState<LoopBreak>('output');
  const looked = useLookedAt();
  const asked = useSurvey(looked && { ...looked, loopBreak }, (survey, { stage, inputVoltage, outputCurrent, ...at }) =>
    survey.loopAt(stage, inputVoltage, outputCurrent, at.loopBreak),
  );
  return (
    <Station
      title="Loop"
      says={<CornerWords />}
      views={<ViewPick what="Picture" views={LOOP_PICTURES} shown={picture} onPick={showLoopPicture} />}
      fields={<LoopFields />}
      picture={
        <Answered of={asked} what="loop" wait={<SurveyWait working />}>
          {(found, question) =>
            found === undefined ? (
              <SurveyWait working={false} />
            ) : found.loop.kind === 'solved' ? (
              <>
                {found.loop.otherBreak !== undefined && (
                  <ViewPick what="Loop broken" views={BREAKS} shown={loopBreak} onPick={setLoopBreak} />
                )}
                <LoopPictures found={found} report={found.loop} picture={picture} looked={question} />
              </>
            ) : (
              <p className="quiet my-3">
                There is no loop yet: {found.loop.reason}. Give what is missing, or let a compensator be proposed.
              </p>
            )
          }
        </Answered>
      }
    >
      <MarginTable />
      <LimitTable />
      <Answered of={{ ...asked, failure: undefined }} what="plant" wait={null}>
        {(found) => found && found.plant.length > 0 && <PlantFigures forms={found.plant} />}
      </Answered>
    </Station>
  );
}

/** Where a loop with a ripple network beside its divider can be looked at. */
const BREAKS = (['output', 'divider'] as const).map((view) => ({ view, words: `broken ${LOOP_BREAK_WORDS[view]}` }));

/** What the plant is known by, each figure with its formula. */
function PlantFigures({ forms }: { readonly forms: readonly AppliedForm[] }) {
  return (
    <details className="mt-2">
      <summary className="small quiet">
        Plant by closed forms:{' '}
        {forms.map(({ name, value, unit }) => `${name.toLowerCase()} ${formatQuantity(value, unit, 3)}`).join(', ')}
      </summary>
      {forms.map((form) => (
        <FormView key={form.name} form={form} />
      ))}
    </details>
  );
}

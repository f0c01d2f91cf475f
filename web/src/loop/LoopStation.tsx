import { formatQuantity, LOOP_BREAK_WORDS, type AppliedForm, type LoopBreak } from '@yundro/core';
import { useState } from 'react';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { CornerPick } from '../stage/CornerFigures';
import { SurveyWait } from '../stage/SurveyWait';
import { useLookedAt } from '../stage/useCorner';
import { FormView } from '../stage/WorkingPanel';
import { LimitTable } from './LimitTable';
import { LoopFields } from './LoopFields';
import { LoopPicturePick, LoopPictures, type LoopPicture } from './LoopPictures';
import { MarginTable } from './MarginTable';

/** The loop: its response at a corner, the compensator to shape, and the margins of every corner. */
export function LoopStation() {
  const [picture, setPicture] = useState<LoopPicture>('gain');
  const [loopBreak, setLoopBreak] = useState<LoopBreak>('output');
  const looked = useLookedAt();
  const asked = useSurvey(looked && { ...looked, loopBreak }, (survey, { stage, inputVoltage, outputCurrent, ...at }) =>
    survey.loopAt(stage, inputVoltage, outputCurrent, at.loopBreak),
  );
  return (
    <>
      <h1>Loop</h1>
      <CornerPick />
      <LoopPicturePick picture={picture} onPick={setPicture} />
      <Answered of={asked} what="loop" wait={<SurveyWait working />}>
        {(found, question) =>
          found === undefined ? (
            <SurveyWait working={false} />
          ) : found.loop.kind === 'solved' ? (
            <>
              {found.loop.otherBreak !== undefined && <BreakPick loopBreak={loopBreak} onPick={setLoopBreak} />}
              <LoopPictures found={found} report={found.loop} picture={picture} looked={question} />
            </>
          ) : (
            <p className="quiet my-3">
              There is no loop yet: {found.loop.reason}. Give what is missing below, or let a compensator be proposed.
            </p>
          )
        }
      </Answered>
      <MarginTable />
      <LimitTable />
      <Answered of={{ ...asked, failure: undefined }} what="plant" wait={null}>
        {(found) => found && found.plant.length > 0 && <PlantFigures forms={found.plant} />}
      </Answered>
      <LoopFields />
    </>
  );
}

/** Chooses where a loop with a ripple network beside its divider is looked at. */
function BreakPick({
  loopBreak,
  onPick,
}: {
  readonly loopBreak: LoopBreak;
  readonly onPick: (loopBreak: LoopBreak) => void;
}) {
  return (
    <div className="picture-pick" role="group" aria-label="Loop broken">
      <span className="quiet small">loop broken</span>
      {(['output', 'divider'] as const).map((one) => (
        <button key={one} type="button" aria-pressed={one === loopBreak} onClick={() => onPick(one)}>
          {LOOP_BREAK_WORDS[one]}
        </button>
      ))}
    </div>
  );
}

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

import { formatQuantity, type AppliedForm } from '@yundro/core';
import type { Remote } from 'comlink';
import { useMemo, useState } from 'react';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { CornerPick } from '../stage/CornerFigures';
import { SurveyWait } from '../stage/SurveyWait';
import { useSession } from '../stage/stageSession';
import { useCorner } from '../stage/useCorner';
import { FormView } from '../stage/WorkingPanel';
import { LimitTable } from './LimitTable';
import { LoopFields } from './LoopFields';
import { LoopPicturePick, LoopPictures, type LoopPicture } from './LoopPictures';
import { MarginTable } from './MarginTable';

/** The loop: its response at a corner, the compensator to shape, and the margins of every corner. */
export function LoopStation() {
  const [picture, setPicture] = useState<LoopPicture>('gain');
  const stage = useSession((session) => session.worked?.stage);
  const corners = useSession((session) => session.worked?.corners);
  const corner = useCorner();
  const here = corner === undefined ? undefined : corners?.[corner];
  const inputVoltage = here?.inputVoltage;
  const outputCurrent = here?.outputCurrent;
  const ask = useMemo(
    () =>
      stage && inputVoltage !== undefined && outputCurrent !== undefined
        ? async (survey: Remote<Survey>) => survey.loopAt(stage, inputVoltage, outputCurrent)
        : undefined,
    [stage, inputVoltage, outputCurrent],
  );
  const { found, working } = useSurvey(ask);
  return (
    <>
      <h1>Loop</h1>
      <CornerPick />
      <LoopPicturePick picture={picture} onPick={setPicture} />
      {found?.loop.kind === 'solved' && here && (
        <LoopPictures
          found={found}
          report={found.loop}
          picture={picture}
          inputVoltage={here.inputVoltage}
          outputCurrent={here.outputCurrent}
        />
      )}
      {found?.loop.kind === 'unsolved' && (
        <p className="quiet my-3">
          There is no loop yet: {found.loop.reason}. Give what is missing below, or let a compensator be proposed.
        </p>
      )}
      {!found && <SurveyWait working={working} />}
      <MarginTable />
      <LimitTable />
      {found && found.plant.length > 0 && <PlantFigures forms={found.plant} />}
      <LoopFields />
    </>
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

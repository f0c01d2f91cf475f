import { diagnose, type SeenBoard, type Stage } from '@yundro/core';
import { ShareState } from '../engine/ShareState';
import { Answered } from '../shown/Answered';
import { DiagnosisTable, faultWords } from './DiagnosisTable';
import { useAtlas } from './useAtlas';

/** Which faults of a stage would look like what was seen. */
export function Diagnosed({ stage, seen }: { readonly stage: Stage; readonly seen: SeenBoard }) {
  const shared = useAtlas(stage);
  return (
    <>
      <ShareState of={shared} doing="Simulating boards with every fault" />
      <Answered of={shared.asked} what="comparison with the faults" wait={null}>
        {(atlas) =>
          typeof atlas === 'string' ? (
            <p className="quiet">{atlas}</p>
          ) : (
            <>
              <DiagnosisTable diagnosis={diagnose(atlas, seen)} />
              {atlas.failed.length > 0 && (
                <p className="small">
                  Not compared, since they could not be simulated:{' '}
                  {atlas.failed.map(({ key, because }) => `${faultWords(key)} (${because})`).join('; ')}.
                </p>
              )}
            </>
          )
        }
      </Answered>
    </>
  );
}

import { TOPOLOGIES, type Fed, type SingleStage } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useWishes } from '../design/designing';
import type { WorkedSystem } from '../engine/systemSurvey';
import { ToldState } from '../engine/ToldState';
import { useTold } from '../engine/useTold';
import { useInventory } from '../library/useInventory';
import { Failed } from '../shown/Answered';

const percent = (value: number | undefined): string => (value === undefined ? '–' : `${(100 * value).toFixed(1)} %`);

/** For loads behind several stages: one stage from the source in their place, drafted from records when asked for. */
export function SingleStages({
  stages,
  ways,
}: {
  readonly stages: readonly Fed[];
  readonly ways: WorkedSystem['ways'];
}) {
  const [asked, setAsked] = useState(false);
  const { inventory } = useInventory();
  const objective = useWishes((state) => state.objective);
  const question = useMemo(
    () => (asked && inventory ? { stages, inventory, objective } : undefined),
    [asked, stages, inventory, objective],
  );
  const told = useTold<NonNullable<typeof question>, readonly SingleStage[]>(question, (survey, of, tell) =>
    survey.singleStages(of.stages, of.inventory, of.objective, tell),
  );
  if (!stages.some(({ stage }) => stage.fedBy !== undefined)) return null;
  const found = told.value ?? [];
  return (
    <section aria-label="One stage in place of several" className="mt-3">
      <h2>One stage in place of several</h2>
      {!asked ? (
        <p className="small">
          <Button variant="plain" onClick={() => setAsked(true)}>
            Draft one stage from the source to each load
          </Button>
        </p>
      ) : (
        <>
          {told.failure && <Failed what="draft" sentence={told.failure.sentence} retry={told.retry} />}
          <p className="small mb-1" role="status">
            <ToldState of={told} at={`${String(found.length)} drafted …`} />
          </p>
          {found.length > 0 && (
            <table
              className={told.stale === undefined ? 'plain' : 'plain answered stale'}
              aria-label="One stage from the source to each load"
            >
              <thead>
                <tr>
                  <th>load</th>
                  <th>from</th>
                  <th>one stage</th>
                  <th className="number">duty ratio</th>
                  <th className="number">efficiency</th>
                  <th className="number">through the stages</th>
                  <th className="number">board</th>
                  <th>misses</th>
                </tr>
              </thead>
              <tbody>
                {found.map(({ name, source, found: single }) => (
                  <tr key={name}>
                    <td>{name}</td>
                    <td>{source}</td>
                    <td>{single ? TOPOLOGIES[single.topology].words : 'none can'}</td>
                    <td className="number">{single?.duty.toFixed(3) ?? '–'}</td>
                    <td className="number">{percent(single?.efficiency)}</td>
                    <td className="number">{percent(ways.find((one) => one.name === name)?.through)}</td>
                    <td className="number">{single ? `${(1e4 * single.figures.area).toFixed(1)} cm²` : '–'}</td>
                    <td>{single?.misses.join(', ') ?? ''}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <p className="small quiet">
            For the targets of the load over the input range of the source, with parts from records, before a loop; at
            nominal source and full load, beside the way through the stages at the source and loads picked above.
          </p>
        </>
      )}
    </section>
  );
}

import { completeStage, FINE_GRID, formatQuantity, mapsOf, type EfficiencyMap, type Stage } from '@yundro/core';
import { proxy } from 'comlink';
import { useMemo, useState } from 'react';
import { useSurvey } from '../engine/useSurvey';
import { useWorked } from '../engine/useWorked';
import { SurveyWait } from '../stage/SurveyWait';
import { stillShown } from '../engine/stillShown';
import { Failed } from '../shown/Answered';
import { useWorkedStage } from '../stage/useCorner';
import { MODE_WORDS } from './efficiencyCharts';

const MODES = ['forced-pwm', 'pulse-skipping', 'ultrasonic'] as const;

/** Steps of the shading, the lower end of each; below the first it is plain. */
const STEPS = [0.5, 0.7, 0.8, 0.85, 0.9, 0.925, 0.95, 0.97, 0.98] as const;
const stepOf = (efficiency: number): number => STEPS.findLastIndex((step) => efficiency >= step) + 1;

/** Workers that share the rows. */
const PARTS = 2;

/** The rows of one part of the fine maps, as they come and when all are there. */
function usePart(stage: Stage | undefined, part: number) {
  const [told, setTold] = useState<{ readonly of: Stage; readonly count: number }>();
  const asked = useSurvey(stage && { stage, part }, (survey, question) => {
    let count = 0;
    const tell = (): void => {
      count += 1;
      setTold({ of: question.stage, count });
    };
    return survey.mapRows(question.stage, MODES, question.part, PARTS, proxy(tell));
  });
  const { answer } = asked;
  return {
    asked,
    rows: answer?.question.stage === stage ? answer?.value : undefined,
    count: told && told.of === stage ? told.count : 0,
  };
}

/** Efficiency over load and input voltage in three modes. */
export function MapView() {
  const worked = useWorkedStage();
  const stage = worked?.stage;
  const first = useWorked(worked, (engine, { work }) => engine.firstMaps(work, MODES));
  const even = usePart(stage, 0);
  const odd = usePart(stage, 1);
  const working = !even.rows || !odd.rows;
  const fine = useMemo(() => {
    if (!even.rows || !odd.rows || !stage) return undefined;
    const complete = completeStage(stage);
    return complete.ok ? mapsOf(complete.value, MODES, FINE_GRID, [...even.rows, ...odd.rows]) : undefined;
  }, [even.rows, odd.rows, stage]);
  const maps = fine ?? first.answer?.value;
  const failed = [even.asked, odd.asked, first].find(({ failure }) => failure !== undefined);
  if (!maps || maps.length === 0)
    return failed?.failure ? (
      <Failed what="efficiency map" sentence={failed.failure.sentence} retry={failed.retry} />
    ) : (
      <SurveyWait working={working} />
    );
  const stale = !fine && first.answer?.question.stage !== stage;
  const done = (even.count + odd.count) / FINE_GRID.inputs;
  return (
    <>
      {failed?.failure && <Failed what="fine efficiency map" sentence={failed.failure.sentence} retry={failed.retry} />}
      {working && !failed && (
        <p className="small quiet mb-1" role="status">
          {stale
            ? `Still showing ${stillShown(first.answer?.question, worked)}.`
            : `A first picture; the fine one is ${(100 * done).toFixed(0)} % worked. Any edit ends it.`}
        </p>
      )}
      <div className={`maps answered ${stale ? 'stale' : ''}`} aria-busy={stale}>
        {maps.map((map) => (
          <MapPicture key={map.mode} map={map} />
        ))}
      </div>
      <p className="small quiet">
        Shaded darker from {STEPS.map((step) => String(Number((100 * step).toFixed(1)))).join(', ')} % upwards; the
        figures stand at the ends and the middle of each input. Below the border where pulses stand alone the loss is a
        straight line in the load, worked at its ends.
      </p>
    </>
  );
}

const WIDTH = 230;
const HEIGHT = 150;
const LEFT = 38;
const BOTTOM = 24;

function MapPicture({ map: { mode, loads, inputVoltages, efficiency } }: { readonly map: EfficiencyMap }) {
  const across = (WIDTH - LEFT) / loads.length;
  const up = (HEIGHT - BOTTOM) / inputVoltages.length;
  const rows = inputVoltages.length;
  const top = (i: number): number => (rows - 1 - i) * up;
  const labelled = [0, Math.floor((loads.length - 1) / 2), loads.length - 1];
  const rowsLabelled = [...new Set([0, Math.floor((rows - 1) / 2), rows - 1])];
  const worst = Math.min(...efficiency.flat().filter((value) => value !== undefined));
  const best = Math.max(...efficiency.flat().filter((value) => value !== undefined));
  return (
    <figure className="map">
      <svg
        viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
        role="img"
        aria-label={`Efficiency over load and input, ${MODE_WORDS[mode]}: ${(100 * worst).toFixed(0)} % to ${(100 * best).toFixed(1)} %`}
      >
        {efficiency.map((row, i) =>
          row.map((value, k) => (
            <rect
              key={`${String(i)} ${String(k)}`}
              x={LEFT + k * across}
              y={top(i)}
              width={across + 0.4}
              height={up + 0.4}
              className={value === undefined ? 'map-none' : `map-${String(stepOf(value))}`}
            >
              <title>
                {formatQuantity(loads[k] ?? 0, 'A', 3)}, {formatQuantity(inputVoltages[i] ?? 0, 'V', 3)}:{' '}
                {value === undefined ? 'no operating point' : `${(100 * value).toFixed(1)} %`}
              </title>
            </rect>
          )),
        )}
        {rowsLabelled.flatMap((i) =>
          labelled.map((k) => {
            const value = efficiency[i]?.[k];
            return (
              value !== undefined && (
                <text
                  key={`${String(i)} ${String(k)}`}
                  x={LEFT + (k + 0.5) * across}
                  y={top(i) + up / 2 + 4}
                  textAnchor={k === 0 ? 'start' : k === loads.length - 1 ? 'end' : 'middle'}
                  className={stepOf(value) > 5 ? 'map-light' : 'map-dark'}
                >
                  {(100 * value).toFixed(1)}
                </text>
              )
            );
          }),
        )}
        {rowsLabelled.map((i) => (
          <text key={i} x={LEFT - 4} y={top(i) + up / 2 + 4} textAnchor="end" className="map-axis">
            {formatQuantity(inputVoltages[i] ?? 0, 'V', 3)}
          </text>
        ))}
        {labelled.map((k) => (
          <text
            key={k}
            x={LEFT + (k + 0.5) * across}
            y={HEIGHT - 8}
            textAnchor={k === 0 ? 'start' : k === loads.length - 1 ? 'end' : 'middle'}
            className="map-axis"
          >
            {formatQuantity(loads[k] ?? 0, 'A', 2)}
          </text>
        ))}
      </svg>
      <figcaption className="small">{MODE_WORDS[mode]}</figcaption>
    </figure>
  );
}

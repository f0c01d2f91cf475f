import { formatQuantity } from '@yundro/core';
import type { Remote } from 'comlink';
import { Fragment, useCallback, useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { SurveyWait } from './SurveyWait';
import { useSession } from './stageSession';
import { openWorking } from './stageView';
import { useCorner } from './useCorner';

/** The border of continuous conduction over input voltage and load, with the corners. */
export function ConductionView() {
  const worked = useSession((session) => session.worked);
  const stage = useSession((session) => session.document);
  const corner = useCorner();
  const asked = worked?.stage;
  const ask = useCallback(async (survey: Remote<Survey>) => (asked ? survey.conductionMap(asked) : undefined), [asked]);
  const { found: map, working } = useSurvey(ask);
  const shown = useMemo(() => {
    if (!map || !worked || !stage || corner === undefined) return undefined;
    const { inputVoltage, outputCurrent } = stage.targets;
    const known = map.boundary.filter((load): load is number => load !== undefined && load > 0);
    const lowest = Math.min(...worked.corners.map((one) => one.outputCurrent), ...known);
    const min = lowest / 2;
    const max = Math.max(outputCurrent.max, ...known) * 1.6;
    const room = Math.max(0.04 * (inputVoltage.max - inputVoltage.min), 0.02 * inputVoltage.max);
    const left = inputVoltage.min - room;
    const diode = stage.rectifier === 'diode';
    const middle = Math.floor(map.boundary.length / 2);
    const border = map.boundary[middle];
    const at = left + 0.19 * (inputVoltage.max + room - left);
    return {
      diode,
      x: { words: 'input voltage', unit: 'V', min: left, max: inputVoltage.max + room } as const,
      y: { words: 'load current', unit: 'A', min, max, logarithmic: true } as const,
      curves: [
        {
          words: 'boundary',
          x: map.inputVoltages,
          y: map.boundary.map((load) => (load === 0 ? undefined : load)),
          colour: '--trace-1',
          dash: [],
        },
      ],
      marks: worked.corners.map((one, i) => ({ x: one.inputVoltage, y: one.outputCurrent, here: i === corner })),
      notes:
        border === undefined || border === 0
          ? []
          : [
              { x: at, y: border * 1.25, words: 'continuous conduction' },
              { x: at, y: border / 1.45, words: diode ? 'discontinuous conduction' : 'the inductor current reverses' },
            ],
    };
  }, [map, worked, stage, corner]);
  if (!shown || !map) return <SurveyWait working={working} />;
  const { diode, ...chart } = shown;
  return (
    <>
      <CurveChart words="Conduction mode over input voltage and load" {...chart} />
      <p className="small quiet mb-1">
        {map.boundary.every((load) => load === undefined)
          ? 'No border was found: the stage has no continuous operating point at any load looked at.'
          : map.boundary.every((load) => load === 0)
            ? 'Conduction is continuous down to no load at every input voltage.'
            : 'Boundary load:'}{' '}
        {map.workings.map((working, i) => (
          <Fragment key={working.corner.inputVoltage}>
            {i > 0 && ', '}
            <Button variant="plain" className="small" onClick={() => openWorking({ working })}>
              {formatQuantity(working.value, 'A', 3)} at {formatQuantity(working.corner.inputVoltage, 'V', 3)} input
            </Button>
          </Fragment>
        ))}
        {map.workings.length > 0 &&
          (diode
            ? '. Below it the diode stops before its turn is over.'
            : '. Below it a diode rectifier would stop; synchronous switches let the current turn round.')}{' '}
        {working && 'Being worked anew …'}
      </p>
    </>
  );
}

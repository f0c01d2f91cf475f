import { formatQuantity, type Stage } from '@yundro/core';
import { Fragment, useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { Worked } from '../engine/engine';
import type { WorkedMap } from '../engine/rareSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from './SurveyWait';
import { useSession } from './stageSession';
import { openWorking } from './stageView';
import { useCorner, useWorkedStage } from './useCorner';

/** The border of continuous conduction over input voltage and load, with the corners. */
export function ConductionView() {
  const corners = useSession((session) => session.worked?.corners);
  const worked = useWorkedStage();
  const asked = useSurvey(worked && { ...worked, corners }, (survey, { stage }) => survey.conductionMap(stage));
  return (
    <Answered of={asked} what="conduction map" wait={<SurveyWait working />}>
      {(map, question) =>
        map ? (
          <Border map={map} stage={question.stage} corners={question.corners ?? []} />
        ) : (
          <SurveyWait working={false} />
        )
      }
    </Answered>
  );
}

interface BorderProps {
  readonly map: WorkedMap;
  readonly stage: Stage;
  readonly corners: Worked['corners'];
}

function Border({ map, stage, corners }: BorderProps) {
  const corner = useCorner();
  const shown = useMemo(() => {
    const { inputVoltage, outputCurrent } = stage.targets;
    const known = map.boundary.filter((load): load is number => load !== undefined && load > 0);
    const lowest = Math.min(...corners.map((one) => one.outputCurrent), ...known);
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
      marks: corners.map((one, i) => ({ x: one.inputVoltage, y: one.outputCurrent, here: i === corner })),
      notes:
        border === undefined || border === 0
          ? []
          : [
              { x: at, y: border * 1.25, words: 'continuous conduction' },
              { x: at, y: border / 1.45, words: diode ? 'discontinuous conduction' : 'the inductor current reverses' },
            ],
    };
  }, [map, corners, stage, corner]);
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
            : '. Below it a diode rectifier would stop; synchronous switches let the current turn round.')}
      </p>
    </>
  );
}

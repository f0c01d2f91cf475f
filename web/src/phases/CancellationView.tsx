import { topologyOf } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { useSession } from '../stage/stageSession';
import { cancellationChart, inputRmsChart } from './phaseCharts';
import type { Framed } from './framed';

/** What interleaving cancels, against the duty ratio, with the duty ratios of the design drawn in. */
export function CancellationView({ frame }: Framed) {
  const stage = useSession((session) => session.worked?.stage);
  const corners = useSession((session) => session.worked?.corners);
  const charts = useMemo(() => {
    if (!stage) return undefined;
    const full = (corners ?? []).filter(({ outputCurrent }) => outputCurrent === stage.targets.outputCurrent.max);
    const points = full.flatMap(({ point }) => (point ? [point] : []));
    const duties = points.map(({ duty }) => duty);
    const ratio = Math.max(
      0,
      ...points.map(({ inductorCurrent }) => inductorCurrent.ripple / Math.abs(inductorCurrent.average)),
    );
    const buck = topologyOf(stage).reach === 'below';
    return [
      ['What interleaving leaves of the ripple', cancellationChart(stage.phases, duties)],
      ...(buck
        ? ([['Input capacitor current of interleaved phases', inputRmsChart(stage.phases, duties, ratio)]] as const)
        : []),
    ] as const;
  }, [stage, corners]);
  if (!charts) return frame(<p className="quiet">There is no operating point yet.</p>);
  return frame(
    <>
      <div className={charts.length > 1 ? 'two-charts' : ''}>
        {charts.map(([words, chart]) => (
          <CurveChart key={words} words={words} {...chart} />
        ))}
      </div>
      <p className="small quiet">
        Equal phases, evenly interleaved, without losses (standard results, by summing the triangles). The ripple of the
        sum has the frequency of all phases together and vanishes at the nulls, but no design stands still there:
        tolerance and load move the duty ratio. The hatched band is that of this design at full load.
      </p>
    </>,
  );
}

import { formatQuantity, type RectifiedStage } from '@yundro/core';
import type { Remote } from 'comlink';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { useParts } from '../library/useParts';
import { SurveyWait } from '../stage/SurveyWait';
import { useSession } from '../stage/stageSession';

/** A switch and a diode as rectifier, side by side: efficiency, light load, cost. */
export function RectifierView() {
  const stage = useSession((session) => session.worked?.stage);
  const { parts: mosfets } = useParts('mosfet');
  const { parts: diodes } = useParts('diode');
  const counts = `${String(mosfets?.length)} ${String(diodes?.length)}`;
  const ask = useMemo(
    () =>
      stage && mosfets && diodes
        ? async (survey: Remote<Survey>) => survey.rectifiers(stage, mosfets, diodes)
        : undefined,
    // The library is read once; its identity changes with every render.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [stage, counts],
  );
  const { found, working } = useSurvey(ask);
  const both = useMemo(() => [found?.synchronous, found?.diode].filter((one) => one !== undefined), [found]);
  const chart = useMemo(() => chartOf(both), [both]);
  if (!found || both.length === 0) return <SurveyWait working={working} />;
  return (
    <>
      {chart && <CurveChart words="Efficiency with a switch and with a diode as rectifier" {...chart} />}
      <table className="plain" aria-label="Rectifiers">
        <thead>
          <tr>
            <th>rectifier</th>
            <th>best part of the library</th>
            <th className="number">at full load</th>
            <th className="number">at the lightest</th>
            <th className="number">price</th>
            <th>light load</th>
          </tr>
        </thead>
        <tbody>
          {both.map(({ rectifier, part, count, price, curve, lightLoad }) => (
            <tr key={rectifier}>
              <td>{rectifier === 'diode' ? 'diode' : 'switch'}</td>
              <td>
                {part}
                {count > 1 && ` × ${String(count)}`}
              </td>
              <td className="number">{percent(curve.points.at(-1)?.efficiency)}</td>
              <td className="number">
                {percent(curve.points[0]?.efficiency)} at {formatQuantity(curve.points[0]?.outputCurrent ?? 0, 'A', 2)}
              </td>
              <td className="number">{price === undefined ? '–' : price.toFixed(2)}</td>
              <td>{lightLoad}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const percent = (share: number | undefined): string => (share === undefined ? '–' : `${(100 * share).toFixed(1)} %`);

function chartOf(both: readonly RectifiedStage[]) {
  const [first] = both;
  const loads = first?.curve.points.map(({ outputCurrent }) => outputCurrent) ?? [];
  if (loads.length < 2) return undefined;
  const least = Math.min(...both.flatMap(({ curve }) => curve.points.map(({ efficiency }) => efficiency)));
  return {
    x: { words: 'load', unit: 'A', min: loads[0] ?? 0, max: loads.at(-1) ?? 1, logarithmic: true } as const,
    y: {
      words: 'efficiency',
      unit: 'ratio',
      min: Math.max(0, Math.floor(10 * least) / 10),
      max: 1,
      label: (value: number) => `${(100 * value).toFixed(0)} %`,
    } as const,
    curves: both.map(({ rectifier, curve }) => ({
      words: rectifier === 'diode' ? 'diode' : 'switch',
      x: curve.points.map(({ outputCurrent }) => outputCurrent),
      y: curve.points.map(({ efficiency }) => efficiency),
      colour: rectifier === 'diode' ? '--trace-2' : '--trace-1',
      dash: rectifier === 'diode' ? [6, 3] : [],
      labelAt: loads[Math.floor(loads.length / 2)] ?? 0,
      labelAbove: rectifier !== 'diode',
    })),
    marks: [],
  };
}

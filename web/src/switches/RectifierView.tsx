import { formatQuantity, type RectifiedStage, type RectifierComparison } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { useSurvey } from '../engine/useSurvey';
import { useParts } from '../library/useParts';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';

/** A switch and a diode as rectifier, side by side: efficiency, light load, cost. */
export function RectifierView() {
  const worked = useWorkedStage();
  const { parts: mosfets } = useParts('mosfet');
  const { parts: diodes } = useParts('diode');
  const asked = useSurvey(worked && mosfets && diodes && { ...worked, mosfets, diodes }, (survey, question) =>
    survey.rectifiers(question.stage, question.mosfets, question.diodes),
  );
  return (
    <Answered of={asked} what="comparison of the rectifiers" wait={<SurveyWait working />}>
      {(found) => (found ? <Comparison found={found} /> : <SurveyWait working={false} />)}
    </Answered>
  );
}

function Comparison({ found }: { readonly found: RectifierComparison }) {
  const both = useMemo(() => [found.synchronous, found.diode].filter((one) => one !== undefined), [found]);
  const chart = useMemo(() => chartOf(both), [both]);
  if (both.length === 0) return <SurveyWait working={false} />;
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

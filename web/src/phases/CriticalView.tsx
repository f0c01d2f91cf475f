import { formatQuantity, type CriticalStudy } from '@yundro/core';
import { useMemo, useState } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import { ViewPick } from '../station/ViewPick';
import { criticalFrequencyChart, criticalWaveformCharts } from './criticalCharts';
import type { Framed } from './framed';

const TURNED = [
  { view: 'valley', words: 'In the valley' },
  { view: 'no-voltage', words: 'At no voltage' },
] as const;
type Turned = (typeof TURNED)[number]['view'];

/** Critical conduction: frequency over load and input, where the switch turns on softly, and what the phases make together. */
export function CriticalView({ frame }: Framed) {
  const worked = useWorkedStage();
  const asked = useSurvey<NonNullable<typeof worked>, CriticalStudy | string | undefined>(worked, (survey, { stage }) =>
    survey.critical(stage),
  );
  return frame(
    <Answered of={asked} what="study of critical conduction" wait={<SurveyWait working />}>
      {(found, { stage }) =>
        found === undefined ? (
          <SurveyWait working={false} />
        ) : typeof found === 'string' ? (
          <p className="quiet">{found}</p>
        ) : (
          <Found found={found} phases={stage.phases} />
        )
      }
    </Answered>,
  );
}

function Found({ found, phases }: { readonly found: CriticalStudy; readonly phases: number }) {
  const [turned, setTurned] = useState<Turned>('valley');
  const frequency = useMemo(() => criticalFrequencyChart(found, turned), [found, turned]);
  const [currents, voltages] = useMemo(() => criticalWaveformCharts(found, turned, phases), [found, turned, phases]);
  const { period, summed, winding } = found.shown[turned];
  const { coupled, spread } = found;
  const volts = (value: number): string => formatQuantity(value, 'V', 3);
  return (
    <>
      <ViewPick what="The main switch turns on" views={TURNED} shown={turned} onPick={setTurned} />
      <CurveChart words="Frequency in critical conduction" {...frequency} />
      <table className="plain" aria-label="Soft switching over the input">
        <thead>
          <tr>
            <th className="number">input</th>
            <th className="number">left in the valley</th>
            <th className="number">lost by it</th>
            <th className="number">none with</th>
            <th className="number">full to light load</th>
            {coupled && <th className="number">coupled</th>}
          </tr>
        </thead>
        <tbody>
          {found.inputs.map(({ inputVoltage, left, negative, ways }, k) => {
            const { frequencies } = ways[turned];
            return (
              <tr key={inputVoltage}>
                <td className="number">{volts(inputVoltage)}</td>
                <td className="number">{left === 0 ? 'nothing: free' : volts(left)}</td>
                <td className="number">{formatQuantity(ways.valley.lost, 'W', 2)}</td>
                <td className="number">{negative === 0 ? '0 A' : `−${formatQuantity(negative, 'A', 3)}`}</td>
                <td className="number">
                  {formatQuantity(frequencies.at(-1) ?? NaN, 'Hz', 3)} to{' '}
                  {formatQuantity(frequencies[0] ?? NaN, 'Hz', 3)}
                </td>
                {coupled && <td className="number">{coupled.factors[k]?.toFixed(2)} times</td>}
              </tr>
            );
          })}
        </tbody>
      </table>
      <div className="two-charts">
        <CurveChart words="Currents over a period" {...currents} />
        <CurveChart words="Voltage across the main switches" {...voltages} />
      </div>
      <p className="small">
        At nominal input and full load the peak is {formatQuantity(period.peak, 'A', 3)} at{' '}
        {formatQuantity(1 / period.period, 'Hz', 3)}
        {phases > 1 &&
          `; of the ripple of ${formatQuantity(winding, 'A', 3)} in each of ${String(phases)} phases ${formatQuantity(summed, 'A', 3)} is left in their sum`}
        .
        {phases > 1 &&
          (spread
            ? ` With inductances at the ends of their tolerance the periods of the phases are ${spread[0].toFixed(2)} to ${spread[1].toFixed(2)} of the usual one. They must be alike, so the phase with the longest leads, and each other waits for its turn with its ring dying away, at worst ${(100 * (1 - spread[0] / spread[1])).toFixed(0)} % of the period: it then turns on wherever the ring stands.`
            : ' The inductor states no tolerance: how far the periods of the phases are apart is not known.')}
        {coupled &&
          ` Coupled: times the frequency with windings coupled ${coupled.coupling.kind === 'inverse' ? 'inversely' : 'directly'} by ${String(coupled.coupling.coefficient)}, since the ripple of a winding must still be twice its mean.`}
      </p>
      <p className="small quiet">
        Closed forms without losses. The ring is of the inductor with the output charge of the devices,{' '}
        {formatQuantity(found.capacitance, 'F', 3)} at the switch node; choke and board add to it. A current below
        nothing is let flow back through a synchronous rectifier; a diode does not let it. The ledger judges the stage
        in the mode that the station Efficiency states.
      </p>
    </>
  );
}

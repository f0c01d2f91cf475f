import { PULSE_SHARE, formatQuantity, nominalInput, type EfficiencyCurve, type Stage } from '@yundro/core';
import { useMemo, useState } from 'react';
import { CurveChart } from '../charts/CurveChart';
import type { EfficiencyCurves } from '../engine/survey';
import { useSurvey } from '../engine/useSurvey';
import { QuantityField } from '../fields/QuantityField';
import { Answered } from '../shown/Answered';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { SurveyWait } from '../stage/SurveyWait';
import { LeftOut } from '../stage/LeftOut';
import { useWorkedStage } from '../stage/useCorner';
import { efficiencyChart, frequencyChart, lossChart, MODE_WORDS } from './efficiencyCharts';
import { HeatTable } from './HeatTable';
import { MapView } from './MapView';
import { OperatingModeField } from './OperatingModeField';

const PICTURES = [
  { view: 'load', words: 'Against load' },
  { view: 'mode', words: 'By mode' },
  { view: 'losses', words: 'Where it goes' },
  { view: 'frequency', words: 'Frequency' },
  { view: 'map', words: 'Map' },
  { view: 'heat', words: 'Heat' },
] as const;
type Picture = (typeof PICTURES)[number]['view'];
const NO_MARKS = [] as const;

/** Efficiency over load, input and mode; where the watts go; how warm it gets. */
export function EfficiencyStation() {
  const [picture, setPicture] = useState<Picture>('load');
  const worked = useWorkedStage();
  const ofLoad = picture !== 'map' && picture !== 'heat';
  const asked = useSurvey(ofLoad ? worked : undefined, (survey, { stage }) => survey.efficiencyCurves(stage));
  return (
    <Station
      title="Efficiency"
      says="losses from the same waveforms, at the temperature each device settles at"
      views={<ViewPick what="Picture" views={PICTURES} shown={picture} onPick={setPicture} />}
      fields={
        <>
          <fieldset>
            <legend>Operating mode</legend>
            <OperatingModeField />
            <QuantityField path={['control', 'supplyCurrent']} label="Controller draws" optional />
            <QuantityField path={['control', 'sleepCurrent']} label="asleep" optional />
          </fieldset>
          <p className="small quiet">
            Pulse skipping opens the rectifying switch where its current would turn round and leaves out pulses below{' '}
            {PULSE_SHARE} of the continuous on-time (common practice sets the peak of a pulse, which is the same). The
            ledger judges the stage in the mode chosen here.
          </p>
          <LeftOut />
        </>
      }
      picture={
        <>
          {ofLoad && (
            <Answered of={asked} what="efficiency" wait={<SurveyWait working />}>
              {(curves, { stage }) =>
                curves ? <Curves curves={curves} picture={picture} stage={stage} /> : <SurveyWait working={false} />
              }
            </Answered>
          )}
          {picture === 'map' && <MapView />}
          {picture === 'heat' && <HeatTable />}
        </>
      }
    />
  );
}

interface CurvesProps {
  readonly curves: EfficiencyCurves;
  readonly picture: Picture;
  readonly stage: Stage;
}

function Curves({ curves, picture, stage }: CurvesProps) {
  const nominal = nominalInput(stage);
  const chart = useMemo(() => {
    const out = stage.targets.outputVoltage;
    const highest = stage.targets.inputVoltage.max;
    const linear =
      out > 0 && out < stage.targets.inputVoltage.min
        ? { words: `linear regulator at ${formatQuantity(highest, 'V', 3)}, at best`, efficiency: out / highest }
        : undefined;
    const present = curves.byInput.find(({ inputVoltage }) => inputVoltage === nominal) ?? curves.byInput[0];
    switch (picture) {
      case 'load':
        return efficiencyChart(
          curves.byInput,
          ({ inputVoltage }) => `${formatQuantity(inputVoltage, 'V', 3)} input`,
          linear,
        );
      case 'mode':
        return efficiencyChart(curves.byMode, ({ mode }) => MODE_WORDS[mode]);
      case 'losses':
        return present && lossChart(present);
      case 'frequency':
        return frequencyChart(curves.byMode);
      default:
        return undefined;
    }
  }, [curves, picture, stage, nominal]);
  const words = PICTURES.find(({ view }) => view === picture)?.words ?? '';
  return (
    <>
      {chart ? (
        <CurveChart words={words} {...chart} marks={NO_MARKS} />
      ) : (
        <p className="quiet">There is no operating point to draw.</p>
      )}
      {picture === 'losses' && (
        <p className="small quiet mb-1">At {formatQuantity(nominal, 'V', 3)} input, the lowest band first.</p>
      )}
      <ModeTable curves={curves.byMode} />
    </>
  );
}

const percent = (share: number | undefined): string => (share === undefined ? '–' : `${(100 * share).toFixed(1)} %`);

/** The modes side by side at the nominal input: light and full load, ripple, frequency, and what they draw without load. */
function ModeTable({ curves }: { readonly curves: readonly EfficiencyCurve[] }) {
  return (
    <table className="plain" aria-label="Operating modes">
      <thead>
        <tr>
          <th>mode, at the nominal input</th>
          <th className="number">lightest load</th>
          <th className="number">efficiency</th>
          <th className="number">frequency</th>
          <th className="number">output ripple</th>
          <th className="number">at full load</th>
          <th className="number">without load</th>
        </tr>
      </thead>
      <tbody>
        {curves.map(({ mode, points, noLoadCurrent }) => {
          const [light] = points;
          return (
            <tr key={mode}>
              <td>{MODE_WORDS[mode]}</td>
              <td className="number">{light ? formatQuantity(light.outputCurrent, 'A', 3) : '–'}</td>
              <td className="number">{percent(light?.efficiency)}</td>
              <td className="number">{light ? formatQuantity(light.switchingFrequency, 'Hz', 3) : '–'}</td>
              <td className="number">{light ? formatQuantity(light.outputRipple, 'V', 3) : '–'}</td>
              <td className="number">{percent(points.at(-1)?.efficiency)}</td>
              <td className="number">{noLoadCurrent === undefined ? '–' : formatQuantity(noLoadCurrent, 'A', 3)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

import { formatQuantity, type AppliedForm, type LoopReport } from '@yundro/core';
import type { Remote } from 'comlink';
import { useMemo, useState } from 'react';
import { CurveChart } from '../charts/CurveChart';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { CornerPick } from '../stage/CornerFigures';
import { SurveyWait } from '../stage/SurveyWait';
import { useSession } from '../stage/stageSession';
import { useCorner } from '../stage/useCorner';
import { FormView } from '../stage/WorkingPanel';
import { gainChart, impedanceChart, phaseChart, planeChart, type LoopChart } from './loopCharts';
import { LoopFields } from './LoopFields';
import { MarginTable } from './MarginTable';
import { ShapeHandles } from './ShapeHandles';
import { useShaped } from './shaping';

const PICTURES = [
  ['gain', 'Gain and phase'],
  ['corners', 'All corners'],
  ['plane', 'Complex plane'],
  ['impedance', 'Output impedance'],
] as const;
type Picture = (typeof PICTURES)[number][0];

/** The loop: its response at a corner, the compensator to shape, and the margins of every corner. */
export function LoopStation() {
  const [picture, setPicture] = useState<Picture>('gain');
  const stage = useSession((session) => session.worked?.stage);
  const corners = useSession((session) => session.worked?.corners);
  const corner = useCorner();
  const here = corner === undefined ? undefined : corners?.[corner];
  const inputVoltage = here?.inputVoltage;
  const outputCurrent = here?.outputCurrent;
  const ask = useMemo(
    () =>
      stage && inputVoltage !== undefined && outputCurrent !== undefined
        ? async (survey: Remote<Survey>) => survey.loopAt(stage, inputVoltage, outputCurrent)
        : undefined,
    [stage, inputVoltage, outputCurrent],
  );
  const { found, working } = useSurvey(ask);
  return (
    <>
      <h1>Loop</h1>
      <CornerPick />
      <div className="picture-pick" role="group" aria-label="Picture">
        {PICTURES.map(([key, words]) => (
          <button key={key} type="button" aria-pressed={key === picture} onClick={() => setPicture(key)}>
            {words}
          </button>
        ))}
      </div>
      {found?.loop.kind === 'solved' && <LoopPicture report={found.loop} picture={picture} />}
      {found?.loop.kind === 'unsolved' && (
        <p className="quiet my-3">
          There is no loop yet: {found.loop.reason}. Give what is missing below, or let a compensator be proposed.
        </p>
      )}
      {!found && <SurveyWait working={working} />}
      <MarginTable />
      {found && found.plant.length > 0 && <PlantFigures forms={found.plant} />}
      <LoopFields />
    </>
  );
}

function LoopPicture({ report, picture }: { readonly report: LoopReport; readonly picture: Picture }) {
  const shaped = useShaped();
  const stage = useSession((session) => session.worked?.stage);
  const askCorners = useMemo(
    () => (stage && picture === 'corners' ? async (survey: Remote<Survey>) => survey.loopGains(stage) : undefined),
    [stage, picture],
  );
  const { found: overlaid } = useSurvey(askCorners);
  const charts = useMemo((): readonly (readonly [string, LoopChart])[] => {
    const others = shaped ? [shaped] : [];
    switch (picture) {
      case 'gain':
        return [
          ['Gain against frequency', gainChart(report, others)],
          ['Phase against frequency', phaseChart(report, others)],
        ];
      case 'corners': {
        const others = (overlaid ?? []).map(({ points }) => ({
          words: '',
          frequencies: points.map(({ frequency }) => frequency),
          values: points.map(({ value }) => value),
          quiet: true,
        }));
        return [
          ['Loop gain of every corner', gainChart(report, others, ['loop'])],
          ['Loop phase of every corner', phaseChart(report, others, ['loop'])],
        ];
      }
      case 'plane':
        return [['Loop gain in the complex plane', planeChart(report)]];
      case 'impedance':
        return [['Output impedance against frequency', impedanceChart(report)]];
    }
  }, [report, picture, shaped, overlaid]);
  return (
    <>
      <div className={picture === 'gain' || picture === 'corners' ? 'two-charts' : ''}>
        {charts.map(([words, chart]) => (
          <CurveChart key={words} words={words} {...chart} />
        ))}
      </div>
      {picture === 'gain' && <ShapeHandles report={report} />}
      <Reading report={report} />
    </>
  );
}

/** What the plant is known by, each figure with its formula. */
function PlantFigures({ forms }: { readonly forms: readonly AppliedForm[] }) {
  return (
    <details className="mt-2">
      <summary className="small quiet">
        Plant by closed forms:{' '}
        {forms.map(({ name, value, unit }) => `${name.toLowerCase()} ${formatQuantity(value, unit, 3)}`).join(', ')}
      </summary>
      {forms.map((form) => (
        <FormView key={form.name} form={form} />
      ))}
    </details>
  );
}

/** What the pictures say, in figures. */
function Reading({ report }: { readonly report: LoopReport }) {
  const { crossover, phaseMargin, gainMargin, stable, outputImpedancePeak, floquetMultipliers, subharmonicGain } =
    report;
  const [largest] = floquetMultipliers;
  const size = largest ? Math.hypot(largest.re, largest.im) : 0;
  return (
    <p className="small quiet mb-2" data-testid="loop-reading">
      {crossover.kind === 'found'
        ? `Crossover ${formatQuantity(crossover.value, 'Hz', 4)}`
        : `No crossover: ${crossover.reason}`}
      {phaseMargin.kind === 'found' && `, phase margin ${phaseMargin.value.toFixed(1)}°`}
      {gainMargin.kind === 'found'
        ? `, gain margin ${gainMargin.value.toFixed(1)} dB. `
        : `. No gain margin: ${gainMargin.reason}. `}
      {stable
        ? `Stable: the slowest disturbance shrinks to ${size.toFixed(4)} of itself each period. `
        : `Unstable: a disturbance grows by ${size.toFixed(4)} each period. `}
      Gain towards alternating pulses {Math.max(0, -subharmonicGain).toFixed(2)}, of the one at which they alternate:
      from the multipliers with the edges moving and held. Output impedance at most{' '}
      {formatQuantity(outputImpedancePeak.impedance, 'ohm', 3)}, at{' '}
      {formatQuantity(outputImpedancePeak.frequency, 'Hz', 3)}. The loop is what injection at the top of the divider
      shows; plant times compensator misses what ripple at the comparator adds.
    </p>
  );
}

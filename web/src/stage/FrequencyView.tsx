import { formatQuantity, nearestPreferred, parseQuantity, type FrequencyStudy, type Stage } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { Quantity } from '../shown/Quantity';
import { SurveyWait } from './SurveyWait';
import { putPart } from './editing';
import { useWorkedStage } from './useCorner';

const HEADROOM = 1.15;
const MM3 = 1e-9;
/** Bands a designer may want to keep clear of, Hz. Long and medium wave as broadcast in Europe, from memory. */
const BANDS = [
  { key: 'audio', words: 'audio', from: 20, to: 20e3 },
  { key: 'long', words: 'long wave', from: 148.5e3, to: 283.5e3 },
  { key: 'medium', words: 'medium wave', from: 526.5e3, to: 1606.5e3 },
] as const;

/** What each switching frequency costs and saves, with the bands to keep clear of. */
export function FrequencyView() {
  const asked = useSurvey(useWorkedStage(), (survey, { stage }) => survey.frequencyStudy(stage));
  return (
    <Answered of={asked} what="study of the frequency" wait={<SurveyWait working />}>
      {(study, { stage }) =>
        study && study.points.length > 0 ? <Study study={study} stage={stage} /> : <SurveyWait working={false} />
      }
    </Answered>
  );
}

function Study({ study, stage }: { readonly study: FrequencyStudy; readonly stage: Stage }) {
  const [avoided, setAvoided] = useState<readonly string[]>(['audio']);
  const [own, setOwn] = useState({ from: '', to: '' });
  const ownFrom = parseQuantity(own.from, 'Hz');
  const ownTo = parseQuantity(own.to, 'Hz');
  const ownBand =
    ownFrom.ok && ownTo.ok && ownTo.value > ownFrom.value ? `${String(ownFrom.value)} ${String(ownTo.value)}` : '';
  const shown = useMemo(() => {
    const { points, onTimeLimit } = study;
    const min = points[0]?.frequency ?? 0;
    const max = points.at(-1)?.frequency ?? 0;
    const x = points.map(({ frequency }) => frequency);
    const [from = 0, to = 0] = ownBand.split(' ').map(Number);
    const bands = [
      ...BANDS.filter(({ key }) => avoided.includes(key)),
      ...(ownBand === '' ? [] : [{ words: 'own band', from, to }]),
    ];
    const present = points.reduce((a, b) =>
      Math.abs(Math.log(b.frequency / (stage.switchingFrequency ?? 1))) <
      Math.abs(Math.log(a.frequency / (stage.switchingFrequency ?? 1)))
        ? b
        : a,
    );
    return {
      x: { words: 'switching frequency', unit: 'Hz', min, max, logarithmic: true } as const,
      y: { words: 'loss', unit: 'W', min: 0, max: Math.max(...points.map(({ total }) => total)) * HEADROOM } as const,
      curves: [
        { words: 'total', x, y: points.map(({ total }) => total), colour: '--ink', dash: [] },
        { words: 'conduction', x, y: points.map(({ conduction }) => conduction), colour: '--trace-1', dash: [6, 3] },
        { words: 'switching', x, y: points.map(({ switching }) => switching), colour: '--trace-2', dash: [2, 2] },
        { words: 'core', x, y: points.map(({ core }) => core), colour: '--trace-3', dash: [8, 3, 2, 3] },
      ],
      marks: [
        { x: present.frequency, y: present.total, here: true },
        ...points
          .filter(({ frequency }) => frequency === study.leastLoss)
          .map(({ frequency, total }) => ({ x: frequency, y: total, label: 'least', here: false })),
      ],
      regions: [
        ...bands
          .filter((band) => band.to > min && band.from < max)
          .map((band) => ({ fromX: Math.max(min, band.from), toX: Math.min(max, band.to), words: band.words })),
        ...(onTimeLimit !== undefined && onTimeLimit < max
          ? [{ fromX: Math.max(min, onTimeLimit), toX: max, words: 'on-time too short' }]
          : []),
      ],
    };
  }, [study, avoided, ownBand, stage]);
  const toggle = (key: string): void =>
    setAvoided((now) => (now.includes(key) ? now.filter((one) => one !== key) : [...now, key]));
  return (
    <>
      <CurveChart words="Losses against the switching frequency" {...shown} />
      <div className="corner-pick small">
        <span className="quiet">Keep clear of</span>
        {BANDS.map(({ key, words }) => (
          <label key={key}>
            <input type="checkbox" checked={avoided.includes(key)} onChange={() => toggle(key)} /> {words}
          </label>
        ))}
        <label>
          own band{' '}
          <input size={7} value={own.from} onChange={(event) => setOwn({ ...own, from: event.target.value })} />
        </label>
        <label>
          to <input size={7} value={own.to} onChange={(event) => setOwn({ ...own, to: event.target.value })} />{' '}
          <span className="unit">Hz</span>
        </label>
      </div>
      <table className="plain small" aria-label="Frequencies">
        <thead>
          <tr>
            <th className="number">frequency</th>
            <th className="number">inductance</th>
            <th className="number">choke volume</th>
            <th className="number">shortest on-time</th>
            <th className="number">output ripple</th>
            <th className="number">conduction</th>
            <th className="number">switching</th>
            <th className="number">core</th>
            <th className="number">total loss</th>
            <th>
              <span className="visually-hidden">what can be done</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {study.points
            .filter((_, i) => i % 2 === 0)
            .map((point) => {
              const { min = 0, max = Infinity } = stage.targets.switchingFrequency ?? {};
              const preferred = Math.min(max, Math.max(min, nearestPreferred(point.frequency, 'E24')));
              return (
                <tr key={point.frequency}>
                  <td className="number">
                    <Quantity value={point.frequency} unit="Hz" digits={3} />
                  </td>
                  <td className="number">
                    <Quantity value={point.inductance} unit="H" digits={3} />
                  </td>
                  <td className="number">{(point.volume / MM3).toFixed(0)} mm³</td>
                  <td className="number">
                    <Quantity value={point.onTime} unit="s" digits={3} />
                  </td>
                  <td className="number">
                    <Quantity value={point.outputRipple} unit="V" digits={3} />
                  </td>
                  {[point.conduction, point.switching, point.core, point.total].map((watts, i) => (
                    <td className="number" key={i}>
                      <Quantity value={watts} unit="W" digits={3} />
                    </td>
                  ))}
                  <td>
                    <Button variant="plain" onClick={() => putPart(['switchingFrequency'], preferred)}>
                      Use {formatQuantity(preferred, 'Hz')}
                    </Button>
                  </td>
                </tr>
              );
            })}
        </tbody>
      </table>
      <p className="small quiet">
        At each frequency the inductor is sized anew for the ripple ratio; all losses are the engine's, at full load and
        the worse end of the input range, with the core of a usual powder choke. The least total of these is at{' '}
        {formatQuantity(study.leastLoss ?? 0, 'Hz', 3)}.
      </p>
    </>
  );
}

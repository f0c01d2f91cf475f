import { formatQuantity, type Fed, type SystemCase } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import type { Interplay as Found } from '../engine/systemSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { meetingChart } from './meetingChart';

/** What feeds and what is fed may meet up to here and each is as by itself: 6 dB. Common practice. */
const APART = 0.5;

/** How stages that feed each other bear on each other: their impedances, and how they come up. */
export function Interplay({ stages, at }: { readonly stages: readonly Fed[]; readonly at: SystemCase }) {
  const question = useMemo(() => ({ stages, at }), [stages, at]);
  const asked = useSurvey<typeof question, Found>(question, (survey, of) => survey.interplay(of.stages, of.at));
  return (
    <Answered of={asked} what="interplay of the stages" wait={<p className="quiet">Impedances are being worked …</p>}>
      {(found) => <Shown {...found} />}
    </Answered>
  );
}

function Shown({ meetings, starts }: Found) {
  const charts = useMemo(
    () => meetings.flatMap((one) => ('reason' in one ? [] : [{ feeder: one.feeder, chart: meetingChart(one) }])),
    [meetings],
  );
  const time = (value: number): string => (value === 0 ? 'at once' : formatQuantity(value, 's', 3));
  const amps = (value: number | undefined): string => (value === undefined ? '–' : formatQuantity(value, 'A', 3));
  return (
    <>
      {meetings.length > 0 && (
        <section aria-label="Where stages feed each other" className="mt-3">
          <h2>Where stages feed each other</h2>
          {meetings.map((one) => (
            <p key={one.feeder} className="small mb-1">
              {'reason' in one ? (
                <>
                  What {one.feeder} and those it feeds do to each other is not known: {one.reason}.
                </>
              ) : (
                <>
                  The output impedance of <b>{one.feeder}</b> comes to {one.nearest.share.toPrecision(2)} of the input
                  impedance of {one.fed.join(', ')} at {formatQuantity(one.nearest.frequency, 'Hz', 3)}
                  {one.nearest.share <= APART
                    ? ': each behaves as by itself.'
                    : one.margin === undefined
                      ? `: above ${String(APART)} they are felt in each other’s loops.`
                      : `: it passes it, ${one.margin.toFixed(0)}° off a ring that would not die. Give the feeder more output capacitance, or what it feeds bulk that damps it.`}
                </>
              )}
            </p>
          ))}
          {charts.map(({ feeder, chart }) => (
            <CurveChart key={feeder} words={`Impedances where ${feeder} feeds`} {...chart} />
          ))}
        </section>
      )}
      <section aria-label="Coming up" className="mt-3">
        <h2>Coming up</h2>
        <table className="plain" aria-label="How the stages come up">
          <thead>
            <tr>
              <th>stage</th>
              <th>fed by</th>
              <th className="number">begins</th>
              <th className="number">up</th>
              <th className="number">charges itself</th>
              <th className="number">what it feeds</th>
              <th className="number">can deliver</th>
            </tr>
          </thead>
          <tbody>
            {starts.map(({ name, feeder, begins, up, charging, fed, deliverable }) => (
              <tr key={name}>
                <td>{name}</td>
                <td>{feeder ?? 'source'}</td>
                <td className="number">{time(begins)}</td>
                <td className="number">{time(up)}</td>
                <td className="number">{amps(charging)}</td>
                <td className="number">{amps(fed)}</td>
                <td className="number">{amps(deliverable)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {starts
          .flatMap(({ cautions }) => cautions)
          .map((sentence) => (
            <p key={sentence} className="small mb-1">
              {sentence}
            </p>
          ))}
        <p className="small quiet">
          From the moment the source is there, every output rising evenly, loads coming once their rail is up;
          capacitors without bias. A start with its switching is simulated in the station Transient of each stage.
        </p>
      </section>
    </>
  );
}

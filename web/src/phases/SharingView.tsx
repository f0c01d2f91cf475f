import { formatQuantity, type SharingStudy } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { BOARDS } from '../engine/boards';
import { ToldState } from '../engine/ToldState';
import { useTold } from '../engine/useTold';
import { Failed } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import type { Framed } from './framed';
import { quantile, sharingChart } from './phaseCharts';

/** How alike the phases of boards carry the current, and what is left of the cancellation. */
export function SharingView({ frame }: Framed) {
  const worked = useWorkedStage();
  const told = useTold<NonNullable<typeof worked>, SharingStudy | string | undefined>(
    worked,
    (survey, { stage }, tell) => survey.sharing(stage, tell),
  );
  const { value, of, stale, failure, retry } = told;
  if (failure) return frame(<Failed what="study of current sharing" sentence={failure.sentence} retry={retry} />);
  return frame(
    <div className={stale === undefined ? 'answered' : 'answered stale'} aria-busy={stale !== undefined}>
      {stale !== undefined && (
        <p className="stale-note" role="status">
          Still showing {stale}.
        </p>
      )}
      <p className="small mb-1" role="status">
        <ToldState
          of={told}
          at={`${String(typeof value === 'object' ? value.tried : 0)} of ${String(BOARDS)} boards are worked.`}
        />
      </p>
      {typeof value === 'string' && <p className="quiet">{value}</p>}
      {typeof value === 'object' && of && <Found found={value} scheme={of.stage.control.scheme} />}
      {value === undefined && !told.working && !told.stopped && <SurveyWait working={false} />}
    </div>,
  );
}

/** Schemes in which the comparator of each phase looks at its current. */
const SENSES = new Set(['peak-current-mode', 'average-current-mode']);

function Found({ found, scheme }: { readonly found: SharingStudy; readonly scheme: string }) {
  const chart = useMemo(() => sharingChart(found), [found]);
  const { samples, saturation, equalPeak, unsolved } = found;
  const rows = [
    ['one duty ratio for all', 'open', 'openPeak'],
    ['a loop that makes them alike', 'shared', 'sharedPeak'],
  ] as const;
  return (
    <>
      <CurveChart words="Boards by the current of their heaviest phase" {...chart} />
      <table className="plain" aria-label="Current sharing">
        <thead>
          <tr>
            <th>{samples.length} boards</th>
            <th className="number">heaviest phase, half of them</th>
            <th className="number">19 of 20</th>
            <th className="number">worst</th>
            <th className="number">highest peak</th>
            <th>against saturation</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([words, share, peak]) => {
            const shares = samples.map((one) => one[share]);
            const highest = Math.max(...samples.map((one) => one[peak]));
            return (
              <tr key={share}>
                <td>{words}</td>
                {[0.5, 0.95, 1].map((part) => (
                  <td key={part} className="number">
                    +{(100 * (quantile(shares, part) - 1)).toFixed(1)} %
                  </td>
                ))}
                <td className="number">{formatQuantity(highest, 'A', 3)}</td>
                <td>
                  {saturation === undefined
                    ? 'not stated'
                    : highest > saturation
                      ? `beyond ${formatQuantity(saturation, 'A', 3)}`
                      : `below ${formatQuantity(saturation, 'A', 3)}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="small">
        {SENSES.has(scheme)
          ? `This stage senses the current of each phase: the second line is its own.${scheme === 'peak-current-mode' ? ' Its comparators make the peaks alike, so the averages still differ by half of what the ripples do.' : ''}`
          : 'This stage has one control voltage for all phases and senses none: the first line is its own.'}{' '}
        Equal phases peak at {formatQuantity(equalPeak, 'A', 3)}. At the switching frequency, where equal phases leave
        nothing, the sum keeps{' '}
        {formatQuantity(
          quantile(
            samples.map(({ residue }) => residue),
            0.95,
          ),
          'A',
          3,
        )}{' '}
        of amplitude in 19 of 20 boards.
      </p>
      <p className="small quiet">
        At {formatQuantity(found.inputVoltage, 'V', 3)}, {formatQuantity(found.outputCurrent, 'A', 3)}, every value
        evenly and independently within its tolerance: {found.spread} (stated, else common practice). The engine works
        each board with all its phases; resistances do not rise with their heat here, which evens the currents out a
        little more, and inductances are constant here, so a peak beyond saturation is higher than it says.
        {unsolved > 0 && ` ${unsolved} boards could not be worked and stand in no line above.`}
      </p>
    </>
  );
}

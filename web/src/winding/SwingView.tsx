import { formatQuantity, type ChokeSpec, type SwingAtLoad, type SwingStep } from '@yundro/core';
import { useMemo, useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { InlineField } from '../fields/InlineField';
import { isStale } from '../engine/inquiry';
import { ShareState } from '../engine/ShareState';
import { useShare } from '../engine/useShare';
import type { SwingReport } from '../engine/windingSurvey';
import { Answered } from '../shown/Answered';
import { putInductor } from '../stage/editing';
import { inductanceChart } from './chokeCharts';
import { useChokeWork } from './useChokeWork';
import type { WindingFramed } from './WindingStation';

/** A choke whose inductance is high at light load, against a preload and a switch in place of the diode. */
export function SwingView({ frame }: WindingFramed) {
  const { asked, spec, put } = useChokeWork();
  const [share, setShare] = useState(0.3);
  const [ratio, setRatio] = useState(0.1);
  const question = useMemo(
    () => asked && spec && { ...asked, spec, step: { share, gap: ratio * spec.gap } },
    [asked, spec, share, ratio],
  );
  const shared = useShare<NonNullable<typeof question>, SwingReport | string>(question, (survey, of, tell) =>
    survey.chokeSwing(of.stage, of.cores, of.spec, of.step, tell),
  );
  const found = shared.asked;
  return frame({
    fields: (
      <fieldset>
        <legend>Stepped gap</legend>
        <InlineField words="Share of the leg" unit="ratio" value={share} range={[0.02, 0.9]} onTake={setShare} />
        <InlineField words="Its gap, of the whole" unit="ratio" value={ratio} range={[0.005, 0.9]} onTake={setRatio} />
        <p className="small quiet">
          Over a share of the leg the gap is small: there inductance is high until that share saturates. The rest is
          ground so that full load has what it had.
        </p>
      </fieldset>
    ),
    picture: spec ? (
      <>
        <ShareState of={shared} doing="Simulating light load" />
        <Answered of={found} what="swinging choke" wait={null}>
          {(answer) =>
            typeof answer === 'string' ? (
              <p className="quiet">{answer}</p>
            ) : (
              <Swung of={answer} stale={isStale(found)} onKeep={put} />
            )
          }
        </Answered>
      </>
    ) : (
      <p className="quiet">Choose a choke with a gap first: under “Search”, or under “One choke”.</p>
    ),
    below: (
      <Answered of={found} what="swinging choke" wait={null} beside>
        {(answer) => typeof answer !== 'string' && <Studied of={answer} />}
      </Answered>
    ),
  });
}

function Swung({
  of,
  stale,
  onKeep,
}: {
  readonly of: SwingReport;
  readonly stale: boolean;
  readonly onKeep: (spec: ChokeSpec) => void;
}) {
  const { worked, plain, demand, part, spec, faults } = of;
  // Of this step on this core, not of another one that is looked at since.
  const key = `${spec.core} ${String(spec.turns)} ${String(spec.step?.share)}`;
  const [taken, setTaken] = useState<string>();
  const chart = useMemo(
    () =>
      inductanceChart(
        [
          { words: 'swinging', table: worked.table },
          { words: 'fixed', table: plain.table },
        ],
        demand,
      ),
    [worked, plain, demand],
  );
  return (
    <>
      <CurveChart words="Inductance against current" {...chart} />
      {faults.map((one) => (
        <p key={one} className="fault small mb-1">
          {one}
        </p>
      ))}
      <p className="mb-1">
        <Button
          variant="plain"
          disabled={stale}
          onClick={() => {
            onKeep(spec);
            putInductor(part);
            setTaken(key);
          }}
        >
          Put the swinging one into the stage
        </Button>
      </p>
      <p className="small" role="status">
        {taken === key && 'It is the inductor of the stage now. Undo takes it back.'}
      </p>
    </>
  );
}

const hertz = (one: SwingAtLoad | undefined): string =>
  one?.crossover === undefined
    ? '–'
    : `${formatQuantity(one.crossover, 'Hz', 3)}, ${one.phaseMargin === undefined ? '–' : `${one.phaseMargin.toFixed(0)}°`}`;

function Studied({ of: { study } }: { readonly of: SwingReport }) {
  const { plain, swinging, border, step, steps, preload, inputVoltage } = study;
  const a = (value: number): string => formatQuantity(value, 'A', 3);
  const restsBelow = (load: number | undefined): string =>
    load === undefined
      ? 'where its current rests is not known: full load has no operating point'
      : `rests at zero below ${a(load)}`;
  const line = (words: string, one: SwingStep | string | undefined, costs: string): ReactNode => (
    <tr key={words}>
      <td>{words}</td>
      {typeof one === 'object' ? (
        <>
          <td className="number">{formatQuantity(one.deviation, 'V', 3)}</td>
          <td className="number">{formatQuantity(one.recovery, 's', 2)}</td>
        </>
      ) : (
        <td colSpan={2} className="small quiet">
          {one ?? 'the stage has a switch already, or none to take the diode’s place'}
        </td>
      )}
      <td className="small">{costs}</td>
    </tr>
  );
  return (
    <>
      <h2 className="mt-2">
        A step from {a(step.from)} to {a(step.to)} at {formatQuantity(inputVoltage, 'V', 3)}, simulated
      </h2>
      <table className="plain" aria-label="Ways through light load">
        <thead>
          <tr>
            <th>with</th>
            <th className="number">deviation</th>
            <th className="number">recovery</th>
            <th>what it costs</th>
          </tr>
        </thead>
        <tbody>
          {line('the fixed choke', steps.plain, restsBelow(border.plain))}
          {line('the swinging choke', steps.swinging, `a stepped gap; ${restsBelow(border.swinging)}`)}
          {typeof preload === 'string'
            ? line('a preload', preload, '')
            : line(
                'a preload',
                preload.step,
                `${a(preload.current)} kept on: ${formatQuantity(preload.watts, 'W', 2)} at all times`,
              )}
          {line(
            'a switch for the diode',
            steps.synchronous,
            'a switch and its drive; current flows back at light load',
          )}
        </tbody>
      </table>
      <h2 className="mt-3">The loop at each load</h2>
      <table className="plain" aria-label="The loop at each load">
        <thead>
          <tr>
            <th className="number">load</th>
            <th className="number">fixed</th>
            <th>conducts</th>
            <th className="number">crossover, margin</th>
            <th className="number">swinging</th>
            <th>conducts</th>
            <th className="number">crossover, margin</th>
          </tr>
        </thead>
        <tbody>
          {plain.map((one, k) => (
            <tr key={one.load}>
              <td className="number">{a(one.load)}</td>
              <td className="number">{formatQuantity(one.inductance, 'H', 3)}</td>
              <td>{one.mode ?? '–'}</td>
              <td className="number">{hertz(one)}</td>
              <td className="number">{formatQuantity(swinging[k]?.inductance ?? NaN, 'H', 3)}</td>
              <td>{swinging[k]?.mode ?? '–'}</td>
              <td className="number">{hertz(swinging[k])}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

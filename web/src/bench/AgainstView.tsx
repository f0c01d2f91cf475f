import {
  CHANNELS,
  derivedReading,
  formatQuantity,
  PARAMETERS,
  withFitted,
  type BenchRun,
  type BenchRunRow,
  type Capture,
  type FittedReadings,
  type ParameterKey,
  type PredictedLine,
  type Stage,
} from '@yundro/core';
import { useMemo, useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { Curve, Mark } from '../charts/curves';
import type { HeldAgainst, PlaceTrace } from '../engine/benchSurvey';
import { ShareState } from '../engine/ShareState';
import { useShare } from '../engine/useShare';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { putData } from '../stage/editing';
import { useSession } from '../stage/stageSession';
import { useWorkedStage } from '../stage/useCorner';
import { ViewPick } from '../station/ViewPick';
import type { BenchFramed } from './BenchStation';
import { axisOf } from './placeCharts';
import { RunPick } from './RunPick';
import { useRuns } from './useRuns';

/** What may be held against its prediction, line by line. */
const FIGURES = [
  { view: 'efficiency', words: 'Efficiency' },
  { view: 'loss', words: 'Loss' },
  { view: 'outputVoltage', words: 'Output' },
  { view: 'outputRipple', words: 'Output ripple' },
  { view: 'inductorRipple', words: 'Inductor ripple' },
] as const;
type Figure = (typeof FIGURES)[number]['view'];
const UNIT = { efficiency: 'ratio', loss: 'W', outputVoltage: 'V', outputRipple: 'V', inductorRipple: 'A' } as const;
/** Asked for at first: what most often differs. */
const USUAL: readonly ParameterKey[] = [
  'inductance',
  'outputCapacitance',
  'onResistance',
  'outputVoltage',
  'inputLead',
];

/** A run laid over what is predicted of it, and what would explain the difference. */
export function AgainstView({ frame }: BenchFramed) {
  const worked = useWorkedStage();
  const { chosen } = useRuns();
  const [keys, setKeys] = useState<readonly ParameterKey[]>(USUAL);
  const run = chosen?.run;
  const question = useMemo(
    () =>
      worked && run && run.readings.length > 0
        ? { ...worked, readings: run.readings, instruments: run.instruments, ambient: run.ambient, keys }
        : undefined,
    [worked, run, keys],
  );
  const shared = useShare<NonNullable<typeof question>, HeldAgainst>(
    question,
    (survey, { stage, readings, instruments, ambient, keys: fit }, tell) =>
      survey.againstPrediction(stage, readings, instruments, ambient, fit, tell),
  );
  // Traces are laid over their prediction; nothing is fitted to them.
  const withReadings = chosen !== undefined && chosen.run.readings.length > 0;
  return frame({
    setup: false,
    fields: (
      <fieldset>
        <legend>Held against</legend>
        <RunPick />
        {withReadings && <p className="small mb-1">What may differ from its stated value:</p>}
        {(withReadings ? PARAMETERS : []).map(({ key, words }) => (
          <label key={key} className="small d-block">
            <input
              type="checkbox"
              checked={keys.includes(key)}
              onChange={({ target }) => setKeys(target.checked ? [...keys, key] : keys.filter((one) => one !== key))}
            />{' '}
            {words}
          </label>
        ))}
      </fieldset>
    ),
    picture:
      !chosen || (chosen.run.readings.length === 0 && chosen.run.captures.length === 0) ? (
        <p className="quiet">There is nothing to hold against the prediction yet: the log has no run with readings.</p>
      ) : (
        <>
          {withReadings && (
            <>
              <ShareState of={shared} doing="Working boards within tolerance at every line" />
              <Answered of={shared.asked} what="comparison" wait={null}>
                {(found, compared) => <Found found={found} compared={compared} />}
              </Answered>
            </>
          )}
          {chosen.run.captures.map((capture, k) => (
            <Captured key={`${chosen.id} ${capture.title}`} row={chosen} capture={capture} at={k} />
          ))}
        </>
      ),
  });
}

/** A question as it was compared: its own readings, whatever run is chosen by now. */
type Compared = Pick<BenchRun, 'readings' | 'instruments'> & { readonly stage: Stage };

function Found({ found, compared }: { readonly found: HeldAgainst; readonly compared: Compared }) {
  const [figure, setFigure] = useState<Figure>('efficiency');
  const chart = useMemo(() => overlay(found, compared, figure), [found, compared, figure]);
  const { fitted } = found;
  const left = found.flags.filter(({ leftOut }) => leftOut);
  return (
    <>
      <ViewPick what="Figure" views={FIGURES} shown={figure} onPick={setFigure} />
      {chart ? (
        <CurveChart
          words={`Measured and predicted, ${FIGURES.find(({ view }) => view === figure)?.words ?? ''}`}
          {...chart}
        />
      ) : (
        <p className="quiet">This run has no readings of it.</p>
      )}
      {left.length > 0 && (
        <p className="small">
          {left.length === 1 ? 'One line is' : `${String(left.length)} lines are`} left out of the fit:{' '}
          {[...new Set(left.map(({ sentence }) => sentence))].slice(0, 2).join(' ')} The rest is compared all the same.
        </p>
      )}
      {fitted === undefined ? null : typeof fitted === 'string' ? (
        <p className="quiet">{fitted}</p>
      ) : (
        <Fit fitted={fitted} stage={compared.stage} of={compared.readings.length - left.length} />
      )}
    </>
  );
}

/** Readings as points over the load, with the prediction and its band, a curve for each input. */
function overlay({ lines }: HeldAgainst, run: Compared, figure: Figure) {
  const points = run.readings.flatMap((reading, row) => {
    const { efficiency, loss, outputVoltage, inputVoltage } = derivedReading(reading, run.instruments);
    const read =
      { efficiency, loss, outputVoltage }[figure as 'efficiency']?.value ?? reading[figure as 'outputRipple'];
    const line = lines[row];
    const load = reading.outputCurrent;
    return load === undefined || !inputVoltage
      ? []
      : [{ load, read, line, input: inputVoltage.value, limited: reading.limited === true }];
  });
  const read = points.filter((one) => one.read !== undefined);
  if (read.length === 0) return undefined;
  // Inputs that differ by no more than a lead's drop are one.
  const inputs: { readonly at: number; readonly points: typeof points }[] = [];
  for (const point of points) {
    const group = inputs.find(({ at }) => Math.abs(at - point.input) < 0.02 * at);
    if (group) group.points.push(point);
    else inputs.push({ at: point.input, points: [point] });
  }
  const banded = (line: PredictedLine | undefined) => line?.[figure];
  const curves = inputs.slice(0, 4).flatMap(({ at, points: own }, k): readonly Curve[] => {
    const sorted = own.filter(({ line }) => line !== undefined).toSorted((a, b) => a.load - b.load);
    const x = sorted.map(({ load }) => load);
    const most = x.at(-1) ?? 1;
    const colour = `--trace-${String((k % 4) + 1)}`;
    const band = (edge: 'low' | 'high'): Curve => ({
      words: '',
      x,
      y: sorted.map(({ line }) => banded(line)?.[edge]),
      colour,
      dash: [2, 3],
    });
    return [
      band('low'),
      band('high'),
      {
        words: formatQuantity(at, 'V', 3),
        x,
        y: sorted.map(({ line }) => banded(line)?.predicted),
        colour,
        dash: k === 0 ? [] : [6, 3],
        labelAt: most * (0.35 + 0.2 * k),
        labelAbove: k % 2 === 0,
      },
    ];
  });
  const marks = read.map(({ load, read: y = NaN, limited }): Mark => ({ x: load, y, here: !limited, small: false }));
  const values = [
    ...read.map((one) => one.read ?? NaN),
    ...points.flatMap(({ line }) => (banded(line) ? [banded(line)?.low ?? NaN, banded(line)?.high ?? NaN] : [])),
  ];
  const loads = points.map(({ load }) => load);
  const words = FIGURES.find(({ view }) => view === figure)?.words.toLowerCase() ?? figure;
  return {
    x: { words: 'load', unit: 'A' as const, min: 0, max: Math.max(...loads) * 1.05 },
    y: axisOf(values, words, UNIT[figure]),
    curves,
    marks,
  };
}

function Fit({ fitted, stage, of }: { readonly fitted: FittedReadings; readonly stage: Stage; readonly of: number }) {
  // What was fitted to another design than the present one would overwrite it.
  const document = useSession((session) => session.document);
  const present = JSON.stringify(document) === JSON.stringify(stage);
  const [said, setSaid] = useState<string>();
  const wordsOf = (key: ParameterKey): string => PARAMETERS.find((one) => one.key === key)?.words ?? key;
  const sure = fitted.parameters.filter(({ open }) => open === undefined);
  const adopted = sure.filter(({ key }) => PARAMETERS.find((one) => one.key === key)?.kind === 'factor');
  // As many digits as the interval bears, and one more.
  const value = (key: ParameterKey, at: number): string => {
    const { low = 0, high = 0 } = fitted.parameters.find((one) => one.key === key) ?? {};
    const digits = Math.min(6, Math.max(3, 1 - Math.floor(Math.log10(Math.max((high - low) / 2, 1e-9)))));
    return PARAMETERS.find((one) => one.key === key)?.kind === 'lead'
      ? formatQuantity(at, 'ohm', 3)
      : `${at.toFixed(digits)} times`;
  };
  const adopt = (): void => {
    const fault = putData(withFitted(stage, adopted));
    setSaid(
      fault ??
        `Adopted: ${adopted.map(({ key, value: at }) => `${wordsOf(key)} ${value(key, at)}`).join(', ')}. Undo takes it back.`,
    );
  };
  return (
    <section aria-label="What explains the readings">
      <table className="plain" aria-label="Fitted values">
        <thead>
          <tr>
            <th>what</th>
            <th className="number">fitted</th>
            <th className="number">within, at 95 %</th>
            <th>what the readings leave open</th>
          </tr>
        </thead>
        <tbody>
          {fitted.parameters.map(({ key, value: at, low, high, open }) => (
            <tr key={key} data-parameter={key}>
              <td>{wordsOf(key)}</td>
              <td className="number">{open ? '–' : value(key, at)}</td>
              <td className="number">{open ? '–' : `${value(key, low)} to ${value(key, high)}`}</td>
              <td>
                {open &&
                  `${open.with.length > 0 ? `cannot be told from ${open.with.map(wordsOf).join(' and ')}` : 'nothing in these readings sees it'}: read ${open.toTell}.`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small">
        {fitted.used < of && `Of ${String(of)} lines ${String(fitted.used)} are fitted, evenly chosen. `}What is left of
        the readings comes to {fitted.left.toFixed(2)} of their standard uncertainty
        {fitted.left > 2
          ? ': more than the instruments explain. Something else differs, or a line is wrong.'
          : ', as it should.'}
      </p>
      <Button variant="plain" disabled={adopted.length === 0 || !present} onClick={adopt}>
        Adopt the fitted values into the stage
      </Button>
      <p className="small" role="status">
        {said}
      </p>
      <details className="rare">
        <summary>What is left of each reading</summary>
        <table className="plain" aria-label="Residuals">
          <thead>
            <tr>
              <th className="number">line</th>
              <th>reading</th>
              <th className="number">read</th>
              <th className="number">as stated</th>
              <th className="number">as fitted</th>
              <th className="number">left, in uncertainties</th>
            </tr>
          </thead>
          <tbody>
            {fitted.residuals.map(({ row, channel, read, before, after, standard }) => (
              <tr key={`${String(row)} ${channel}`}>
                <td className="number">{row + 1}</td>
                <td>{CHANNELS[channel].words}</td>
                {[read, before, after].map((one, k) => (
                  <td key={k} className="number">
                    {formatQuantity(one, CHANNELS[channel].unit, 5)}
                  </td>
                ))}
                <td className="number">{((read - after) / standard).toFixed(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}

/** A measured step or loop over the one that is predicted. */
function Captured({
  row,
  capture,
  at,
}: {
  readonly row: BenchRunRow;
  readonly capture: Capture;
  readonly at: number;
}): ReactNode {
  const worked = useWorkedStage();
  const point = row.run.points[at];
  const { asked: how, instruments } = row.run;
  const question = useMemo(
    () =>
      worked &&
      point && {
        ...worked,
        capture,
        inputVoltage: point.inputVoltage,
        load: point.outputCurrent,
        // The step that was measured, whatever the targets ask for by now.
        step: how?.step && { ...how.step, slewRate: instruments.load.slewRate },
      },
    [worked, point, capture, how, instruments],
  );
  const asked = useSurvey<NonNullable<typeof question>, readonly PlaceTrace[] | string>(
    question,
    (survey, { stage, capture: taken, inputVoltage, load, step }) =>
      survey.predictedTrace(stage, taken, inputVoltage, load, step),
  );
  return (
    <Answered of={asked} what="predicted trace" wait={<SurveyWait working />}>
      {(predicted, { capture: taken, step }) => (
        <section aria-label={taken.title}>
          <h2>{taken.title}</h2>
          {step && (
            <p className="small quiet">
              From {formatQuantity(step.from, 'A', 3)} to {formatQuantity(step.to, 'A', 3)} at{' '}
              {formatQuantity(step.slewRate, 'A/s', 2)}, as it was measured; predicted for the stage as it is now.
            </p>
          )}
          {typeof predicted === 'string' && <p className="quiet">{predicted}</p>}
          {taken.columns.map(({ name, unit, values }) => {
            const other = typeof predicted === 'string' ? undefined : predicted.find((one) => one.name === name);
            const end = taken.x.at(-1) ?? 1;
            const frequency = taken.against === 'frequency';
            const start = taken.x[0] ?? 0;
            const place = (share: number): number =>
              frequency ? start * (end / start) ** share : start + share * (end - start);
            return (
              <CurveChart
                key={name}
                words={`${taken.title}: ${name}`}
                x={
                  frequency
                    ? { words: 'frequency', unit: 'Hz', min: start, max: end, logarithmic: true }
                    : { words: 'time', unit: 's', min: start, max: end }
                }
                y={axisOf([...values, ...(other?.y ?? [])], name, unit as 'V')}
                curves={[
                  ...(other
                    ? [
                        {
                          words: 'predicted',
                          x: other.x,
                          y: other.y,
                          colour: '--trace-3',
                          dash: [5, 3],
                          labelAt: place(0.3),
                        },
                      ]
                    : []),
                  {
                    words: 'measured',
                    x: taken.x,
                    y: values,
                    colour: '--trace-1',
                    dash: [],
                    labelAt: place(0.65),
                    labelAbove: true,
                  },
                ]}
                marks={[]}
              />
            );
          })}
        </section>
      )}
    </Answered>
  );
}

import {
  formatQuantity,
  measuredPart,
  type FittedFigure,
  type FittedRamp,
  type FittedRing,
  type ReadRecord,
  type Unit,
} from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { isStale } from '../engine/inquiry';
import type { MeasuredFit, MeasuredHow } from '../engine/measuredRecord';
import { useSurvey } from '../engine/useSurvey';
import { InlineField } from '../fields/InlineField';
import { PickField } from '../fields/PickField';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { FileButton } from '../shown/FileButton';
import { inductanceChart } from './chokeCharts';
import { useToLibrary } from './useToLibrary';
import type { WindingFramed } from './WindingStation';

const KINDS = [
  { value: 'ramp', words: 'a ramp of the current' },
  { value: 'ring', words: 'a ring with a capacitor' },
] as const;
/** A limit of error, a ratio. */
const ERROR = [0, 0.5] as const;

/** A choke that was measured: a ramp of its current, or its ring with a known capacitor. */
export function MeasuredView({ frame }: WindingFramed) {
  const [file, setFile] = useState<{ readonly name: string; readonly text: string }>();
  const [how, setHow] = useState<MeasuredHow>({
    kind: 'ramp',
    voltage: 0,
    current: 1,
    resistance: 0.01,
    volts: 0.02,
    amps: 0.02,
    capacitance: 100e-9,
    tolerance: 0.05,
  });
  const read = useSurvey<NonNullable<typeof file>, ReadRecord | string>(file, (survey, of) =>
    survey.chokeRecord(of.text),
  );
  const record = isStale(read) || typeof read.answer?.value === 'string' ? undefined : read.answer?.value;
  const question = useMemo(() => record && { record, how }, [record, how]);
  const fit = useSurvey<NonNullable<typeof question>, MeasuredFit | string>(question, (survey, of) =>
    survey.chokeFit(of.record, of.how),
  );
  const number = (words: string, unit: Unit, key: 'resistance' | 'volts' | 'amps' | 'capacitance' | 'tolerance') => (
    <InlineField
      key={key}
      words={words}
      unit={unit}
      value={how[key]}
      range={unit === 'ratio' ? ERROR : unit === 'F' ? [1e-12, 1] : [0, 1e3]}
      onTake={(value) => setHow({ ...how, [key]: value })}
    />
  );
  const trace = (words: string, key: 'voltage' | 'current') =>
    record && (
      <PickField
        id={`trace-${key}`}
        words={words}
        value={String(how[key])}
        options={record.traces.map(({ heading }, k) => ({ value: String(k), words: heading }))}
        onPick={(value) => setHow({ ...how, [key]: Number(value) })}
      />
    );
  return frame({
    fields: (
      <fieldset>
        <legend>The record</legend>
        <FileButton
          words="Read a CSV of the oscilloscope"
          accept=".csv,.txt,.tsv,text/*"
          onFile={(one) => void one.text().then((text) => setFile({ name: one.name, text }))}
        />
        <PickField
          id="measured-kind"
          words="It is"
          value={how.kind}
          options={KINDS}
          onPick={(kind) => setHow({ ...how, kind })}
        />
        {trace('Voltage', 'voltage')}
        {how.kind === 'ramp' && trace('Current', 'current')}
        {number('Resistance of the winding', 'ohm', 'resistance')}
        {how.kind === 'ramp'
          ? [number('Voltage known to', 'ratio', 'volts'), number('Current known to', 'ratio', 'amps')]
          : [number('Capacitor', 'F', 'capacitance'), number('known to', 'ratio', 'tolerance')]}
      </fieldset>
    ),
    picture: file ? (
      <>
        <Answered of={read} what="record" wait={<SurveyWait working />}>
          {(found, { name }) =>
            typeof found === 'string' ? (
              <p className="notice bad" role="alert">
                {name}: {found}
              </p>
            ) : (
              <p className="small quiet mb-1">{`${name}: ${found.taken}.`}</p>
            )
          }
        </Answered>
        {question && (
          <Answered of={fit} what="fit" wait={<SurveyWait working />}>
            {(found, of) =>
              typeof found === 'string' ? (
                <p className="notice bad" role="alert">
                  {found}
                </p>
              ) : (
                <Fitted fit={found} resistance={of.how.resistance} stale={isStale(fit)} />
              )
            }
          </Answered>
        )}
      </>
    ) : (
      <p className="quiet">
        Bring a record of the oscilloscope: time in the first column, then voltage across the winding and its current
        while a switch is on; or the voltage of the choke ringing with a known capacitor. Charged capacitors and a choke
        hold energy: current-limited, by single pulses, and nobody touches it.
      </p>
    ),
  });
}

interface FittedProps {
  readonly fit: MeasuredFit;
  readonly resistance: number;
  /** Whether something was changed since: nothing of it is to be taken then. */
  readonly stale: boolean;
}

function Fitted({ fit, resistance, stale }: FittedProps) {
  const [name, setName] = useState('Measured choke');
  const library = useToLibrary('inductor');
  const part = measuredPart(name.trim(), resistance, fit);
  return (
    <>
      {fit.ramp && <Ramp of={fit.ramp} />}
      {fit.ring && <Ring of={fit.ring} />}
      <p className="mb-1">
        <input
          className="inline-number"
          aria-label="Name of the part"
          value={name}
          maxLength={120}
          onChange={({ target }) => setName(target.value)}
        />{' '}
        <Button
          variant="primary"
          className="btn-sm"
          disabled={stale || library.saving || name.trim() === ''}
          onClick={() => part && library.save(part)}
        >
          Into the library
        </Button>
      </p>
      <p className="small" role="status">
        {library.said}
      </p>
    </>
  );
}

const range = ({ value, low, high }: FittedFigure, unit: Unit): string =>
  `${formatQuantity(value, unit, 4)} (${formatQuantity(low, unit, 4)} to ${formatQuantity(high, unit, 4)})`;

function Ramp({ of: { inductance, saturation, exponent, left, curve, open } }: { readonly of: FittedRamp }) {
  const chart = useMemo(() => {
    const end = curve.at(-1)?.[0] ?? 1;
    return inductanceChart([{ words: 'fitted', table: curve }], {
      full: saturation?.value ?? end,
      limit: end,
      inductance: saturation ? 0.7 * inductance.value : inductance.value,
    });
  }, [curve, inductance, saturation]);
  return (
    <>
      <dl className="figures small" aria-label="Fitted to the ramp">
        <div>
          <dt>Inductance</dt>
          <dd>{range(inductance, 'H')}</dd>
        </div>
        {saturation && (
          <div>
            <dt>30 % gone at</dt>
            <dd>{range(saturation, 'A')}</dd>
          </div>
        )}
        <div>
          <dt>Gives way</dt>
          <dd>{exponent < 3.5 ? 'slowly, as a powder' : 'at once, as a ferrite'}</dd>
        </div>
        <div>
          <dt>What is left</dt>
          <dd>{formatQuantity(left, 'A', 2)}</dd>
        </div>
      </dl>
      {open !== undefined && <p className="fault small">{open}</p>}
      <CurveChart words="Inductance against current, fitted" {...chart} regions={[]} marks={[]} />
      <p className="small quiet">In parentheses what holds the value in 95 of 100.</p>
    </>
  );
}

function Ring({ of: { inductance, resistance, frequency, quality } }: { readonly of: FittedRing }) {
  return (
    <dl className="figures small" aria-label="Fitted to the ring">
      <div>
        <dt>Inductance</dt>
        <dd>{range(inductance, 'H')}</dd>
      </div>
      <div>
        <dt>Loss, as series resistance</dt>
        <dd>{range(resistance, 'ohm')}</dd>
      </div>
      <div>
        <dt>Rings at</dt>
        <dd>
          {formatQuantity(frequency, 'Hz', 4)}, quality {quality.toFixed(1)}
        </dd>
      </div>
    </dl>
  );
}

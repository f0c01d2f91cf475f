import {
  fitRamp,
  fitRing,
  formatQuantity,
  measuredPart,
  readRecord,
  type FittedFigure,
  type FittedRamp,
  type FittedRing,
  type ReadRecord,
  type Unit,
} from '@yundro/core';
import { useMemo, useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { InlineQuantity } from '../fields/InlineQuantity';
import { FileButton } from '../shown/FileButton';
import { inductanceChart } from './chokeCharts';
import { useToLibrary } from './useToLibrary';
import type { WindingFramed } from './WindingStation';

/** Points of a record that are fitted and drawn: evenly taken from a longer one. */
const MOST = 4000;
type Kind = 'ramp' | 'ring';

/** The traces of a record at so many points at most. */
function thinned(record: ReadRecord): ReadRecord {
  const every = Math.ceil(record.time.length / MOST);
  const few = (of: Float64Array): Float64Array => of.filter((_, k) => k % every === 0);
  return {
    ...record,
    time: few(record.time),
    traces: record.traces.map((one) => ({ ...one, values: few(one.values) })),
  };
}

/** A choke that was measured: a ramp of its current, or its ring with a known capacitor. */
export function MeasuredView({ frame }: WindingFramed) {
  const [kind, setKind] = useState<Kind>('ramp');
  const [file, setFile] = useState<{ readonly name: string; readonly read: ReadRecord | string }>();
  const [columns, setColumns] = useState({ voltage: 0, current: 1 });
  const [known, setKnown] = useState({
    resistance: 0.01,
    volts: 0.02,
    amps: 0.02,
    capacitance: 100e-9,
    tolerance: 0.05,
  });
  const [name, setName] = useState('Measured choke');
  const library = useToLibrary('inductor');
  const record = file && typeof file.read !== 'string' ? file.read : undefined;
  const fitted = useMemo(() => {
    const voltage = record?.traces[columns.voltage]?.values;
    const current = record?.traces[columns.current]?.values;
    if (!record || !voltage) return undefined;
    if (kind === 'ring')
      return { ring: fitRing(record.time, voltage, { capacitance: known.capacitance, tolerance: known.tolerance }) };
    if (!current || columns.current === columns.voltage)
      return { ramp: 'A ramp takes two traces: the voltage across the winding, and its current.' };
    return {
      ramp: fitRamp(
        { time: record.time, voltage, current },
        { resistance: known.resistance, voltageAccuracy: known.volts, currentAccuracy: known.amps },
      ),
    };
  }, [record, columns, kind, known]);
  const ramp = typeof fitted?.ramp === 'object' ? fitted.ramp : undefined;
  const ring = typeof fitted?.ring === 'object' ? fitted.ring : undefined;
  const failed = [fitted?.ramp, fitted?.ring].find((one) => typeof one === 'string');
  const part = measuredPart(name, known.resistance, { ramp, ring });
  const quantity = (words: string, unit: Unit, key: keyof typeof known): ReactNode => (
    <div className="field">
      <span>{words}</span>
      <span>
        <InlineQuantity
          label={words}
          unit={unit}
          value={known[key]}
          onTake={(value) => setKnown({ ...known, [key]: Math.abs(value) })}
        />
      </span>
    </div>
  );
  const trace = (words: string, key: keyof typeof columns): ReactNode => (
    <div className="field">
      <label htmlFor={`trace-${key}`}>{words}</label>
      <select
        id={`trace-${key}`}
        className="pick"
        value={columns[key]}
        onChange={({ target }) => setColumns({ ...columns, [key]: Number(target.value) })}
      >
        {record?.traces.map(({ heading }, k) => (
          <option key={heading} value={k}>
            {heading}
          </option>
        ))}
      </select>
    </div>
  );
  return frame({
    fields: (
      <fieldset>
        <legend>The record</legend>
        <FileButton
          words="Read a CSV of the oscilloscope"
          accept=".csv,.txt,.tsv,text/*"
          onFile={(one) =>
            void one.text().then((text) => {
              const read = readRecord(text);
              setFile({ name: one.name, read: typeof read === 'string' ? read : thinned(read) });
            })
          }
        />
        <div className="field">
          <label htmlFor="measured-kind">It is</label>
          <select
            id="measured-kind"
            className="pick"
            value={kind}
            onChange={({ target }) => setKind(target.value as Kind)}
          >
            <option value="ramp">a ramp of the current</option>
            <option value="ring">a ring with a capacitor</option>
          </select>
        </div>
        {record && trace('Voltage', 'voltage')}
        {record && kind === 'ramp' && trace('Current', 'current')}
        {quantity('Resistance of the winding', 'ohm', 'resistance')}
        {kind === 'ramp' ? (
          <>
            {quantity('Voltage known to', 'ratio', 'volts')}
            {quantity('Current known to', 'ratio', 'amps')}
          </>
        ) : (
          <>
            {quantity('Capacitor', 'F', 'capacitance')}
            {quantity('known to', 'ratio', 'tolerance')}
          </>
        )}
      </fieldset>
    ),
    picture: (
      <>
        {file === undefined && (
          <p className="quiet">
            Bring a record of the oscilloscope: time in the first column, then voltage across the winding and its
            current while a switch is on; or the voltage of the choke ringing with a known capacitor. Charged capacitors
            and a choke hold energy: current-limited, by single pulses, and nobody touches it.
          </p>
        )}
        {typeof file?.read === 'string' && (
          <p className="notice bad" role="alert">
            {file.name}: {file.read}
          </p>
        )}
        {record && <p className="small quiet mb-1">{`${file?.name ?? ''}: ${record.taken}.`}</p>}
        {failed !== undefined && (
          <p className="notice bad" role="alert">
            {failed}
          </p>
        )}
        {ramp && <Ramp of={ramp} />}
        {ring && <Ring of={ring} />}
        {part && (
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
              disabled={library.saving || name.trim() === ''}
              onClick={() => library.save({ ...part, name: name.trim() })}
            >
              Into the library
            </Button>
          </p>
        )}
        <p className="small" role="status">
          {library.said}
        </p>
      </>
    ),
  });
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

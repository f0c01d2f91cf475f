import { formatQuantity, type ChokeSpec } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { isStale } from '../engine/inquiry';
import { useSurvey } from '../engine/useSurvey';
import type { ChokeReport } from '../engine/windingSurvey';
import { Answered } from '../shown/Answered';
import { FormView } from '../stage/FormView';
import { putInductor } from '../stage/editing';
import { SurveyWait } from '../stage/SurveyWait';
import { ChokeFields } from './ChokeFields';
import { inductanceChart } from './chokeCharts';
import { useChokeWork } from './useChokeWork';
import { useToLibrary } from './useToLibrary';
import type { WindingFramed } from './WindingStation';

/** What is begun with where nothing was chosen: a middling powder ring and a wire. */
const beginning = (cores: readonly { readonly name: string }[]): ChokeSpec => ({
  core: cores.find(({ name }) => name === 'KRAL27')?.name ?? cores[0]?.name ?? '',
  turns: 12,
  conductor: { kind: 'wire', diameter: 1e-3, strands: 1 },
  gap: 0,
  gaps: 1,
  fringing: 'edge',
});

/** One choke, worked as it is changed. */
export function ChokeView({ frame, goTo }: WindingFramed) {
  const { asked, cores, spec, put, fault } = useChokeWork();
  const shown = useMemo(() => spec ?? (cores && beginning(cores)), [spec, cores]);
  const question = useMemo(() => asked && shown && { ...asked, spec: shown }, [asked, shown]);
  const report = useSurvey<NonNullable<typeof question>, ChokeReport | string>(question, (survey, of) =>
    survey.chokeWorked(of.stage, of.cores, of.spec),
  );
  return frame({
    fields: shown && cores && <ChokeFields spec={shown} cores={cores} onPut={put} />,
    picture: (
      <>
        {fault !== undefined && (
          <p className="notice bad" role="alert">
            {fault}
          </p>
        )}
        <Answered of={report} what="choke" wait={<SurveyWait working />}>
          {(found, of) =>
            typeof found === 'string' ? (
              <p className="quiet">{found}</p>
            ) : (
              <Shown report={found} spec={of.spec} stale={isStale(report)} onPut={put} onSheet={() => goTo('sheet')} />
            )
          }
        </Answered>
      </>
    ),
    below: (
      <Answered of={report} what="choke" wait={null} beside>
        {(found) =>
          typeof found !== 'string' && (
            <>
              <Corners report={found} />
              <Worked report={found} />
            </>
          )
        }
      </Answered>
    ),
  });
}

interface ShownProps {
  readonly report: ChokeReport;
  readonly spec: ChokeSpec;
  /** Whether something was changed since: nothing of it is to be taken then. */
  readonly stale: boolean;
  readonly onPut: (spec: ChokeSpec) => void;
  readonly onSheet: () => void;
}

function Shown({ report, spec, stale, onPut, onSheet }: ShownProps) {
  const { worked, demand, faults, cautions, gapWanted, part } = report;
  // Of the choke that was taken, not of another one that is looked at since.
  const [taken, setTaken] = useState<ChokeSpec>();
  const library = useToLibrary('inductor');
  const chart = useMemo(
    () => inductanceChart([{ words: `${String(spec.turns)} turns on ${spec.core}`, table: worked.table }], demand),
    [worked, demand, spec],
  );
  const [none, full, limit] = worked.inductance;
  const h = (value: number): string => formatQuantity(value, 'H', 3);
  const offered = gapWanted !== undefined && Math.abs(gapWanted - spec.gap) > 0.02 * Math.max(gapWanted, 1e-5);
  return (
    <>
      <p role="status" className="mb-1">
        {faults.length === 0 ? <b className="verdict holds">Holds</b> : <b className="verdict fails">Does not hold</b>}:{' '}
        {h(none)} without current, {h(full)} at {formatQuantity(demand.full, 'A', 3)}, {h(limit)} at the limit of{' '}
        {formatQuantity(demand.limit, 'A', 3)}; {formatQuantity(report.worked.resistance, 'ohm', 3)};{' '}
        {worked.worst.temperature.toFixed(0)} °C.
      </p>
      {faults.map((one) => (
        <p key={one} className="fault small mb-1">
          {one}
        </p>
      ))}
      <CurveChart words="Inductance against current" {...chart} />
      <p className="mb-1">
        {offered && (
          <Button
            variant="plain"
            disabled={stale}
            onClick={() => onPut({ ...spec, gap: Number(gapWanted.toPrecision(3)) })}
          >
            Set the gap to {(1e3 * gapWanted).toFixed(2)} mm
          </Button>
        )}
        <Button
          variant="primary"
          className="btn-sm"
          disabled={stale}
          onClick={() => {
            putInductor(part);
            setTaken(spec);
          }}
        >
          Put it into the stage
        </Button>{' '}
        <Button variant="plain" disabled={stale || library.saving} onClick={() => library.save(part)}>
          Into the library
        </Button>
        <Button variant="plain" onClick={onSheet}>
          Winding sheet
        </Button>
      </p>
      <p className="small" role="status">
        {taken === spec &&
          'It is the inductor of the stage now: every station works with its curve. Undo takes it back. '}
        {library.said}
      </p>
      {cautions.map((one) => (
        <p key={one} className="small quiet mb-1">
          {one}
        </p>
      ))}
    </>
  );
}

/** How its figures came about. */
function Worked({ report: { working, worked } }: { readonly report: ChokeReport }) {
  const { inputVoltage, outputCurrent } = worked.worst;
  return (
    <details className="mt-2">
      <summary>
        How it was worked, at {formatQuantity(inputVoltage, 'V', 3)} and {formatQuantity(outputCurrent, 'A', 3)}
      </summary>
      {working.map((form, k) => (
        // Each path of the flux has forms of the same name.
        <FormView key={`${form.name} ${String(k)}`} form={form} />
      ))}
      <p className="small quiet mt-2">
        Eddy currents by Dowell over fifteen harmonics of the current; the peak by the inductance against current, as it
        is drawn. Loss and temperature are settled together.
      </p>
    </details>
  );
}

/** What the choke does at each corner. */
function Corners({ report: { worked } }: { readonly report: ChokeReport }) {
  const watts = (value: number): string => formatQuantity(value, 'W', 3);
  return (
    <div className="data-table" role="region" aria-label="The choke at every corner, scrolled" tabIndex={0}>
      <table className="plain" aria-label="The choke at every corner">
        <thead>
          <tr>
            {['input', 'load', 'inductance', 'peak', 'B peak', 'B swing', 'copper', 'eddy', 'core', 'surface'].map(
              (one) => (
                <th key={one} className="number">
                  {one}
                </th>
              ),
            )}
          </tr>
        </thead>
        <tbody>
          {worked.corners.map((one) => (
            <tr key={`${String(one.inputVoltage)} ${String(one.outputCurrent)}`}>
              <td className="number">{formatQuantity(one.inputVoltage, 'V', 3)}</td>
              <td className="number">{formatQuantity(one.outputCurrent, 'A', 3)}</td>
              <td className="number">{formatQuantity(one.inductance, 'H', 3)}</td>
              <td className="number">{formatQuantity(one.peak, 'A', 3)}</td>
              <td className="number">{one.density.toFixed(3)} T</td>
              <td className="number">{one.densitySwing.toFixed(3)} T</td>
              <td className="number">{watts(one.copper)}</td>
              <td className="number">{watts(one.alternating)}</td>
              <td className="number">{watts(one.core)}</td>
              <td className="number">{one.temperature.toFixed(0)} °C</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

import { formatQuantity, type ExpectedNode, type NodeFeatures } from '@yundro/core';
import { useMemo, useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { Expected } from '../engine/benchSurvey';
import { ShareState } from '../engine/ShareState';
import { useShare } from '../engine/useShare';
import { InlineQuantity } from '../fields/InlineQuantity';
import { Answered } from '../shown/Answered';
import { useWorkedStage } from '../stage/useCorner';
import type { BenchFramed } from './BenchStation';
import { benchCondition } from './conditions';
import { edgeChart, expectedChart } from './placeCharts';
import { placeWords } from './places';
import { useSetup } from './setup';

/** The waveform to be expected at each place, for the point chosen, and how to look at it. */
export function ExpectView({ frame }: BenchFramed) {
  const worked = useWorkedStage();
  const instruments = useSetup((setup) => setup.instruments);
  const [point, setPoint] = useState<{ readonly inputVoltage?: number; readonly load?: number }>({});
  const full = worked?.stage.targets.outputCurrent.max ?? 1;
  const usual = worked && benchCondition(worked.stage);
  const load = point.load ?? full;
  const inputVoltage = point.inputVoltage ?? usual?.inputVoltage ?? 0;
  const question = useMemo(
    () => worked && { ...worked, instruments, inputVoltage, load },
    [worked, instruments, inputVoltage, load],
  );
  const shared = useShare<NonNullable<typeof question>, Expected | string>(
    question,
    (survey, { stage, instruments: at, inputVoltage: volts, load: amps }, tell) =>
      survey.expectedNodes(
        stage,
        { ...benchCondition(stage, amps / stage.targets.outputCurrent.max), inputVoltage: volts },
        at,
        tell,
      ),
  );
  return frame({
    fields: (
      <fieldset>
        <legend>Point</legend>
        <div className="field">
          <span>Input</span>
          <span>
            <InlineQuantity
              label="Input voltage"
              unit="V"
              value={inputVoltage}
              onTake={(taken) => setPoint({ ...point, inputVoltage: Math.abs(taken) })}
            />
          </span>
        </div>
        <div className="field">
          <span>Load</span>
          <span>
            <InlineQuantity
              label="Load current"
              unit="A"
              value={load}
              onTake={(taken) => setPoint({ ...point, load: Math.max(1e-3, Math.abs(taken)) })}
            />
          </span>
        </div>
      </fieldset>
    ),
    picture: (
      <>
        <ShareState of={shared} doing="Simulating boards within tolerance" />
        <Answered of={shared.asked} what="picture of what to expect" wait={null}>
          {(found, { inputVoltage: volts, load: amps }) =>
            typeof found === 'string' ? (
              <p className="quiet">{found}</p>
            ) : (
              <Nodes {...found} of={`${formatQuantity(volts, 'V', 3)}, ${formatQuantity(amps, 'A', 3)}`} />
            )
          }
        </Answered>
      </>
    ),
  });
}

function Nodes({ nodes, edge, of }: Expected & { readonly of: string }) {
  const [name, setName] = useState('switch node');
  const shown = nodes.find((one) => one.name === name) ?? nodes[0];
  const chart = useMemo(() => shown && expectedChart(shown), [shown]);
  const lead = useMemo(() => edgeChart(edge), [edge]);
  if (!shown || !chart) return null;
  return (
    <>
      <div className="picture-pick" role="group" aria-label="Place">
        {nodes.map((one) => (
          <button key={one.name} type="button" aria-pressed={one === shown} onClick={() => setName(one.name)}>
            {placeWords(one.name)}
          </button>
        ))}
      </div>
      <CurveChart words={`Expected, ${placeWords(shown.name)}`} of={of} {...chart} />
      <p className="small quiet">
        At {of}. Between the dotted lines lie sixteen boards whose parts are within their tolerances, stated or usual.
      </p>
      <ul className="small">
        {shown.probing.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
      <Levels nodes={nodes} />
      {shown.name === 'switch node' && (
        <>
          <CurveChart words="An edge, and what a probe makes of it" {...lead} />
          <p className="small quiet">
            A lead of 15 cm rings at {formatQuantity(edge.ring, 'Hz', 3)} with the tip of a usual probe, whatever the
            board does. The edge takes {formatQuantity(edge.riseTime, 's', 2)}
            {edge.stated
              ? ', as the losses have it from the charges of the switch and its driver.'
              : ': common practice, since the record of the switch says too little of it.'}
          </p>
        </>
      )}
      <Button variant="plain" onClick={() => window.print()}>
        Print
      </Button>
    </>
  );
}

/** Levels of every place with their range over boards within tolerance. */
function Levels({ nodes }: { readonly nodes: readonly ExpectedNode[] }) {
  const cell = ({ unit, reads, from, to }: ExpectedNode, of: keyof NodeFeatures): ReactNode => {
    const [low, high] = [formatQuantity(from[of], unit, 3), formatQuantity(to[of], unit, 3)];
    return (
      <>
        {formatQuantity(reads[of], unit, 4)}
        {low !== high && (
          <span className="d-block small quiet">
            {low} to {high}
          </span>
        )}
      </>
    );
  };
  // What rounding leaves of a level that stands still is nothing.
  const height = ({ reads }: ExpectedNode): number =>
    reads.peak - reads.valley > 1e-9 * Math.max(Math.abs(reads.peak), 1e-3) ? reads.peak - reads.valley : 0;
  return (
    <table className="plain" aria-label="Levels to expect">
      <thead>
        <tr>
          <th>place</th>
          <th className="number">average</th>
          <th className="number">low level</th>
          <th className="number">high level</th>
          <th className="number">peak to peak</th>
        </tr>
      </thead>
      <tbody>
        {nodes.map((node) => (
          <tr key={node.name}>
            <td>{placeWords(node.name)}</td>
            <td className="number">{cell(node, 'mean')}</td>
            <td className="number">{cell(node, 'low')}</td>
            <td className="number">{cell(node, 'high')}</td>
            <td className="number">{formatQuantity(height(node), node.unit, 3)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

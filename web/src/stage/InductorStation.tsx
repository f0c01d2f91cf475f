import { inductanceCurveOf, INDUCTOR_MARGINS, type InductorCandidate } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { CurveChart } from '../charts/CurveChart';
import { useWorked } from '../engine/useWorked';
import { useParts } from '../library/useParts';
import { RejectedParts } from '../library/RejectedParts';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { Quantity } from '../shown/Quantity';
import { Station } from '../station/Station';
import { FormView } from './FormView';
import { InductorFields } from './InductorFields';
import { putInductor } from './editing';
import { useSession } from './stageSession';
import { useWorkedStage } from './useCorner';

const POINTS = 60;
const HEADROOM = 1.1;
/** Fitting parts listed at first. */
const LISTED = 12;
const MM3 = 1e-9;
/** A margin as typed; what is no number asks for none. */
const factor = (text: string): number => Math.max(0, Number(text.replace(',', '.')) || 0);

/** The inductor: what is needed, what it does at its current, and what the library has. */
export function InductorStation() {
  const { id = '' } = useParams();
  const choices = useSession((session) => session.worked?.choices);
  const { parts, fault } = useParts('inductor');
  const [margins, setMargins] = useState({
    saturation: String(INDUCTOR_MARGINS.saturation),
    heating: String(INDUCTOR_MARGINS.heating),
  });
  const worked = useWorkedStage();
  const found = useWorked(worked && parts && { ...worked, parts, margins }, (engine, question) =>
    engine.inductorChoice(question.work, question.parts, {
      saturation: factor(question.margins.saturation),
      heating: factor(question.margins.heating),
    }),
  );
  const needed = choices?.find(({ path }) => path === 'parts.inductor.inductance')?.form;
  return (
    <Station
      title="Inductor"
      says="inductance against its current, per phase"
      fields={<InductorFields />}
      picture={<PresentCurve />}
    >
      {needed && (
        <details className="mt-2">
          <summary>Inductance needed: the working</summary>
          <FormView form={needed} />
        </details>
      )}
      <h2 className="mt-3">From the library</h2>
      <div className="corner-pick small">
        <label>
          Saturation current at least{' '}
          <input
            size={4}
            value={margins.saturation}
            onChange={(event) => setMargins({ ...margins, saturation: event.target.value })}
          />{' '}
          times the peak
        </label>
        <label>
          heating current at least{' '}
          <input
            size={4}
            value={margins.heating}
            onChange={(event) => setMargins({ ...margins, heating: event.target.value })}
          />{' '}
          times the average
        </label>
        <span className="quiet">1.2 and 1.35 are common practice</span>
        <Link to={`/stages/${id}/winding`}>Wind one instead</Link>
      </div>
      {fault !== undefined && (
        <p className="notice bad" role="alert">
          {fault}
        </p>
      )}
      <Answered
        of={found}
        what="choice of inductors"
        wait={<p className="quiet small">The library is being gone through …</p>}
      >
        {(candidates) => candidates && <Candidates candidates={candidates} />}
      </Answered>
      <p className="quiet small mt-2">
        Worked from the flux swing and average current of every corner; the engine works the part that is chosen.
      </p>
    </Station>
  );
}

/** The parts that fit, and those that do not with their reasons. */
function Candidates({ candidates }: { readonly candidates: readonly InductorCandidate[] }) {
  const fitting = candidates.filter(({ fits }) => fits);
  return (
    <>
      <p className="small quiet mb-1" role="status">
        {fitting.length} of {candidates.length} fit, smallest first, with the inductance at the low end of its
        tolerance.
      </p>
      {fitting.length === 0 && (
        <p>
          No part of the library fits: each of the rejected ones below says why. Another frequency or ripple ratio, or
          parts of your own, may help.
        </p>
      )}
      {fitting.length > 0 && <CandidateTable candidates={fitting} />}
      <RejectedParts words="inductors" rejected={candidates.filter(({ fits }) => !fits)} />
    </>
  );
}

const COLUMNS: readonly DataColumn<InductorCandidate>[] = [
  { key: 'part', words: 'part', value: ({ part }) => part.name },
  {
    key: 'inductance',
    words: 'inductance',
    unit: 'H',
    value: ({ part }) => part.inductance,
    shown: ({ part }) => <Quantity value={part.inductance} unit="H" digits={3} />,
  },
  {
    key: 'rippleRatio',
    words: 'ripple ratio',
    unit: '',
    value: ({ rippleRatio }) => rippleRatio,
    shown: ({ rippleRatio }) => rippleRatio.toFixed(3),
  },
  {
    key: 'saturation',
    words: 'peak / saturation',
    unit: '',
    value: ({ part, peak }) => (part.saturationCurrent === undefined ? undefined : peak / part.saturationCurrent),
    shown: ({ part, peak }) => <Beside value={peak} limit={part.saturationCurrent} />,
  },
  {
    key: 'heating',
    words: 'RMS / heating',
    unit: '',
    value: ({ part, rms }) => (part.heatingCurrent === undefined ? undefined : rms / part.heatingCurrent),
    shown: ({ part, rms }) => <Beside value={rms} limit={part.heatingCurrent} />,
  },
  {
    key: 'copperLoss',
    words: 'copper loss',
    unit: 'W',
    value: ({ copperLoss }) => copperLoss,
    shown: ({ copperLoss }) => <Quantity value={copperLoss} unit="W" digits={3} />,
  },
  {
    key: 'coreLoss',
    words: 'core loss',
    unit: 'W',
    value: ({ coreLoss }) => coreLoss,
    shown: ({ coreLoss }) => (coreLoss === undefined ? undefined : <Quantity value={coreLoss} unit="W" digits={3} />),
  },
  {
    key: 'volume',
    words: 'volume',
    unit: 'mm³',
    value: ({ volume }) => volume && volume / MM3,
    shown: ({ volume }) => (volume === undefined ? undefined : `${(volume / MM3).toFixed(0)} mm³`),
  },
];

/** A current and the limit it is held against. */
function Beside({ value, limit }: { readonly value: number; readonly limit: number | undefined }) {
  return (
    <>
      <Quantity value={value} unit="A" digits={3} /> /{' '}
      {limit === undefined ? 'not stated' : <Quantity value={limit} unit="A" digits={3} />}
    </>
  );
}

function CandidateTable({ candidates }: { readonly candidates: readonly InductorCandidate[] }) {
  const present = useSession((session) => session.document?.parts.inductor?.name);
  return (
    <DataTable
      words="Inductors that fit"
      rows={candidates}
      rowKey={({ part }) => part.name}
      columns={COLUMNS}
      picked={({ part }) => part.name === present}
      page={LISTED}
      act={({ part }) =>
        part.name === present ? (
          'chosen'
        ) : (
          <Button variant="plain" onClick={() => putInductor(part)}>
            Choose<span className="visually-hidden"> {part.name}</span>
          </Button>
        )
      }
    />
  );
}

/** The inductance of the present part against its current, with the peaks of the corners on it. */
function PresentCurve() {
  const inductor = useSession((session) => session.document?.parts.inductor);
  const corners = useSession((session) => session.worked?.corners);
  const chart = useMemo(() => {
    const curve = inductor && inductanceCurveOf(inductor);
    if (!curve) return undefined;
    const peaks = (corners ?? []).flatMap(({ point }) => (point ? [point.inductorCurrent.peak] : []));
    const end = Math.max(inductor.saturationCurrent ?? 0, ...peaks) * HEADROOM;
    const x = Array.from({ length: POINTS + 1 }, (_, i) => (end * i) / POINTS);
    const highest = Math.max(...peaks);
    return {
      x: { words: 'inductor current', unit: 'A', min: 0, max: end } as const,
      y: { words: 'inductance', unit: 'H', min: 0, max: inductor.inductance * HEADROOM } as const,
      curves: [{ words: '', x, y: x.map((current) => curve.inductance(current)), colour: '--trace-1', dash: [] }],
      marks: peaks.map((peak) => ({ x: peak, y: curve.inductance(peak), here: peak === highest })),
    };
  }, [inductor, corners]);
  if (!chart)
    return (
      <p className="quiet small">
        The inductance is taken as constant. Give the saturation current and the drop of the inductance there, or choose
        a part, and it falls with the current.
      </p>
    );
  return <CurveChart words="Inductance against current, with the peaks of the corners" {...chart} />;
}

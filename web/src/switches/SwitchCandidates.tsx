import { formatQuantity, SWITCH_MARGINS, SWITCH_WORDS, type SwitchCandidate, type SwitchPlace } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { useWorked } from '../engine/useWorked';
import { useParts } from '../library/useParts';
import { RejectedParts } from '../library/RejectedParts';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { Quantity } from '../shown/Quantity';
import { putPart } from '../stage/editing';
import { useSession } from '../stage/stageSession';
import { useWorkedStage } from '../stage/useCorner';
import { useLoadProfile } from './profile';

/** Candidates on a page. */
const LISTED = 10;
const factor = (text: string, otherwise: number): number => {
  const value = Number(text.replace(',', '.'));
  return Number.isFinite(value) && value > 0 ? value : otherwise;
};

/** The switches of the library ranked for a place. */
export function SwitchCandidates({ place }: { readonly place: SwitchPlace }) {
  const worked = useWorkedStage();
  const limit = useSession((session) => session.document?.targets.junctionTemperatureMax);
  const profile = useLoadProfile((state) => state.profile);
  const { parts, fault } = useParts('mosfet');
  const [margin, setMargin] = useState(String(SWITCH_MARGINS.voltage));
  const asked = useWorked(worked && parts && { ...worked, place, parts, profile, margin, limit }, (engine, question) =>
    engine.switchChoice(question.work, question.place, question.parts, question.profile, {
      voltage: factor(question.margin, SWITCH_MARGINS.voltage),
      junctionMax: question.limit ?? SWITCH_MARGINS.junctionMax,
    }),
  );
  return (
    <>
      <div className="corner-pick small">
        <label>
          Voltage rating at least <input size={4} value={margin} onChange={(event) => setMargin(event.target.value)} />{' '}
          times the highest, for ringing
        </label>
        <span className="quiet">
          Junction below {formatQuantity(limit ?? SWITCH_MARGINS.junctionMax, 'degC', 3)} at every corner.
        </span>
      </div>
      {fault !== undefined && (
        <p className="notice bad" role="alert">
          {fault}
        </p>
      )}
      <Answered
        of={asked}
        what="ranking of the switches"
        wait={<p className="quiet small">The library is being ranked …</p>}
      >
        {(found, question) => found && <Ranked found={found} place={question.place} />}
      </Answered>
    </>
  );
}

/** The switches that fit, least loss first, and those that do not with their reasons. */
function Ranked({ found, place }: { readonly found: readonly SwitchCandidate[]; readonly place: SwitchPlace }) {
  const fitting = found.filter(({ fits }) => fits);
  return (
    <>
      <p className="small quiet mb-1" role="status">
        {fitting.length} of {found.length} fit, least loss over the hours first: its own, and what its charges cost the
        other switch.
      </p>
      {fitting.length > 0 && <Ranking place={place} candidates={fitting} />}
      {fitting.length === 0 && <p>None of the library fits; the rejected ones say why.</p>}
      {fitting.length > 1 && <Trade place={place} candidates={fitting} />}
      <RejectedParts words="switches" rejected={found.filter(({ fits }) => !fits)} />
    </>
  );
}

const COLUMNS: readonly DataColumn<SwitchCandidate>[] = [
  { key: 'part', words: 'part', value: ({ part }) => part.name },
  { key: 'count', words: 'in parallel', unit: '', value: ({ count }) => count },
  {
    key: 'onResistance',
    words: 'on-resistance',
    unit: 'Ω',
    value: ({ part }) => part.onResistance,
    shown: ({ part }) => <Quantity value={part.onResistance} unit="ohm" digits={3} />,
  },
  {
    key: 'gateCharge',
    words: 'gate charge',
    unit: 'C',
    value: ({ part }) => part.gateCharge,
    shown: ({ part }) =>
      part.gateCharge === undefined ? undefined : <Quantity value={part.gateCharge} unit="C" digits={3} />,
  },
  {
    key: 'loss',
    words: 'loss',
    unit: 'W',
    value: ({ loss }) => loss,
    shown: ({ loss }) => <Quantity value={loss} unit="W" digits={3} />,
  },
  {
    key: 'conduction',
    words: 'conduction in it',
    unit: '',
    value: ({ loss, conduction }) => (loss > 0 ? conduction / loss : undefined),
    shown: ({ loss, conduction }) => (loss > 0 ? `${((100 * conduction) / loss).toFixed(0)} %` : undefined),
  },
  {
    key: 'junction',
    words: 'hottest junction',
    unit: '°C',
    value: ({ junction }) => (typeof junction === 'number' ? junction : undefined),
    shown: ({ junction }) => (typeof junction === 'number' ? formatQuantity(junction, 'degC', 3) : undefined),
  },
  {
    key: 'voltage',
    words: 'rated voltage',
    unit: 'V',
    folded: true,
    value: ({ part }) => part.drainSourceVoltageMax,
    shown: ({ part }) =>
      part.drainSourceVoltageMax === undefined ? undefined : (
        <Quantity value={part.drainSourceVoltageMax} unit="V" digits={3} />
      ),
  },
  {
    key: 'price',
    words: 'price',
    unit: '',
    value: ({ price }) => price,
    shown: ({ price }) => price?.toFixed(2),
  },
];

function Ranking({
  place,
  candidates,
}: {
  readonly place: SwitchPlace;
  readonly candidates: readonly SwitchCandidate[];
}) {
  const present = useSession((session) => session.document?.parts[place]?.name);
  return (
    <DataTable
      words="Switches that fit"
      rows={candidates}
      rowKey={({ part }) => part.name}
      columns={COLUMNS}
      picked={({ part }) => part.name === present}
      page={LISTED}
      act={({ part, count }) =>
        part.name === present ? (
          'chosen'
        ) : (
          <Button variant="plain" onClick={() => putPart(['parts', place], count > 1 ? { ...part, count } : part)}>
            Choose<span className="visually-hidden"> {part.name}</span>
          </Button>
        )
      }
    />
  );
}

const ROOM = 1.4;
/** Closer than this, as a ratio's logarithm, two labels would lie on each other. */
const NEAR = 0.25;

/** On-resistance against gate charge: the candidates, the frontier no part beats in both, and the present choice. */
function Trade({
  place,
  candidates,
}: {
  readonly place: SwitchPlace;
  readonly candidates: readonly SwitchCandidate[];
}) {
  const present = useSession((session) => session.document?.parts[place]);
  const chart = useMemo(() => {
    const known = candidates.filter(({ part }) => part.gateCharge !== undefined && part.onResistance > 0);
    const resistances = known.map(({ part }) => part.onResistance);
    const charges = known.map(({ part }) => part.gateCharge ?? 0);
    const { onResistance = 0, gateCharge = 0 } = present ?? {};
    const frontier = known
      .filter(({ onFrontier }) => onFrontier)
      .sort((a, b) => a.part.onResistance - b.part.onResistance);
    const [best] = candidates;
    const beside = (part: SwitchCandidate['part']): boolean =>
      Math.abs(Math.log(part.onResistance / onResistance)) < NEAR &&
      Math.abs(Math.log((part.gateCharge ?? 1) / gateCharge)) < NEAR;
    return {
      x: {
        words: 'gate charge',
        unit: 'C',
        min: Math.min(...charges, gateCharge || Infinity) / ROOM,
        max: Math.max(...charges, gateCharge) * ROOM,
        logarithmic: true,
      } as const,
      y: {
        words: 'on-resistance',
        unit: 'ohm',
        min: Math.min(...resistances, onResistance || Infinity) / ROOM,
        max: Math.max(...resistances, onResistance) * ROOM,
        logarithmic: true,
      } as const,
      curves: [
        {
          words: '',
          x: frontier.map(({ part }) => part.gateCharge ?? 0),
          y: frontier.map(({ part }) => part.onResistance),
          colour: '--trace-1',
          dash: [4, 3],
        },
      ],
      marks: [
        ...known.map(({ part }) => ({
          x: part.gateCharge ?? 0,
          y: part.onResistance,
          here: false,
          ...(part.name === best?.part.name && !beside(part) && { label: 'least loss' }),
        })),
        ...(gateCharge > 0 && onResistance > 0
          ? [{ x: gateCharge, y: onResistance, here: true, label: 'present' }]
          : []),
      ],
    };
  }, [candidates, present]);
  return (
    <CurveChart
      words="On-resistance against gate charge of the switches that fit"
      {...chart}
      of={SWITCH_WORDS[place]}
    />
  );
}

import {
  bankOf,
  formatQuantity,
  type AppliedForm,
  type BankStress,
  type CapacitorCandidate,
  type CapacitorNeeds,
  type InputFilterCheck,
} from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import type { CapacitorChoice, CapacitorSide } from '../engine/engine';
import { useSurvey } from '../engine/useSurvey';
import { useWorked } from '../engine/useWorked';
import { useParts } from '../library/useParts';
import { RejectedParts } from '../library/RejectedParts';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { Quantity } from '../shown/Quantity';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { CapacitorBanks } from './CapacitorBanks';
import { CornerWords } from './CornerFigures';
import { putPart } from './editing';
import { RipplePicture } from './RipplePicture';
import { useWorkedStage } from './useCorner';
import { FormView } from './FormView';

const SIDES: readonly { readonly view: CapacitorSide; readonly words: string }[] = [
  { view: 'outputCapacitors', words: 'Output' },
  { view: 'inputCapacitors', words: 'Input' },
];
const KINDS = ['ceramic', 'polymer', 'electrolytic', 'film', 'tantalum'] as const;
/** Candidates on a page. */
const LISTED = 10;
const YEAR = 365.25 * 24 * 3600;

/** The capacitors: what is needed and why, how the banks share their current, and what the library has. */
export function CapacitorsStation() {
  const [side, setSide] = useState<CapacitorSide>('outputCapacitors');
  const worked = useWorkedStage();
  const { parts, fault } = useParts('capacitor');
  const asked = useWorked(worked && parts && { ...worked, parts, side }, (engine, question) =>
    engine.capacitorChoice(question.work, question.side, question.parts),
  );
  return (
    <Station
      title="Capacitors"
      says={<CornerWords />}
      views={<ViewPick what="Side" views={SIDES} shown={side} onPick={setSide} />}
      fields={<CapacitorBanks side={side} />}
      picture={
        <>
          <RipplePicture side={side} />
          <Answered
            of={asked}
            what="answer on the capacitors"
            wait={<p className="quiet small">The needs are being worked …</p>}
          >
            {(choice, question) =>
              choice && (
                <>
                  <BankCurrents stresses={choice.stresses} />
                  <Needs needs={choice.needs} />
                  {question.side === 'inputCapacitors' && <InputRmsPeak />}
                  {choice.filter && <FilterCheck check={choice.filter} />}
                </>
              )
            }
          </Answered>
        </>
      }
    >
      <h2 className="mt-3">From the library</h2>
      {fault !== undefined && (
        <p className="notice bad" role="alert">
          {fault}
        </p>
      )}
      <Answered
        of={asked}
        what="choice of capacitors"
        wait={<p className="quiet small">The library is being gone through …</p>}
      >
        {(choice, question) => choice && <Candidates side={question.side} candidates={choice.candidates} />}
      </Answered>
      <p className="quiet small mt-2">
        Electrolytic, polymer and tantalum parts have a polarity: reversed they can burst. Tantalum parts can burn at a
        surge of current; on an input that is plugged in live leave them out. Ceramics with long leads ring at hot
        plugging, to about twice the input voltage. Life doubles per 10 K less (common rule), claims end at 15 years.
      </p>
    </Station>
  );
}

/** The parts that fit as the only bank, and those that do not with their reasons. */
function Candidates({ side, candidates }: { readonly side: CapacitorSide } & Pick<CapacitorChoice, 'candidates'>) {
  const [kind, setKind] = useState('');
  const ofKind = candidates.filter(({ part }) => kind === '' || part.kind === kind);
  const fitting = ofKind.filter(({ fits }) => fits);
  return (
    <>
      <div className="corner-pick">
        <label>
          Kind{' '}
          <select value={kind} aria-label="Kind of capacitor" onChange={(event) => setKind(event.target.value)}>
            <option value="">any</option>
            {KINDS.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        <span className="quiet small" role="status">
          {fitting.length} of {ofKind.length} fit as the only bank, cheapest first; capacitance at the bias and the low
          end of its tolerance.
        </span>
      </div>
      {fitting.length > 0 ? (
        <CandidateTable side={side} candidates={fitting} />
      ) : (
        <p>None of the library fits by itself; the rejected ones say why.</p>
      )}
      <RejectedParts words="capacitors" rejected={ofKind.filter(({ fits }) => !fits)} />
    </>
  );
}

/** What asks for capacitance, the largest need first in weight. */
function Needs({ needs }: { readonly needs: CapacitorNeeds }) {
  return (
    <table className="plain" aria-label="What is needed">
      <thead>
        <tr>
          <th>what asks for it</th>
          <th className="number">how much, at the bias</th>
          <th>
            <span className="visually-hidden">what can be done</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {needs.needs.map(({ why, form }) => (
          <FormRow key={why} words={why} form={form} strong={form.value === needs.capacitance} />
        ))}
        {needs.edges && <FormRow words={lowered(needs.edges.name)} form={needs.edges} />}
        <tr>
          <td>ESR of all together, at which it alone makes the ripple of {formatQuantity(needs.ripple, 'V', 3)}</td>
          <td className="number">
            <Quantity value={needs.esrMax} unit="ohm" digits={3} />
          </td>
          <td />
        </tr>
        <tr>
          <td>RMS current of all together, highest of the corners</td>
          <td className="number">
            <Quantity value={needs.rms} unit="A" digits={3} />
          </td>
          <td />
        </tr>
      </tbody>
    </table>
  );
}

const lowered = (words: string): string => words.charAt(0).toLowerCase() + words.slice(1);

/** A line of the needs, which opens its working. */
function FormRow({
  words,
  form,
  strong = false,
}: {
  readonly words: string;
  readonly form: AppliedForm;
  readonly strong?: boolean;
}) {
  const [open, setOpen] = useState(false);
  const quantity = <Quantity value={form.value} unit={form.unit} digits={3} />;
  return (
    <>
      <tr>
        <td>{words}</td>
        <td className="number">{strong ? <b>{quantity}</b> : quantity}</td>
        <td>
          <Button variant="plain" aria-expanded={open} onClick={() => setOpen(!open)}>
            Working<span className="visually-hidden"> of {words}</span>
          </Button>
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={3}>
            <FormView form={form} />
          </td>
        </tr>
      )}
    </>
  );
}

/** Above this share of the input resistance a filter is too close for comfort. Common practice: a third, 10 dB. */
const COMFORT = 1 / 3;

/** The input filter against the input resistance of the stage. */
function FilterCheck({ check: { forms, share } }: { readonly check: InputFilterCheck }) {
  return (
    <details className="mt-1">
      <summary>
        Input filter: where they come nearest, its impedance is {(100 * share).toFixed(0)} % of that of the stage
        {share > COMFORT ? '; damp it more, it may oscillate with the loop' : ', well below it'}
      </summary>
      {forms.map((form) => (
        <FormView key={form.name} form={form} />
      ))}
    </details>
  );
}

/** Where inside the input range the input capacitors carry most. */
function InputRmsPeak() {
  const asked = useSurvey(useWorkedStage(), (survey, { stage }) => survey.inputRmsPeak(stage));
  return (
    <Answered
      of={asked}
      what="worst input voltage"
      wait={<p className="small quiet">The worst input voltage inside the range is being looked for …</p>}
    >
      {(found) =>
        found && (
          <p className="small mb-1" data-testid="input-rms-peak">
            Over the whole input range the RMS current is highest at {formatQuantity(found.inputVoltage, 'V', 3)}:{' '}
            {formatQuantity(found.rms, 'A', 3)}, at a duty ratio of {found.duty.toFixed(3)}.
          </p>
        )
      }
    </Answered>
  );
}

const years = (life: number | undefined): string => (life === undefined ? '–' : `${(life / YEAR).toFixed(1)} years`);
const percent = (share: number | undefined): string => (share === undefined ? '–' : `${(100 * share).toFixed(0)} %`);

/** How the banks of one side share the RMS current, each at its own worst corner, against its rating. */
function BankCurrents({ stresses }: { readonly stresses: readonly BankStress[] }) {
  if (stresses.length === 0) return null;
  return (
    <table className="plain mt-2" aria-label="Current of the banks">
      <thead>
        <tr>
          <th>bank</th>
          <th className="number">RMS at its worst corner</th>
          <th className="number">each part</th>
          <th className="number">of its ripple rating</th>
          <th className="number">heat in its ESR, each</th>
          <th className="number">life</th>
        </tr>
      </thead>
      <tbody>
        {stresses.map(({ bank, rms, rmsEach, ratingShare, heatEach, life }, j) => (
          <tr key={`${bank.kind}${String(j)}`}>
            <td>
              {j + 1}: {bank.count} × {formatQuantity(bank.capacitance, 'F', 3)} {bank.kind}
            </td>
            <td className="number">
              <Quantity value={rms} unit="A" digits={3} />
            </td>
            <td className="number">
              <Quantity value={rmsEach} unit="A" digits={3} />
            </td>
            <td className="number">{ratingShare === undefined ? 'not stated' : percent(ratingShare)}</td>
            <td className="number">
              <Quantity value={heatEach} unit="W" digits={3} />
            </td>
            <td className="number">{years(life)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const CANDIDATES: readonly DataColumn<CapacitorCandidate>[] = [
  { key: 'part', words: 'part', value: ({ part }) => part.name },
  { key: 'kind', words: 'kind', value: ({ part }) => part.kind },
  { key: 'count', words: 'in parallel', unit: '', value: ({ count }) => count },
  { key: 'decidedBy', words: 'for its', value: ({ decidedBy }) => decidedBy },
  {
    key: 'capacitance',
    words: 'capacitance',
    unit: 'F',
    value: ({ capacitance }) => capacitance,
    shown: ({ capacitance }) => <Quantity value={capacitance} unit="F" digits={3} />,
  },
  {
    key: 'esr',
    words: 'ESR',
    unit: 'ohm',
    value: ({ esr }) => esr,
    shown: ({ esr }) => <Quantity value={esr} unit="ohm" digits={3} />,
  },
  {
    key: 'rippleShare',
    words: 'of its ripple rating',
    unit: '',
    value: ({ rippleShare }) => rippleShare,
    shown: ({ rippleShare }) => percent(rippleShare),
  },
  { key: 'life', words: 'life', unit: 's', value: ({ life }) => life, shown: ({ life }) => years(life) },
  {
    key: 'price',
    words: 'price',
    unit: '',
    value: ({ price }) => price,
    shown: ({ price }) => price?.toFixed(2),
  },
];

function CandidateTable({
  side,
  candidates,
}: {
  readonly side: CapacitorSide;
  readonly candidates: readonly CapacitorCandidate[];
}) {
  return (
    <DataTable
      words="Capacitors that fit"
      rows={candidates}
      rowKey={({ part }) => part.name}
      columns={CANDIDATES}
      page={LISTED}
      act={(candidate) => (
        <Button variant="plain" onClick={() => putPart(['parts', side], [bankOf(candidate)])}>
          Choose<span className="visually-hidden"> {candidate.part.name}</span>
        </Button>
      )}
    />
  );
}

import { FIGURES_ARE, formatQuantity, type Objective, type Stage } from '@yundro/core';
import { Button } from 'react-bootstrap';
import type { ProposedDesign } from '../engine/designSurvey';
import { LeftOut } from '../stage/LeftOut';
import { refusedTexts, useSession } from '../stage/stageSession';
import { lazy, Suspense } from 'react';
import { askDesign, takeDesign, useDesigning } from './designing';
import { OBJECTIVE_WORDS, standing } from './proposalWords';

// With the charts and the table library, which a first visit does without.
const DraftPicture = lazy(async () => ({ default: (await import('./DraftPicture')).DraftPicture }));
const DraftTable = lazy(async () => ({ default: (await import('./DraftTable')).DraftTable }));

/** A part in few words: its name, or its value where it has none, and how many. */
const inWords = (
  part: { readonly name?: string | undefined; readonly count?: number | undefined } | undefined,
  value: string,
) =>
  part === undefined
    ? '—'
    : `${part.count !== undefined && part.count > 1 ? `${String(part.count)} × ` : ''}${part.name ?? value}`;

/** The parts of a stage, one line for each place that is chosen. */
function partLines({ switchingFrequency, parts, deadTime, control }: Stage): readonly (readonly [string, string])[] {
  const banks = (of: Stage['parts']['outputCapacitors']): string =>
    (of ?? []).map((bank) => inWords(bank, formatQuantity(bank.capacitance, 'F', 3))).join(' + ') || '—';
  const switches = [
    ['High side', parts.highSide],
    ['Low side', parts.lowSide],
    ['Output high side', parts.outputHighSide],
    ['Output low side', parts.outputLowSide],
  ] as const;
  return [
    ['Switching frequency', switchingFrequency === undefined ? '—' : formatQuantity(switchingFrequency, 'Hz', 3)],
    ['Inductor', inWords(parts.inductor, formatQuantity(parts.inductor?.inductance ?? NaN, 'H', 3))],
    ...switches.map(
      ([words, part]) => [words, inWords(part, formatQuantity(part?.onResistance ?? NaN, 'ohm', 3))] as const,
    ),
    ['Diode', inWords(parts.diode, formatQuantity(parts.diode?.forwardVoltage ?? NaN, 'V', 3))],
    ['Output capacitors', banks(parts.outputCapacitors)],
    ['Input capacitors', banks(parts.inputCapacitors)],
    ['Dead time', formatQuantity(deadTime, 's', 3)],
    ['Current limit', control.currentLimit === undefined ? '—' : formatQuantity(control.currentLimit, 'A', 3)],
    ['Controller', control.controller ?? '—'],
  ];
}

/** A design proposed from records, beside the present one: what it is made of, what it misses, its rivals, and the way to take it. */
export function DesignProposal() {
  const answer = useDesigning((state) => state.answer);
  const document = useSession((session) => session.document);
  const refused = useSession(refusedTexts);
  if (!answer || !document) return null;
  if (answer.value.kind === 'none')
    return (
      <section aria-label="Design from records" className="mt-3">
        <h2>Design from records</h2>
        <p>
          There is none: {answer.value.reason}{' '}
          <Button variant="plain" onClick={() => askDesign()}>
            Try again
          </Button>
        </p>
      </section>
    );
  const stands = document === answer.to.of;
  const taken = document === answer.value.stage;
  return (
    <section aria-label="Design from records" className="mt-3">
      <h2>Design from records</h2>
      {!stands && !taken && (
        <p role="status">
          The stage has changed since: this is of its targets before.{' '}
          <Button variant="plain" onClick={() => askDesign()}>
            Design it again
          </Button>
        </p>
      )}
      {refused.length > 0 && (
        <p className="quiet">
          It is of the design: {refused.map(({ text }) => `“${text}”`).join(', ')} stands refused in a field and is not
          in it.
        </p>
      )}
      <div className={stands || taken ? undefined : 'stale'}>
        <Verdict of={answer.value} objective={answer.to.objective} />
        <Comparison before={answer.to.of} design={answer.value} />
        {taken && <p className="quiet">Taken: undo brings back what was before.</p>}
        {stands && (
          <Button variant="primary" size="sm" className="mt-2" onClick={takeDesign}>
            Take this design
          </Button>
        )}
        <Reasons of={answer.value} />
      </div>
    </section>
  );
}

/** Whether every part states its size and its price: without them board and price would look too small. */
function statesSizes({ parts, rectifier }: Stage): boolean {
  const { inductor, highSide, lowSide, outputHighSide, outputLowSide, diode } = parts;
  const banks = [...(parts.outputCapacitors ?? []), ...(parts.inputCapacitors ?? [])];
  const all = [inductor, highSide, lowSide, outputHighSide, outputLowSide, rectifier === 'diode' ? diode : undefined];
  return [...all, ...banks].every(
    (part) => part === undefined || (part.length !== undefined && part.width !== undefined && part.price !== undefined),
  );
}

/** Whether every target holds, and what would have to be given. */
function Verdict({ of, objective }: { readonly of: ProposedDesign; readonly objective: Objective }) {
  const { stage, nearest, noController, figures, notIncluded } = of;
  const sized = statesSizes(stage);
  const write = (value: number | string): string =>
    typeof value === 'number' ? String(Number(value.toPrecision(4))) : value;
  return (
    <>
      <p>
        <b>{standing(of)}</b> Chosen for {OBJECTIVE_WORDS[objective]}: {formatQuantity(figures.loss, 'W', 3)} lost at
        nominal input and full load
        {sized
          ? `, ${(figures.area * 1e4).toFixed(2)} cm² under its parts, ${figures.price.toFixed(2)} in the currency of the library.`
          : '; parts that are kept state no size or price, so board and price are not known.'}
        {noController !== undefined && ` Controller: ${noController}`}
      </p>
      <LeftOut of={notIncluded} />
      {nearest.length > 0 && (
        <>
          <p className="mb-0">What would have to be given, one of these for each that is missed, in SI units:</p>
          <ul>
            {nearest.map(({ target, words, from, to }) => (
              <li key={`${target} ${String(to)}`}>
                {words}: {write(to)} in place of {write(from)}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function Comparison({ before, design }: { readonly before: Stage; readonly design: ProposedDesign }) {
  const was = new Map(partLines(before));
  const lines = partLines(design.stage).filter(([words, now]) => now !== '—' || was.get(words) !== '—');
  return (
    <table className="plain" aria-label="Parts of the proposed design">
      <thead>
        <tr>
          <th>Place</th>
          <th>Was</th>
          <th>Proposed</th>
        </tr>
      </thead>
      <tbody>
        {lines.map(([words, now]) => (
          <tr key={words}>
            <td>{words}</td>
            <td className="quiet">{was.get(words)}</td>
            <td>{now === was.get(words) ? 'as it is' : now}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Why each value, and what came near. */
function Reasons({ of }: { readonly of: ProposedDesign }) {
  const { choices, drafts } = of;
  const sized = statesSizes(of.stage);
  return (
    <>
      {drafts.length > 0 && (
        <Suspense>
          {sized && <DraftPicture of={of} />}
          <DraftTable drafts={drafts} sized={sized} />
        </Suspense>
      )}
      <details>
        <summary>Why each value: {choices.length} choices</summary>
        <p className="quiet">{FIGURES_ARE}</p>
        <ul>
          {choices.map(({ path, quantity, rule }) => (
            <li key={path}>
              <b>{quantity}</b>: {rule}
            </li>
          ))}
        </ul>
      </details>
    </>
  );
}

import type { Choice, Procedure } from '@yundro/core';
import { UNITS } from '@yundro/core';
import { useEffect, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useSurvey } from '../engine/useSurvey';
import { Failed } from '../shown/Answered';
import { Quantity } from '../shown/Quantity';
import { putPart } from '../stage/editing';
import { useSession } from '../stage/stageSession';

/** Asks for a compensator that holds its margins at every corner, and takes it over. */
export function Proposal({ scheme }: { readonly scheme: string }) {
  const stage = useSession((session) => session.worked?.stage);
  const [asked, setAsked] = useState<{ readonly stage: NonNullable<typeof stage>; readonly procedure: Procedure }>();
  const [taken, setTaken] = useState<{ readonly choices: readonly Choice[]; readonly holds: boolean }>();
  // Until an edit is worked the stage is that of before it.
  const stale = useSession((session) => session.stale);
  const [refused, setRefused] = useState<string>();
  const worked = useSurvey(asked, async (survey, question) => {
    const found = await survey.proposeLoop(withoutComponents(question.stage), question.procedure);
    setAsked(undefined);
    if (typeof found === 'string') {
      setRefused(found);
      return;
    }
    // What was typed while it was worked stands.
    const typed = useSession.getState().document?.control;
    if (JSON.stringify(typed) !== JSON.stringify(question.stage.control)) {
      setRefused('the control was edited while it was worked; ask again');
      return;
    }
    setRefused(putPart(['control'], found.control));
    setTaken({ choices: found.choices, holds: found.holds });
  });
  const { failure } = worked;
  const ready = stage !== undefined && !stale && asked === undefined;
  const outcome = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // What came of it is where the work goes on.
    if (taken || refused !== undefined) outcome.current?.focus({ preventScroll: true });
  }, [taken, refused]);
  return (
    <section aria-label="Proposal" className="mt-2">
      {proposalsOf(scheme).map(({ procedure, words, title }, k) => (
        <Button
          key={procedure}
          variant={k === 0 ? 'primary' : 'outline-secondary'}
          className="w-100 mb-1"
          aria-disabled={!ready}
          title={title}
          onClick={() => {
            if (!stage || !ready) return;
            setTaken(undefined);
            setRefused(undefined);
            setAsked({ stage, procedure });
          }}
        >
          {asked?.procedure === procedure && !failure ? 'Working …' : words}
        </Button>
      ))}
      {asked && (
        <Button
          variant="plain"
          onClick={() => {
            setAsked(undefined);
            outcome.current?.focus();
          }}
        >
          Stop
        </Button>
      )}
      {failure && <Failed what="proposal" sentence={failure.sentence} retry={worked.retry} />}
      <div ref={outcome} tabIndex={-1}>
        {refused !== undefined && <p className="quiet small">None is proposed: {refused}.</p>}
        {taken && (
          <details>
            <summary className="small quiet">
              {taken.holds
                ? 'Its margins hold at every corner. What was chosen, and why'
                : 'The best that was found; it misses a margin. What was chosen, and why'}
            </summary>
            <table className="plain small" aria-label="Chosen for the loop">
              <tbody>
                {taken.choices.map(({ path, quantity, value, unit, rule }) => (
                  <tr key={path}>
                    <td>{quantity}</td>
                    <td className="number">
                      {UNITS[unit].symbol === '' ? value : <Quantity value={value} unit={unit} digits={3} />}
                    </td>
                    <td className="quiet">{rule}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </details>
        )}
      </div>
    </section>
  );
}

/** What can be proposed for a scheme. */
function proposalsOf(
  scheme: string,
): readonly { readonly procedure: Procedure; readonly words: string; readonly title: string }[] {
  if (scheme === 'constant-on-time')
    return [
      {
        procedure: 'k-factor',
        words: 'Propose a ripple injection',
        title: 'A network that makes the ripple the comparator needs, where the ESR makes too little',
      },
    ];
  if (scheme === 'digital')
    return [
      {
        procedure: 'k-factor',
        words: 'Propose gains',
        title: 'As high a crossover as the margins allow at every corner, delay and sampling counted',
      },
    ];
  return [
    {
      procedure: 'k-factor',
      words: 'Propose a compensator',
      title: 'By the K factor: as high a crossover as the margins allow at every corner, from preferred values',
    },
    {
      procedure: 'highest-crossover',
      words: 'Search the highest crossover',
      title: 'Zeros, poles and gain searched for the highest crossover that keeps the margins at every corner',
    },
  ];
}

/** A new proposal keeps network, amplifier and divider, and chooses the rest anew. */
function withoutComponents<T extends NonNullable<ReturnType<typeof useSession.getState>['document']>>(stage: T): T {
  const { compensator, digital, ...control } = stage.control;
  if (control.scheme === 'digital') {
    const delay = digital?.delay;
    return { ...stage, control: { ...stage.control, digital: delay === undefined ? undefined : { delay } } };
  }
  if (!compensator) return stage;
  const { rUpper, rLower } = compensator.components;
  const components = { ...(rUpper !== undefined && { rUpper }), ...(rLower !== undefined && { rLower }) };
  return { ...stage, control: { ...stage.control, compensator: { ...compensator, components } } };
}

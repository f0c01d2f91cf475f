import type { Choice } from '@yundro/core';
import { UNITS } from '@yundro/core';
import type { Remote } from 'comlink';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { ChoiceField } from '../fields/ChoiceField';
import { QuantityField } from '../fields/QuantityField';
import { Quantity } from '../shown/Quantity';
import { putPart, useSession } from '../stage/stageSession';

const SCHEMES = [
  { value: 'voltage-mode', words: 'voltage mode' },
  { value: 'voltage-mode-feedforward', words: 'voltage mode, feed-forward' },
  { value: 'peak-current-mode', words: 'peak current mode' },
  { value: 'constant-on-time', words: 'constant on-time' },
  { value: 'open-loop', words: 'open loop' },
];
const NETWORKS = [
  { value: 'type-2', words: 'type 2' },
  { value: 'type-3', words: 'type 3' },
  { value: 'integrator', words: 'integrator' },
];
const AMPLIFIERS = [
  { value: 'op-amp', words: 'op-amp' },
  { value: 'ota', words: 'transconductance' },
];
/** A transconductance amplifier to begin with: common values of controllers. */
const FIRST_OTA = { kind: 'ota', transconductance: 1e-3, outputResistance: 1e6 };

/** Modulator, amplifier and components of the loop, and a compensator proposed on demand. */
export function LoopFields() {
  const control = useSession((session) => session.document?.control);
  if (!control) return null;
  const { scheme, compensator } = control;
  const part = (key: string) => ['control', 'compensator', 'components', key] as const;
  return (
    <>
      {scheme !== 'constant-on-time' && <Proposal />}
      <div className="columns mt-2">
        <fieldset>
          <legend>Modulator</legend>
          <ChoiceField path={['control', 'scheme']} label="Scheme" choices={SCHEMES} />
          <QuantityField path={['control', 'reference']} label="Reference" optional />
          {scheme.startsWith('voltage-mode') && (
            <QuantityField path={['control', 'rampAmplitude']} label="Ramp, peak to peak" optional />
          )}
          {scheme === 'constant-on-time' && <QuantityField path={['control', 'onTime']} label="On-time" />}
          {scheme === 'peak-current-mode' && (
            <>
              <QuantityField path={['control', 'currentSenseGain']} label="Current sense" optional />
              <QuantityField path={['control', 'slopeCompensation']} label="Slope compensation" />
            </>
          )}
        </fieldset>
        {compensator && (
          <>
            <fieldset>
              <legend>Compensator</legend>
              <ChoiceField path={['control', 'compensator', 'network']} label="Network" choices={NETWORKS} />
              <div className="field">
                <label htmlFor="amplifier-kind">Amplifier</label>
                <div className="entry">
                  <select
                    id="amplifier-kind"
                    className="pick"
                    value={compensator.amplifier.kind}
                    onChange={(event) =>
                      putPart(
                        ['control', 'compensator', 'amplifier'],
                        event.target.value === 'ota' ? FIRST_OTA : { kind: 'op-amp' },
                      )
                    }
                  >
                    {AMPLIFIERS.map(({ value, words }) => (
                      <option key={value} value={value}>
                        {words}
                      </option>
                    ))}
                  </select>
                </div>
              </div>
              {compensator.amplifier.kind === 'ota' ? (
                <>
                  <QuantityField
                    path={['control', 'compensator', 'amplifier', 'transconductance']}
                    label="Transconductance"
                  />
                  <QuantityField
                    path={['control', 'compensator', 'amplifier', 'outputResistance']}
                    label="Output resistance"
                  />
                </>
              ) : (
                <>
                  <QuantityField
                    path={['control', 'compensator', 'amplifier', 'openLoopGain']}
                    label="Open-loop gain"
                    optional
                  />
                  <QuantityField
                    path={['control', 'compensator', 'amplifier', 'gainBandwidth']}
                    label="Gain bandwidth"
                    optional
                  />
                </>
              )}
            </fieldset>
            <fieldset>
              <legend>Components</legend>
              <QuantityField path={part('rUpper')} label="Upper divider" optional series="E96" />
              <QuantityField path={part('rLower')} label="Lower divider" optional series="E96" />
              {compensator.network !== 'integrator' && (
                <QuantityField path={part('rZero')} label="Zero resistor" optional series="E24" />
              )}
              <QuantityField path={part('cZero')} label="Zero capacitor" optional series="E12" />
              {compensator.network !== 'integrator' && (
                <QuantityField path={part('cPole')} label="Pole capacitor" optional series="E12" />
              )}
              {compensator.network === 'type-3' && (
                <>
                  <QuantityField path={part('rFeedforward')} label="Feed-forward resistor" optional series="E24" />
                  <QuantityField path={part('cFeedforward')} label="Feed-forward capacitor" optional series="E12" />
                </>
              )}
            </fieldset>
          </>
        )}
      </div>
    </>
  );
}

/** Asks for a compensator that holds its margins at every corner, and takes it over. */
function Proposal() {
  const stage = useSession((session) => session.worked?.stage);
  const [asked, setAsked] = useState<typeof stage>();
  const [taken, setTaken] = useState<{ readonly choices: readonly Choice[]; readonly holds: boolean }>();
  const [refused, setRefused] = useState<string>();
  const ask = useMemo(
    () =>
      asked &&
      (async (survey: Remote<Survey>): Promise<void> => {
        const found = await survey.proposeLoop(withoutComponents(asked));
        setAsked(undefined);
        if (typeof found === 'string') {
          setRefused(found);
          return;
        }
        setRefused(putPart(['control'], found.control));
        setTaken({ choices: found.choices, holds: found.holds });
      }),
    [asked],
  );
  useSurvey(ask);
  return (
    <section aria-label="Proposal" className="mt-2">
      <Button
        variant="plain"
        disabled={!stage || asked !== undefined}
        title="As high a crossover as the margins allow at every corner, from preferred values"
        onClick={() => {
          setTaken(undefined);
          setRefused(undefined);
          setAsked(stage);
        }}
      >
        {asked ? 'Working a compensator …' : 'Propose a compensator'}
      </Button>
      {asked && (
        <Button variant="plain" onClick={() => setAsked(undefined)}>
          Stop
        </Button>
      )}
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
    </section>
  );
}

/** A new proposal keeps network, amplifier and divider, and chooses the rest anew. */
function withoutComponents<T extends NonNullable<ReturnType<typeof useSession.getState>['document']>>(stage: T): T {
  const { compensator } = stage.control;
  if (!compensator) return stage;
  const { rUpper, rLower } = compensator.components;
  const components = { ...(rUpper !== undefined && { rUpper }), ...(rLower !== undefined && { rLower }) };
  return { ...stage, control: { ...stage.control, compensator: { ...compensator, components } } };
}

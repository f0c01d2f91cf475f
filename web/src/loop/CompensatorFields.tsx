import type { Stage } from '@yundro/core';
import { ChoiceField } from '../fields/ChoiceField';
import { QuantityField } from '../fields/QuantityField';
import { putPart } from '../stage/editing';

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

/** Network, amplifier and components of a compensator. */
export function CompensatorFields({
  compensator,
}: {
  readonly compensator: NonNullable<Stage['control']['compensator']>;
}) {
  const part = (key: string) => ['control', 'compensator', 'components', key] as const;
  return (
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
              without="ideal"
            />
            <QuantityField
              path={['control', 'compensator', 'amplifier', 'gainBandwidth']}
              label="Gain bandwidth"
              optional
              without="ideal"
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
  );
}

import { SEQUENCE_LIMITS, type SequenceStep, type Unit } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { InlineQuantity } from '../fields/InlineQuantity';
import { namedStep, setSequence, type NamedStep } from './sequences';

const KINDS: readonly {
  readonly what: SequenceStep['what'];
  readonly words: string;
  readonly unit: Unit | undefined;
  readonly moves: boolean;
}[] = [
  { what: 'load', words: 'load current to', unit: 'A', moves: true },
  { what: 'line', words: 'input voltage to', unit: 'V', moves: true },
  { what: 'short', words: 'short of the output by', unit: 'ohm', moves: false },
  { what: 'release', words: 'short taken away', unit: undefined, moves: false },
];
/** After the last step a new one comes so much later, s. */
const LATER = 50e-6;

interface Props {
  readonly id: string;
  readonly steps: readonly NamedStep[];
  /** Load and input at the corner looked at: what a new step begins from. */
  readonly outputCurrent: number;
  readonly inputVoltage: number;
}

/** The time line of a sequence: what goes where, when, and how fast. */
export function SequenceEditor({ id, steps, outputCurrent, inputVoltage }: Props) {
  const put = (next: readonly NamedStep[]): void => setSequence(id, next);
  const change = (step: NamedStep, by: Partial<SequenceStep>): void =>
    put(steps.map((one) => (one.id === step.id ? { ...one, ...by } : one)));
  const usual: Readonly<Record<SequenceStep['what'], number>> = {
    load: outputCurrent / 2,
    line: inputVoltage,
    short: 0.01,
    release: 0,
  };
  const add = (): void => {
    const last = steps.at(-1);
    put([...steps, namedStep({ at: last ? last.at + LATER : 0, what: 'load', to: last ? outputCurrent : usual.load })]);
  };
  return (
    <section aria-label="Sequence" className="mb-2">
      <table className="plain small" aria-label="Steps of the sequence">
        <thead>
          <tr>
            <th>at</th>
            <th>what</th>
            <th>value</th>
            <th>within</th>
            <th>
              <span className="visually-hidden">remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {steps.map((step, k) => {
            const kind = KINDS.find(({ what }) => what === step.what);
            const name = `step ${String(k + 1)}`;
            return (
              <tr key={step.id}>
                <td>
                  <InlineQuantity
                    label={`Time of ${name}`}
                    unit="s"
                    value={step.at}
                    onTake={(at) => change(step, { at })}
                  />
                </td>
                <td>
                  <select
                    className="pick"
                    aria-label={`What ${name} is`}
                    value={step.what}
                    onChange={(event) => {
                      const next = KINDS.find(({ what }) => what === event.target.value)?.what;
                      if (next) change(step, { what: next, to: usual[next], within: undefined });
                    }}
                  >
                    {KINDS.map(({ what, words }) => (
                      <option key={what} value={what}>
                        {words}
                      </option>
                    ))}
                  </select>
                </td>
                <td>
                  {kind?.unit && (
                    <InlineQuantity
                      label={`Value of ${name}`}
                      unit={kind.unit}
                      value={step.to}
                      onTake={(to) => change(step, { to })}
                    />
                  )}
                </td>
                <td>
                  {kind?.moves === true && (
                    <InlineQuantity
                      label={`Duration of ${name}`}
                      unit="s"
                      value={step.within ?? 0}
                      onTake={(within) => change(step, { within: within > 0 ? within : undefined })}
                    />
                  )}
                </td>
                <td>
                  <button
                    type="button"
                    className="link"
                    aria-label={`Remove ${name}`}
                    onClick={() => put(steps.filter((one) => one.id !== step.id))}
                  >
                    remove
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {steps.length < SEQUENCE_LIMITS.steps && (
        <Button variant="plain" onClick={add}>
          Add a step
        </Button>
      )}
    </section>
  );
}

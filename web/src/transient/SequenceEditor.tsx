import {
  formatQuantity,
  parseQuantity,
  problemsSentence,
  SEQUENCE_LIMITS,
  type SequenceStep,
  type Unit,
} from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
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
                  <Number label={`Time of ${name}`} unit="s" value={step.at} onTake={(at) => change(step, { at })} />
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
                    <Number
                      label={`Value of ${name}`}
                      unit={kind.unit}
                      value={step.to}
                      onTake={(to) => change(step, { to })}
                    />
                  )}
                </td>
                <td>
                  {kind?.moves === true && (
                    <Number
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

interface NumberProps {
  readonly label: string;
  readonly unit: Unit;
  readonly value: number;
  readonly onTake: (value: number) => void;
}

/** A number of a step: taken as it is left or Enter is pressed; what is no number stays to be mended, with a sentence. */
function Number({ label, unit, value, onTake }: NumberProps) {
  const [typed, setTyped] = useState<string>();
  const read = typed === undefined ? undefined : parseQuantity(typed, unit);
  const fault = read && !read.ok ? problemsSentence(read.problems) : undefined;
  const take = (): void => {
    if (!read?.ok) return;
    setTyped(undefined);
    if (read.value !== value) onTake(read.value);
  };
  return (
    <>
      <input
        className="inline-number"
        aria-label={label}
        aria-invalid={fault !== undefined}
        value={typed ?? formatQuantity(value, unit, 4)}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          if (event.key === 'Escape') setTyped(undefined);
        }}
      />
      {fault !== undefined && (
        <span className="fault d-block" role="alert">
          {fault}
        </span>
      )}
    </>
  );
}

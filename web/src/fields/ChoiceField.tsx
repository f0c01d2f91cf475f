import { pathKey, valueAt, type StagePath } from '@yundro/core';
import { useId } from 'react';
import { takeText, type Edit } from '../stage/editing';
import { useSession } from '../stage/stageSession';
import { faultSentence, useLabel } from './labels';

interface Props {
  readonly path: StagePath;
  readonly label: string;
  readonly choices: readonly { readonly value: string; readonly words: string }[];
  /** What stands where the stage file names none. */
  readonly fallback?: string;
  /** Further edits that go with a choice. */
  readonly also?: (value: string) => readonly Edit[];
}

/** A field for a choice between words. A choice that does not fit yet is kept, like a number that does not. */
export function ChoiceField({ path, label, choices, fallback, also }: Props) {
  const id = useId();
  const key = pathKey(path);
  useLabel(path, label);
  const stored = useSession((session) => (session.document ? valueAt(session.document, path) : undefined));
  const pending = useSession((session) => session.pending[key]);
  const shown = pending?.text ?? (typeof stored === 'string' ? stored : fallback);
  return (
    <div className={`field ${pending ? 'wrong' : ''}`}>
      <label htmlFor={id}>{label}</label>
      <div className="entry">
        <select
          id={id}
          className="pick"
          value={shown}
          onChange={({ target: { value } }) => takeText(path, value, { value }, { also: also?.(value) ?? [] })}
        >
          {choices.map(({ value, words }) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </div>
      {pending && (
        <div className="fault" role="alert">
          {faultSentence(path, pending.fault)}
        </div>
      )}
    </div>
  );
}

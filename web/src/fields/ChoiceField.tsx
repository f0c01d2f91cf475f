import { pathKey, valueAt, type StagePath } from '@yundro/core';
import { useId } from 'react';
import { editField, useSession, type FieldValue } from '../stage/stageSession';

interface Props {
  readonly path: StagePath;
  readonly label: string;
  readonly choices: readonly { readonly value: string; readonly words: string }[];
  /** What stands where the stage file names none. */
  readonly fallback?: string;
  /** Further edits that go with a choice. */
  readonly also?: (value: string) => readonly { readonly path: StagePath; readonly value: FieldValue | undefined }[];
}

/** A field for a choice between words. A choice that does not fit yet is kept, like a number that does not. */
export function ChoiceField({ path, label, choices, fallback, also }: Props) {
  const id = useId();
  const key = pathKey(path);
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
          onChange={(event) =>
            editField(path, event.target.value, event.target.value, undefined, also?.(event.target.value))
          }
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
          {pending.sentence}
        </div>
      )}
    </div>
  );
}

import {
  formatQuantity,
  nextPreferredDown,
  nextPreferredUp,
  parseQuantity,
  problemSentence,
  stageField,
  UNITS,
  type PreferredSeries,
  pathKey,
  type StagePath,
} from '@yundro/core';
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react';
import { beginFieldEdit, editField, joinFieldEdits, numberAt, useSession, withdraw } from '../stage/stageSession';

/** Pause in typing after which a fault is spoken of, ms: `4u7` passes through texts that mean something else. */
const FAULT_DELAY = 700;

interface Props {
  readonly path: StagePath;
  readonly label: string;
  /** A field that may be left empty: the target is then not asked. */
  readonly optional?: boolean;
  /** What holds where it is left empty, in a word or two. */
  readonly without?: string;
  /** The series the step keys walk; without one they step the second digit. */
  readonly series?: PreferredSeries;
}

/** The value one step up or down on the second significant digit. */
function stepped(value: number, direction: 1 | -1): number {
  if (value === 0) return 0;
  const digit = 10 ** (Math.floor(Math.log10(Math.abs(value))) - 1);
  return Number((value + direction * digit).toPrecision(3));
}

/** A field for one number of the stage, typed the way engineers type numbers. Range and unit come from the schema. */
export function QuantityField({ path, label, optional = false, without, series }: Props) {
  const id = useId();
  const key = pathKey(path);
  const meta = stageField(path);
  if (!meta) throw new Error(`The stage file has no number at ${key}.`);
  const { unit } = meta;
  const document = useSession((session) => session.document);
  const pending = useSession((session) => session.pending[key]);
  const value = document ? numberAt(document, path) : undefined;
  const stored = value === undefined ? '' : formatQuantity(value, unit).replace(/\u2009/g, ' ');
  const settled = pending?.text ?? stored;
  const [typed, setTyped] = useState<string | undefined>();
  const [patient, setPatient] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);

  const enter = (text: string): void => {
    setTyped(text);
    setPatient(true);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => setPatient(false), FAULT_DELAY);
    if (text.trim() === '') {
      editField(path, text, undefined, optional ? undefined : `Give the ${meta.quantity}; this field cannot be empty.`);
    } else {
      const read = parseQuantity(text, unit);
      const [problem] = read.ok ? [] : read.problems;
      editField(path, text, read.ok ? read.value : undefined, problem && problemSentence(problem));
    }
    joinFieldEdits();
  };

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    if (event.key === 'Escape' && pending) {
      withdraw(path);
      setTyped(undefined);
    }
    if (event.key === 'Enter') event.currentTarget.blur();
    if ((event.key !== 'ArrowUp' && event.key !== 'ArrowDown') || value === undefined) return;
    event.preventDefault();
    const up = event.key === 'ArrowUp';
    let next: number;
    if (unit === 'count') next = value + (up ? 1 : -1);
    else if (series && value > 0) next = up ? nextPreferredUp(value, series) : nextPreferredDown(value, series);
    else next = stepped(value, up ? 1 : -1);
    enter(formatQuantity(next, unit).replace(/\u2009/g, ' '));
  };

  const fault = pending && !patient ? pending.sentence : undefined;
  const shown = typed ?? settled;
  // The unit stands in the text once there is a value; an empty field shows it beside.
  const unitHint = shown.trim() === '' ? UNITS[unit].symbol : '';
  return (
    <div className={`field ${fault === undefined ? '' : 'wrong'}`}>
      <label htmlFor={id} title={meta.note}>
        {label}
      </label>
      <div className="entry">
        <input
          id={id}
          type="text"
          inputMode="text"
          autoComplete="off"
          spellCheck={false}
          value={shown}
          placeholder={optional ? (without ?? 'not asked') : ''}
          aria-invalid={fault !== undefined}
          aria-describedby={fault === undefined ? undefined : `${id}-fault`}
          onFocus={(event) => {
            beginFieldEdit();
            event.target.select();
          }}
          onChange={(event) => enter(event.target.value)}
          onBlur={() => {
            setTyped(undefined);
            setPatient(false);
            beginFieldEdit();
          }}
          onKeyDown={onKeyDown}
        />
        {unitHint !== '' && <span className="unit">{unitHint}</span>}
      </div>
      {fault !== undefined && (
        <div className="fault" id={`${id}-fault`} role="alert">
          {fault}
        </div>
      )}
    </div>
  );
}

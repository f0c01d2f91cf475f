import {
  formatQuantity,
  nextPreferredDown,
  nextPreferredUp,
  stageField,
  UNITS,
  type PreferredSeries,
  pathKey,
  type StagePath,
} from '@yundro/core';
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react';
import { readNumber, takeText, typeText, withdraw } from '../stage/editing';
import { numberAt, useSession } from '../stage/stageSession';
import { faultSentence, useLabel } from './labels';

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

/**
 * A field for one number of the stage, typed the way engineers type numbers. What is being typed is previewed; it becomes the design
 * on Enter, on leaving the field or with a step key. Range and unit come from the schema.
 */
export function QuantityField({ path, label, optional = false, without, series }: Props) {
  const id = useId();
  const key = pathKey(path);
  const meta = stageField(path);
  if (!meta) throw new Error(`The stage file has no number at ${key}.`);
  const { unit } = meta;
  useLabel(path, label);
  const document = useSession((session) => session.document);
  const pending = useSession((session) => session.pending[key]);
  const typing = useSession(({ typing: one }) => (one && pathKey(one.path) === key ? one : undefined));
  const value = document ? numberAt(document, path) : undefined;
  const written = (number: number): string => formatQuantity(number, unit).replace(/\u2009/g, ' ');
  const stored = value === undefined ? '' : written(value);
  const [patient, setPatient] = useState(false);
  /** Whether a step key was pressed last: the next one joins its step of undo. */
  const stepping = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);

  const type = (text: string): void => {
    stepping.current = false;
    setPatient(true);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => setPatient(false), FAULT_DELAY);
    typeText(path, text, readNumber(path, text, optional));
  };
  const take = (text: string, joins = false): void => {
    setPatient(false);
    takeText(path, text, readNumber(path, text, optional), { joins });
  };

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    const input = event.currentTarget;
    if (event.key === 'Escape' && (typing ?? pending)) {
      event.stopPropagation();
      setPatient(false);
      withdraw(path);
    }
    if (event.key === 'Enter') {
      if (typing ?? pending) take(input.value);
      // What is typed next takes its place.
      requestAnimationFrame(() => input.select());
    }
    if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    const read = readNumber(path, input.value, optional);
    const from = 'value' in read && typeof read.value === 'number' ? read.value : value;
    if (from === undefined) return;
    const up = event.key === 'ArrowUp';
    let next: number;
    if (unit === 'count') next = from + (up ? 1 : -1);
    else if (series && from > 0) next = up ? nextPreferredUp(from, series) : nextPreferredDown(from, series);
    else next = stepped(from, up ? 1 : -1);
    take(written(next), stepping.current);
    stepping.current = true;
  };

  const under = typing ? (patient ? undefined : typing.fault) : pending?.fault;
  const fault = under && faultSentence(path, under);
  const shown = typing?.text ?? pending?.text ?? stored;
  const previewed = typing !== undefined && typing.fault === undefined && typing.text !== stored;
  // The unit stands in the text once there is a value; an empty field shows it beside.
  const unitHint = shown.trim() === '' ? UNITS[unit].symbol : '';
  return (
    <div className={`field ${fault === undefined ? '' : 'wrong'} ${previewed ? 'typed' : ''}`}>
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
          data-design=""
          value={shown}
          placeholder={optional ? (without ?? (path[0] === 'targets' ? 'not asked' : 'not stated')) : ''}
          aria-invalid={fault !== undefined}
          aria-describedby={fault === undefined ? undefined : `${id}-fault`}
          onFocus={(event) => event.target.select()}
          onChange={(event) => type(event.target.value)}
          onBlur={(event) => {
            stepping.current = false;
            if (typing) take(event.target.value);
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

import {
  CHANNELS,
  derivedReading,
  formatQuantity,
  readingFlags,
  readReadings,
  type Channel,
  type Instruments,
  type Reading,
  type Stage,
} from '@yundro/core';
import { Fragment, useMemo, useState, type ClipboardEvent, type KeyboardEvent, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { QuantityCell } from './QuantityCell';

/** Columns that a line is entered in, in the order of the tab key. */
const ENTERED: readonly Channel[] = [
  'inputVoltage',
  'inputCurrent',
  'outputVoltage',
  'outputCurrent',
  'outputRipple',
  'inductorRipple',
];

/** Columns for readings at the other ends of the leads, and of heat: shown where they are wanted or read. */
const FURTHER: readonly Channel[] = ['supplyVoltage', 'loadVoltage', 'temperature'];
/** Lines on a page. */
const PAGE = 250;
/** What follows from a line that is still empty. */
const NOTHING = { loss: undefined, efficiency: undefined };
/** Of them, what power is worked from; the figures that follow stand behind. */
const POWER = 4;

interface Props {
  readonly readings: readonly Reading[];
  readonly instruments: Instruments;
  readonly stage: Stage;
  /** Undefined where a run under way fills the table. */
  readonly onChange?: ((readings: readonly Reading[], said?: string) => void) | undefined;
}

/** Readings as a table made for speed: the tab key goes on, Enter goes down, a paste of several cells becomes lines. */
export function ReadingTable({ readings, instruments, stage, onChange }: Props) {
  // Each line is worked once, not at every stroke of a key.
  const derived = useMemo(
    () => readings.map((reading) => derivedReading(reading, instruments)),
    [readings, instruments],
  );
  const flags = useMemo(
    () => readingFlags(readings, instruments, stage, derived),
    [readings, instruments, stage, derived],
  );
  const [further, setFurther] = useState<readonly Channel[]>([]);
  const present = FURTHER.filter(
    (channel) => further.includes(channel) || readings.some((one) => one[channel] !== undefined),
  );
  const shown = [...ENTERED, ...present].filter(
    (channel) => onChange !== undefined || readings.some((one) => one[channel] !== undefined),
  );
  const [fresh, setFresh] = useState(1);
  const rows = onChange ? [...readings, ...Array.from({ length: fresh }, (): Reading => ({}))] : readings;
  // The last page is looked at until another is chosen: there lines are added.
  const pages = Math.max(1, Math.ceil(rows.length / PAGE));
  const [turned, setTurned] = useState<number>();
  const page = Math.min(turned ?? pages - 1, pages - 1);
  const from = page * PAGE;
  const put = (row: number, channel: Channel, value: number | undefined): void => {
    const line: Reading = { ...readings[row], [channel]: value };
    onChange?.(row < readings.length ? readings.with(row, line) : [...readings, line]);
  };
  const paste = (event: ClipboardEvent): void => {
    const text = event.clipboardData.getData('text');
    if (!/[\t\n\r]/.test(text.trim()) || !onChange) return;
    event.preventDefault();
    const read = readReadings(text);
    if (typeof read === 'string') onChange(readings, read);
    else {
      const [first] = read.unread;
      const unread =
        first === undefined
          ? ''
          : ` ${String(read.unread.length)} cells are no numbers, the first in line ${String(first.line)}: “${first.text}”.`;
      onChange([...readings, ...read.readings], `${read.taken}.${unread}`);
    }
  };
  const move = (event: KeyboardEvent<HTMLInputElement>, row: number, column: number): void => {
    const by = event.key === 'Enter' || event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    const table = event.currentTarget.closest('table');
    if (row + by >= rows.length && onChange) setFresh(fresh + 1);
    // The line below is drawn by then.
    requestAnimationFrame(() =>
      table?.querySelector<HTMLInputElement>(`input[data-cell="${String(row + by)}:${String(column)}"]`)?.focus(),
    );
  };
  const heading = (channel: Channel): ReactNode => (
    <th key={channel} className="number" title={CHANNELS[channel].words}>
      {CHANNELS[channel].short}
    </th>
  );
  const cell = (reading: Reading, row: number, channel: Channel, column: number): ReactNode => {
    const value = reading[channel];
    const { unit, words } = CHANNELS[channel];
    return (
      <td key={channel} className="number">
        {onChange ? (
          <QuantityCell
            name={`${words}, line ${String(row + 1)}`}
            at={`${String(row)}:${String(column)}`}
            unit={unit}
            value={value}
            onTake={(taken) => put(row, channel, taken)}
            onKey={(event) => move(event, row, column)}
          />
        ) : value === undefined ? (
          '–'
        ) : (
          formatQuantity(value, unit, 5)
        )}
      </td>
    );
  };
  return (
    <>
      <div
        className="data-table reading-table"
        onPaste={paste}
        role="region"
        aria-label="Readings, scrolled"
        tabIndex={0}
      >
        <table className="plain" aria-label="Readings">
          <thead>
            <tr>
              <th className="number">line</th>
              {shown.slice(0, POWER).map(heading)}
              <th className="number">efficiency</th>
              <th className="number">loss</th>
              {shown.slice(POWER).map(heading)}
            </tr>
          </thead>
          <tbody>
            {rows.slice(from, from + PAGE).map((reading, at) => {
              const row = from + at;
              const { loss, efficiency } = derived[row] ?? NOTHING;
              const own = flags.filter((flag) => flag.row === row);
              return (
                // Lines have no names: they are counted.
                <Fragment key={row}>
                  <tr className={own.some(({ leftOut }) => leftOut) ? 'left-out' : ''}>
                    <td className="number quiet">{row + 1}</td>
                    {shown.slice(0, POWER).map((channel, column) => cell(reading, row, channel, column))}
                    <td className="number">
                      {efficiency
                        ? `${(100 * efficiency.value).toFixed(2)} ± ${(200 * efficiency.standard).toFixed(2)} %`
                        : '–'}
                    </td>
                    <td className="number">
                      {loss
                        ? `${formatQuantity(loss.value, 'W', 3)} ± ${formatQuantity(2 * loss.standard, 'W', 1)}`
                        : '–'}
                    </td>
                    {shown.slice(POWER).map((channel, column) => cell(reading, row, channel, column + POWER))}
                  </tr>
                  {reading.note !== undefined && reading.note !== '' && (
                    <tr className="remark">
                      <td />
                      <td colSpan={shown.length + 2} className="small quiet">
                        {reading.note}
                      </td>
                    </tr>
                  )}
                  {own.map(({ code, sentence }) => (
                    <tr key={code} className="remark">
                      <td />
                      <td colSpan={shown.length + 2} className="fault small">
                        {sentence}
                      </td>
                    </tr>
                  ))}
                </Fragment>
              );
            })}
          </tbody>
        </table>
      </div>
      {pages > 1 && (
        <p className="small">
          <Button variant="plain" disabled={page === 0} onClick={() => setTurned(page - 1)}>
            Earlier lines
          </Button>{' '}
          {from + 1} to {Math.min(from + PAGE, rows.length)} of {rows.length}{' '}
          <Button variant="plain" disabled={page === pages - 1} onClick={() => setTurned(page + 1)}>
            Later lines
          </Button>
        </p>
      )}
      {onChange && (
        <p className="small">
          {FURTHER.filter((channel) => !present.includes(channel)).map((channel) => (
            <Button key={channel} variant="plain" onClick={() => setFurther([...further, channel])}>
              + {CHANNELS[channel].words}
            </Button>
          ))}
        </p>
      )}
    </>
  );
}

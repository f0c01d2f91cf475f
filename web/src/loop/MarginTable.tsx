import { formatQuantity, type CornerLoop, type Margin } from '@yundro/core';
import { useMemo } from 'react';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { useSession } from '../stage/stageSession';
import { lookAt } from '../stage/stageView';
import { useAskedLoop } from '../ledger/loopJudgement';
import { useShapedCorners, type ShapedCorner } from './shaping';

interface Row {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly crossover: Margin | undefined;
  readonly phaseMargin: Margin | undefined;
  readonly gainMargin: Margin | undefined;
  /** dB */
  readonly subharmonicMargin: number | undefined;
  readonly stable: boolean | undefined;
  readonly reason: string | undefined;
}

const exactRow = ({ corner: { inputVoltage, outputCurrent }, loop }: CornerLoop): Row =>
  loop.kind === 'solved'
    ? {
        inputVoltage,
        outputCurrent,
        crossover: loop.crossover,
        phaseMargin: loop.phaseMargin,
        gainMargin: loop.gainMargin,
        subharmonicMargin: loop.subharmonicMargin,
        stable: loop.stable,
        reason: undefined,
      }
    : {
        inputVoltage,
        outputCurrent,
        crossover: undefined,
        phaseMargin: undefined,
        gainMargin: undefined,
        subharmonicMargin: undefined,
        stable: undefined,
        reason: loop.reason,
      };

const shapedRow = ({ inputVoltage, outputCurrent, crossover, phaseMargin, gainMargin }: ShapedCorner): Row => ({
  inputVoltage,
  outputCurrent,
  crossover,
  phaseMargin,
  gainMargin,
  subharmonicMargin: undefined,
  stable: undefined,
  reason: undefined,
});

/** Unstable corners first, then by phase margin. */
const badness = ({ stable, phaseMargin, reason }: Row): number =>
  reason !== undefined ? -1e6 : stable === false ? -1e3 : phaseMargin?.kind === 'found' ? phaseMargin.value : -500;

/** Rows on a page: the worst. */
const SHOWN = 5;

/** The margins of every corner, the worst first; those of a compensator being shaped while it is. */
export function MarginTable() {
  const asked = useAskedLoop();
  const shaped = useShapedCorners();
  if (shaped) return <Margins rows={shaped.map(shapedRow)} shaped />;
  return (
    <Answered of={asked} what="margin" wait={<p className="quiet small">The loop is being judged at every corner …</p>}>
      {(judged) => <Margins rows={judged?.corners.map(exactRow) ?? []} shaped={false} />}
    </Answered>
  );
}

/** Of a margin that was found. */
const found = (margin: Margin | undefined): number | undefined => (margin?.kind === 'found' ? margin.value : undefined);
const fixed = (value: number | undefined, unit: string): string | undefined =>
  value === undefined ? undefined : `${value.toFixed(1)}${unit}`;
const cornerWords = ({ inputVoltage, outputCurrent }: Row): string =>
  `${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)}`;

const COLUMNS: readonly DataColumn<Row>[] = [
  { key: 'corner', words: 'corner', value: cornerWords, shown: (row) => <Corner of={row} /> },
  {
    key: 'crossover',
    words: 'crossover',
    unit: 'Hz',
    value: ({ crossover }) => found(crossover),
    shown: ({ crossover }) => (crossover?.kind === 'found' ? formatQuantity(crossover.value, 'Hz', 3) : undefined),
  },
  {
    key: 'phaseMargin',
    words: 'phase margin',
    unit: '°',
    value: ({ phaseMargin }) => found(phaseMargin),
    shown: ({ phaseMargin }) => fixed(found(phaseMargin), '°'),
  },
  {
    key: 'gainMargin',
    words: 'gain margin',
    unit: 'dB',
    value: ({ gainMargin }) => found(gainMargin),
    shown: ({ gainMargin }) => fixed(found(gainMargin), ' dB'),
  },
  {
    key: 'subharmonicMargin',
    words: 'subharmonic margin',
    unit: 'dB',
    title: 'How much the gain may rise until long and short pulses alternate',
    value: ({ subharmonicMargin }) => subharmonicMargin,
    shown: ({ subharmonicMargin }) => fixed(subharmonicMargin, ' dB'),
  },
  {
    key: 'stable',
    words: 'stable',
    value: ({ stable }) => (stable === undefined ? '…' : stable ? 'yes' : 'no'),
    shown: ({ stable }) => (stable === false ? <b>no</b> : undefined),
  },
];

const SHAPED_COLUMNS = COLUMNS.map((column) =>
  column.key === 'corner' ? { ...column, words: 'corner, as shaped' } : column,
);

/** Looks at its corner when it is pressed. */
function Corner({ of }: { readonly of: Row }) {
  const corners = useSession((session) => session.worked?.corners) ?? [];
  const at = corners.findIndex(
    ({ inputVoltage, outputCurrent }) => inputVoltage === of.inputVoltage && outputCurrent === of.outputCurrent,
  );
  return (
    <button type="button" className="link" onClick={() => lookAt(at)}>
      {cornerWords(of)}
    </button>
  );
}

function Margins({ rows, shaped }: { readonly rows: readonly Row[]; readonly shaped: boolean }) {
  const sorted = useMemo(() => [...rows].sort((a, b) => badness(a) - badness(b)), [rows]);
  if (rows.length === 0) return null;
  return (
    <DataTable
      words="Margins of every corner"
      rows={sorted}
      rowKey={cornerWords}
      columns={shaped ? SHAPED_COLUMNS : COLUMNS}
      page={SHOWN}
      filter={false}
      instead={{ keep: 1, of: ({ reason }) => reason }}
    />
  );
}

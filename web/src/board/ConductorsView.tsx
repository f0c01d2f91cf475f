import {
  applied,
  BOARD,
  conductorCurrent,
  conductorWidth,
  CONDUCTOR_K,
  foilResistance,
  formatQuantity,
  leastSpacing,
  resistivityAt,
  SPACING_COLUMNS,
  viaBarrel,
  viaCurrent,
  type Copper,
  type Net,
  type SpacingColumn,
} from '@yundro/core';
import { useState } from 'react';
import { InlineField } from '../fields/InlineField';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { FormView } from '../stage/FormView';
import type { BoardFramed } from './BoardStation';
import { useBoard } from './boardStore';

/** °C, of copper that is in use. */
const WARM = 80;
/** A, to which the chart of IPC-2221 goes outside; from memory. */
const CHART_ENDS = 35;
const millimetres = (metres: number): string => formatQuantity(metres, 'm', 3);

/** A net with what it asks of its copper. */
interface Row extends Net {
  readonly outside: number;
  readonly inside: number;
  readonly vias: number;
  readonly drop: number;
}

/** Resistance over the length that is asked for. */
const dropForm = (width: number, { length, foil }: Copper) =>
  applied(foilResistance, { resistivity: resistivityAt(WARM), length, width, thickness: foil });

function rowOf(net: Net, copper: Copper): Row {
  const { rise, foil } = copper;
  const width = (k: number): number => conductorWidth.compute({ current: net.current, rise, thickness: foil, k });
  const outside = width(CONDUCTOR_K.external);
  return {
    ...net,
    outside,
    inside: width(CONDUCTOR_K.internal),
    vias: Math.ceil(net.current / viaCurrent(rise)),
    drop: net.current * dropForm(outside, copper).value,
  };
}

const SPACING = Object.keys(SPACING_COLUMNS) as SpacingColumn[];
const SHORT: Readonly<Record<SpacingColumn, string>> = {
  internal: 'inner',
  bare: 'outer, bare',
  coated: 'outer, coated',
  leads: 'leads',
};

const COLUMNS: readonly DataColumn<Row>[] = [
  { key: 'net', words: 'net', value: ({ words }) => words },
  {
    key: 'current',
    words: 'carries, rms',
    unit: 'A',
    value: ({ current }) => current,
    shown: ({ current }) => formatQuantity(current, 'A', 3),
  },
  {
    key: 'outside',
    words: 'width outside',
    unit: 'm',
    value: ({ outside }) => outside,
    shown: ({ outside }) => millimetres(outside),
  },
  {
    key: 'inside',
    words: 'inside',
    unit: 'm',
    value: ({ inside }) => inside,
    shown: ({ inside }) => millimetres(inside),
  },
  { key: 'vias', words: 'vias', unit: '', value: ({ vias }) => vias },
  {
    key: 'drop',
    words: 'drop',
    unit: 'V',
    value: ({ drop }) => drop,
    shown: ({ drop }) => formatQuantity(drop, 'V', 2),
  },
  {
    key: 'apart',
    words: 'volts apart',
    unit: 'V',
    value: ({ apart }) => apart,
    shown: ({ apart }) => formatQuantity(apart, 'V', 3),
    title: 'to the net that is furthest from it',
  },
  { key: 'furthest', words: 'furthest net', value: ({ furthest }) => furthest, folded: true },
  ...SPACING.map((column): DataColumn<Row> => ({
    key: column,
    words: `spacing, ${SHORT[column]}`,
    unit: 'm',
    value: ({ apart }) => leastSpacing(column, apart),
    shown: ({ apart }) => millimetres(leastSpacing(column, apart)),
    title: SPACING_COLUMNS[column].words,
    folded: column !== 'bare',
  })),
];

/** Width, vias and spacing of every net, by its current and voltages at the worst corner. */
export function ConductorsView({ stageId, asked, frame }: BoardFramed) {
  const { board, change } = useBoard(stageId);
  const { copper } = board;
  const put = (part: Partial<Copper>): void => change((before) => ({ copper: { ...before.copper, ...part } }));
  const [picked, setPicked] = useState<string>();
  return frame({
    fields: (
      <fieldset>
        <legend>Copper</legend>
        <InlineField
          words="Rise allowed"
          unit="K"
          value={copper.rise}
          range={[1, 100]}
          onTake={(rise) => put({ rise })}
        />
        <InlineField
          words="Thickness"
          unit="m"
          value={copper.foil}
          range={[5e-6, 1e-3]}
          onTake={(foil) => put({ foil })}
        />
        <InlineField
          words="Drop over a length of"
          unit="m"
          value={copper.length}
          range={[1e-3, 2]}
          onTake={(length) => put({ length })}
        />
        <p className="small quiet mb-0">
          Widths by IPC-2221: conservative for inner layers and for boards with planes against the newer data. Spacing
          by its table 6-1, from memory: check the revision that holds for you. It is no safety insulation; above 60 V
          see IEC 62368-1 and your local code.
        </p>
      </fieldset>
    ),
    picture: (
      <Answered of={asked} what="board" wait={<p className="quiet">The nets are being worked …</p>}>
        {(needs) => {
          if (!needs) return <p className="quiet">The nets appear when the stage has all its parts.</p>;
          const rows = needs.nets.map((net) => rowOf(net, copper));
          const row = rows.find(({ node }) => node === picked) ?? rows[0];
          return (
            <>
              <DataTable
                words="Nets"
                rows={rows}
                rowKey={({ node }) => node}
                columns={COLUMNS}
                picked={({ node }) => node === row?.node}
                onSelect={({ node }) => setPicked(node)}
              />
              <p className="small quiet">
                A via is one of {millimetres(BOARD.drill)} with {formatQuantity(BOARD.plating, 'm', 2)} of plating,{' '}
                {formatQuantity(viaCurrent(copper.rise), 'A', 2)} at this rise. The drop is that of the least width
                outside at {WARM} °C. Ringing comes on top of the voltages.
                {rows.some(({ current }) => current > CHART_ENDS) &&
                  ` The chart ends at ${formatQuantity(CHART_ENDS, 'A', 2)} (from memory): beyond, spread the current over planes on several layers and measure the rise.`}
              </p>
              {row && (
                <details>
                  <summary>Working, {row.words}</summary>
                  <p className="small">The most that hangs on it: {row.carrier}.</p>
                  <FormView
                    form={applied(conductorWidth, {
                      current: row.current,
                      rise: copper.rise,
                      thickness: copper.foil,
                      k: CONDUCTOR_K.external,
                    })}
                  />
                  <FormView form={dropForm(row.outside, copper)} />
                  <FormView form={applied(conductorCurrent, viaBarrel(copper.rise))} />
                </details>
              )}
            </>
          );
        }}
      </Answered>
    ),
  });
}

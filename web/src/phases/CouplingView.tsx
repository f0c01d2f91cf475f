import {
  formatQuantity,
  UNBALANCE,
  type Alike,
  type CouplingComparison,
  type CouplingStudy,
  type Stage,
  type WindingFigures,
} from '@yundro/core';
import { useMemo, useState } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import { equivalentChart, sweepChart } from './phaseCharts';
import type { Framed } from './framed';

/** A coefficient to look at where the stage has none. Common practice for integrated pairs: a half or a little less. */
const LOOKED_AT = 0.4;
type Coupling = Exclude<Stage['coupling'], { readonly kind: 'none' }>;

/** The inductors coupled: what it brings over this input range, and against what. */
export function CouplingView({ frame }: Framed) {
  const worked = useWorkedStage();
  const own = worked?.stage.coupling;
  const phases = worked?.stage.phases ?? 1;
  const [tried, setTried] = useState<Partial<Coupling>>({});
  const coupling = useMemo((): Coupling => {
    const stated = own?.kind === 'none' ? undefined : own;
    const core = tried.core ?? stated?.core ?? (phases % 2 === 1 ? 'all' : 'pairs');
    return {
      kind: tried.kind ?? stated?.kind ?? 'inverse',
      coefficient: tried.coefficient ?? stated?.coefficient ?? LOOKED_AT,
      core,
    };
  }, [own, tried, phases]);
  const question = useMemo(() => worked && { stage: worked.stage, coupling }, [worked, coupling]);
  const asked = useSurvey<NonNullable<typeof question>, CouplingStudy | string | undefined>(question, (survey, of) =>
    survey.couplingStudy(of.stage, of.coupling),
  );
  return frame(
    <>
      <div className="corner-pick small">
        <label>
          Wound{' '}
          <select
            className="pick"
            value={coupling.kind}
            onChange={(event) => setTried({ ...tried, kind: event.target.value === 'direct' ? 'direct' : 'inverse' })}
          >
            <option value="inverse">inversely</option>
            <option value="direct">directly</option>
          </select>
        </label>
        {phases > 2 && (
          <label>
            sharing a core{' '}
            <select
              className="pick"
              value={coupling.core}
              onChange={(event) => setTried({ ...tried, core: event.target.value === 'all' ? 'all' : 'pairs' })}
            >
              <option value="pairs">in pairs half a period apart</option>
              <option value="all">all of them</option>
            </select>
          </label>
        )}
        <label>
          coefficient{' '}
          <input
            type="range"
            min={0}
            max={0.9}
            step={0.05}
            value={coupling.coefficient}
            aria-label="Coefficient looked at"
            onChange={(event) => setTried({ ...tried, coefficient: Number(event.target.value) })}
          />{' '}
          {coupling.coefficient.toFixed(2)}
        </label>
      </div>
      <Answered of={asked} what="study of the coupling" wait={<SurveyWait working />}>
        {(found, { stage }) =>
          found === undefined ? (
            <SurveyWait working={false} />
          ) : typeof found === 'string' ? (
            <p className="quiet">{found}</p>
          ) : (
            <Found found={found} stage={stage} />
          )
        }
      </Answered>
    </>,
  );
}

function Found({ found, stage }: { readonly found: CouplingStudy; readonly stage: Stage }) {
  const charts = useMemo(
    () =>
      [
        ['Ripple against the coupling coefficient', sweepChart(found)],
        [
          'Equivalent inductances against the duty ratio',
          equivalentChart(
            {
              ...found.coupling,
              inductance: found.comparisons[0]?.coupled.inductance ?? 1,
              windings: found.windings,
            },
            found.comparisons.map(({ duty }) => duty),
          ),
        ],
      ] as const,
    [found],
  );
  const rows = useMemo(() => found.comparisons.flatMap(rowsOf), [found]);
  return (
    <>
      <div className="two-charts">
        {charts.map(([words, chart]) => (
          <CurveChart key={words} words={words} {...chart} />
        ))}
      </div>
      <p data-testid="coupling-verdict">{found.verdict}</p>
      <DataTable
        words="Coupled and uncoupled windings"
        rows={rows}
        rowKey={({ key }) => key}
        columns={COLUMNS}
        filter={false}
      />
      <p className="small quiet">
        By the engine at full load ({formatQuantity(stage.targets.outputCurrent.max, 'A', 3)}) with the inductance and
        winding resistance of the stage, {found.windings} windings on a core; core loss is left out. The size of a choke
        goes with the energy at its peak (common practice), with {(100 * UNBALANCE).toFixed(0)} % more current in one
        winding than in the others; where the row of the same size is missing, no uncoupled choke so small carries this
        current and these volt-seconds. The equivalent inductances are loss-free, by P.-L. Wong et al. (2001) for two
        windings; where a winding is driven up while it is off, the inductance of that stretch is negative.
      </p>
    </>
  );
}

interface Row extends WindingFigures {
  readonly key: string;
  readonly inputVoltage: number;
  readonly what: string;
  readonly flux: number | undefined;
  readonly unbalanced: number | undefined;
}
const ALIKE: readonly (readonly [Alike, string])[] = [
  ['self-inductance', 'same self-inductance'],
  ['size', 'same size'],
  ['transient inductance', 'same transient L'],
];

function rowsOf({ inputVoltage, coupled, uncoupled, sharedFlux, unbalancedFlux }: CouplingComparison): readonly Row[] {
  const volts = formatQuantity(inputVoltage, 'V', 3);
  const row = (what: string, of: WindingFigures, flux?: number, unbalanced?: number): Row => ({
    ...of,
    key: `${volts} ${what}`,
    inputVoltage,
    what,
    flux,
    unbalanced,
  });
  return [
    row('coupled', coupled, sharedFlux, unbalancedFlux),
    ...ALIKE.flatMap(([alike, what]) => {
      const of = uncoupled[alike];
      return of ? [row(what, of)] : [];
    }),
  ];
}

const shown = (unit: Parameters<typeof formatQuantity>[1], of: (row: Row) => number | undefined) => (row: Row) => {
  const value = of(row);
  return value === undefined ? undefined : formatQuantity(value, unit, 3);
};
const column = (
  key: string,
  words: string,
  unit: 'A' | 'H' | 'V' | 'W' | 'Wb',
  of: (row: Row) => number | undefined,
  folded = false,
): DataColumn<Row> => ({ key, words, unit, folded, value: of, shown: shown(unit, of) });

const COLUMNS: readonly DataColumn<Row>[] = [
  { key: 'what', words: 'windings', value: ({ what }) => what },
  column('input', 'input', 'V', ({ inputVoltage }) => inputVoltage),
  column('inductance', 'self L', 'H', ({ inductance }) => inductance),
  column('transient', 'transient L', 'H', ({ transient }) => transient),
  column('winding', 'ripple of one', 'A', ({ winding }) => winding),
  column('summed', 'of the sum', 'A', ({ summed }) => summed),
  column('peak', 'peak', 'A', ({ peak }) => peak),
  column('rms', 'RMS', 'A', ({ rms }) => rms, true),
  column('outputRipple', 'output ripple', 'V', ({ outputRipple }) => outputRipple),
  column('loss', 'lost', 'W', ({ loss }) => loss),
  column('flux', 'shared flux', 'Wb', ({ flux }) => flux, true),
  column('unbalanced', 'shared flux, unequal currents', 'Wb', ({ unbalanced }) => unbalanced, true),
];

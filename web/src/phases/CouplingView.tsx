import {
  couplingLookedAt,
  formatQuantity,
  UNBALANCE,
  type Alike,
  type Coupling,
  type CouplingComparison,
  type CouplingStudy,
  type CouplingSweep,
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

/** The inductors coupled: what it brings over this input range, and against what. */
export function CouplingView({ frame }: Framed) {
  const worked = useWorkedStage();
  const phases = worked?.stage.phases ?? 1;
  const [tried, setTried] = useState<Partial<Coupling>>({});
  const question = useMemo(
    () => worked && { stage: worked.stage, coupling: { ...couplingLookedAt(worked.stage), ...tried } },
    [worked, tried],
  );
  const { core } = question?.coupling ?? {};
  // Swept over the coefficient: which one is looked at changes nothing of it.
  const ofSweep = useMemo(() => worked && { stage: worked.stage, core }, [worked, core]);
  const asked = useSurvey<NonNullable<typeof question>, CouplingStudy | string | undefined>(question, (survey, of) =>
    survey.couplingStudy(of.stage, of.coupling),
  );
  const swept = useSurvey<NonNullable<typeof ofSweep>, CouplingSweep | string | undefined>(ofSweep, (survey, of) =>
    survey.couplingSweep(of.stage, of.core),
  );
  if (!question) return frame(<SurveyWait working={false} />);
  const { coupling } = question;
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
      <div className="two-charts">
        <Answered of={swept} what="sweep of the coupling" wait={<SurveyWait working />}>
          {(found) => <Swept found={found} coefficient={coupling.coefficient} />}
        </Answered>
        <Answered of={asked} what="study of the coupling" wait={<SurveyWait working />}>
          {(found) => <Equivalents found={found} />}
        </Answered>
      </div>
    </>,
    <Answered of={{ ...asked, failure: undefined }} what="study of the coupling" wait={null}>
      {(found, of) => typeof found === 'object' && <Compared found={found} stage={of.stage} />}
    </Answered>,
  );
}

/** Ripples against the coefficient. */
function Swept({
  found,
  coefficient,
}: {
  readonly found: CouplingSweep | string | undefined;
  readonly coefficient: number;
}) {
  const chart = useMemo(
    () => (typeof found === 'object' ? sweepChart(found, coefficient) : undefined),
    [found, coefficient],
  );
  // Why there is none stands beside it.
  if (!chart) return found === undefined && <SurveyWait working={false} />;
  return <CurveChart words="Ripple against the coupling coefficient" {...chart} />;
}

/** Equivalent inductances against the duty ratio, or the words for why there is nothing to compare. */
function Equivalents({ found }: { readonly found: CouplingStudy | string | undefined }) {
  const chart = useMemo(() => {
    const [first] = typeof found === 'object' ? found.comparisons : [];
    if (typeof found !== 'object' || !first) return undefined;
    const of = { ...found.coupling, inductance: first.coupled.inductance, windings: found.windings };
    return equivalentChart(
      of,
      found.comparisons.map(({ duty }) => duty),
    );
  }, [found]);
  return chart ? (
    <CurveChart words="Equivalent inductances against the duty ratio" {...chart} />
  ) : (
    typeof found === 'string' && <p className="quiet">{found}</p>
  );
}

function Compared({ found, stage }: { readonly found: CouplingStudy; readonly stage: Stage }) {
  const rows = useMemo(() => found.comparisons.flatMap(rowsOf), [found]);
  return (
    <>
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
        winding resistance of the stage, {found.windings} windings on a core; core loss and what alternates in the
        windings are left out. Rows that are not coupled say what they have in common with the coupled one. The size of
        a choke goes with the energy at its peak (common practice), with {(100 * UNBALANCE).toFixed(0)} % more current
        in one winding than in the others; where the row of the same size is missing, no uncoupled choke so small
        carries this current and these volt-seconds. The equivalent inductances are loss-free, by P.-L. Wong et al.
        (2001) for two windings; where a winding is driven up while it is off, the inductance of that stretch is
        negative.
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

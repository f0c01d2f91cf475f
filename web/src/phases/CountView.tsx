import {
  FIGURES_ARE,
  formatQuantity,
  LOSS_KINDS,
  MOST_STUDIED,
  type PhaseCount,
  type PhaseStep,
  type Stage,
} from '@yundro/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { takeDrafted, useWishes } from '../design/designing';
import { OBJECTIVE_WORDS } from '../design/proposalWords';
import type { CountedPhases } from '../engine/phaseSurvey';
import { ToldState } from '../engine/ToldState';
import { useTold } from '../engine/useTold';
import { useInventory } from '../library/useInventory';
import { Failed } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { useSession } from '../stage/stageSession';
import { useWorkedStage } from '../stage/useCorner';
import type { Framed } from './framed';
import { countChart } from './phaseCharts';

/** The stage with 1 to 12 phases, each with parts of its own from the library. */
export function CountView({ frame }: Framed) {
  const worked = useWorkedStage();
  const objective = useWishes((state) => state.objective);
  const { inventory, fault } = useInventory();
  const question = useMemo(
    () => (worked && inventory ? { stage: worked.stage, inventory, objective } : undefined),
    [worked, inventory, objective],
  );
  const told = useTold<NonNullable<typeof question>, CountedPhases>(question, (survey, of, tell) =>
    survey.phaseCounts(of.stage, of.inventory, of.objective, tell),
  );
  const { value, of, stale, failure, retry } = told;
  if (fault !== undefined)
    return frame(
      <p className="notice bad" role="alert">
        {fault}
      </p>,
    );
  if (failure) return frame(<Failed what="study of the phases" sentence={failure.sentence} retry={retry} />);
  if (!value || !of || value.counts.length === 0)
    return frame(
      <p className="small">
        {value?.at === 'done' ? (
          'No number of phases makes a stage of these targets: the targets say why.'
        ) : (
          <ToldState of={told} at="Stages of 1 to 12 phases are being drafted from the library …" />
        )}
      </p>,
    );
  const dimmed = stale === undefined ? 'answered' : 'answered stale';
  return frame(
    <div className={dimmed} aria-busy={stale !== undefined}>
      {stale !== undefined && (
        <p className="stale-note" role="status">
          Still showing {stale}.
        </p>
      )}
      <p className="mb-1" role="status" data-testid="recommended-phases">
        <ToldState of={told} at={progressWords(value)} />
        {value.recommended && (
          <>
            <b>Recommended</b> for {OBJECTIVE_WORDS[of.objective]}: {value.recommended.words}
          </>
        )}
      </p>
      <Counts of={value} />
    </div>,
    <div className={dimmed}>
      <CountTable found={value} from={of.stage} stale={stale !== undefined} />
      <p className="small quiet">
        Each number has parts of its own from the library, not coupled, for the same targets at the same frequency: what
        is pinned of the parts does not stand here. Drafts have no loop of their own yet; the load step is simulated at
        the clock with a compensator proposed for it, and more output capacitors would mend what it misses. Filled:
        recommended; small: misses a target. {FIGURES_ARE}
      </p>
    </div>,
  );
}

const progressWords = ({ at, counts, steps }: CountedPhases): string =>
  at === 'drafting'
    ? `${String(counts.length)} of ${String(MOST_STUDIED)} numbers are drafted.`
    : `Load steps are being simulated, ${String(steps.length)} of ${String(counts.length)}.`;

function Counts({ of: { counts, recommended } }: { readonly of: CountedPhases }) {
  const best = recommended?.phases;
  const charts = useMemo(
    () =>
      [
        [
          'Loss against the number of phases',
          countChart(counts, best, 'lost at full load', 'W', ({ figures }) => figures.loss),
        ],
        [
          'Board against the number of phases',
          countChart(
            counts,
            best,
            'board under the parts, cm²',
            'ratio',
            ({ figures }) => 1e4 * figures.area,
            (value) => String(Number(value.toPrecision(3))),
          ),
        ],
      ] as const,
    [counts, best],
  );
  return (
    <>
      <div className="two-charts">
        {charts.map(([words, chart]) => (
          <CurveChart key={words} words={words} {...chart} />
        ))}
      </div>
    </>
  );
}

interface Row extends PhaseCount {
  readonly step: PhaseStep | undefined;
}
const amps = (value: number): string => formatQuantity(value, 'A', 3);
const micro = (value: number): string => formatQuantity(value, 'F', 3);

const COLUMNS: readonly DataColumn<Row>[] = [
  { key: 'phases', words: 'phases', unit: '', value: ({ phases }) => phases },
  {
    key: 'inductor',
    words: 'inductor',
    value: ({ inductor }) => inductor.name ?? formatQuantity(inductor.inductance, 'H', 3),
  },
  {
    key: 'winding',
    words: 'ripple of one',
    unit: 'A',
    value: ({ winding }) => winding,
    shown: ({ winding }) => amps(winding),
  },
  { key: 'summed', words: 'of the sum', unit: 'A', value: ({ summed }) => summed, shown: ({ summed }) => amps(summed) },
  {
    key: 'inputRms',
    words: 'input RMS',
    unit: 'A',
    value: ({ inputRms }) => inputRms,
    shown: ({ inputRms }) => amps(inputRms),
  },
  {
    key: 'output',
    words: 'output C',
    unit: 'F',
    folded: true,
    value: ({ outputCapacitance }) => outputCapacitance,
    shown: ({ outputCapacitance }) => micro(outputCapacitance),
  },
  {
    key: 'input',
    words: 'input C',
    unit: 'F',
    folded: true,
    value: ({ inputCapacitance }) => inputCapacitance,
    shown: ({ inputCapacitance }) => micro(inputCapacitance),
  },
  {
    key: 'step',
    words: 'load step',
    unit: 'V',
    value: ({ step }) => step?.deviation,
    shown: ({ step }) =>
      step?.deviation === undefined ? (
        step && <span title={step.reason}>none</span>
      ) : (
        <>
          {step.deviation > step.allowed && <b>over: </b>}
          {formatQuantity(step.deviation, 'V', 3)}
        </>
      ),
  },
  {
    key: 'loss',
    words: 'lost',
    unit: 'W',
    value: ({ figures }) => figures.loss,
    shown: ({ figures }) => formatQuantity(figures.loss, 'W', 3),
  },
  ...LOSS_KINDS.map((kind): DataColumn<Row> => ({
    key: kind,
    words: kind,
    unit: 'W',
    folded: true,
    value: ({ losses }) => losses[kind],
    shown: ({ losses }) => formatQuantity(losses[kind], 'W', 3),
  })),
  {
    key: 'volume',
    words: 'chokes',
    unit: 'mm³',
    folded: true,
    value: ({ inductor }) => inductor.volume && inductor.volume * 1e9,
    shown: ({ inductor }) => (inductor.volume === undefined ? undefined : `${(inductor.volume * 1e9).toFixed(0)} mm³`),
  },
  {
    key: 'board',
    words: 'board',
    unit: 'cm²',
    value: ({ figures }) => 1e4 * figures.area,
    shown: ({ figures }) => `${(1e4 * figures.area).toFixed(1)} cm²`,
  },
  { key: 'parts', words: 'parts', unit: '', folded: true, value: ({ parts }) => parts },
  {
    key: 'price',
    words: 'price',
    unit: '',
    value: ({ figures }) => figures.price,
    shown: ({ figures }) => figures.price.toFixed(2),
  },
  { key: 'misses', words: 'misses', value: ({ misses }) => misses.join(', ') },
];

function CountTable({
  found: { counts, steps, recommended },
  from,
  stale,
}: {
  readonly found: CountedPhases;
  /** The stage that was studied. */
  readonly from: Stage;
  readonly stale: boolean;
}) {
  const document = useSession((session) => session.document);
  const rows = useMemo(
    () => counts.map((count): Row => ({ ...count, step: steps.find(({ phases }) => phases === count.phases) })),
    [counts, steps],
  );
  return (
    <DataTable
      words="Numbers of phases"
      rows={rows}
      rowKey={({ phases }) => String(phases)}
      columns={COLUMNS}
      filter={false}
      picked={({ phases }) => phases === recommended?.phases}
      act={({ phases, stage }) => (
        <Button
          variant="plain"
          // What was studied is no longer the design: taken, it would undo the edit since.
          disabled={stale || document !== from}
          title="Takes the number and its parts, and designs the rest: one step, which undo takes back"
          onClick={() => takeDrafted(from, stage)}
        >
          {phases === from.phases ? 'Design' : 'Take'}
          <span className="visually-hidden"> {phases} phases</span>
        </Button>
      )}
    />
  );
}

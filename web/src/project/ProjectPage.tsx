import {
  formatQuantity,
  parseQuantity,
  type Fed,
  type FlowThrough,
  type StageRecord,
  type SystemCase,
} from '@yundro/core';
import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { api } from '../api/client';
import type { WorkedSystem } from '../engine/systemSurvey';
import { useSurvey } from '../engine/useSurvey';
import { FindOrDo } from '../desk/FindOrDo';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { TopBar } from '../shown/TopBar';
import { useSession } from '../stage/stageSession';
import { useLoadProfile } from '../switches/profile';
import { FlowDrawing } from './FlowDrawing';
import { Interplay } from './Interplay';
import { SingleStages } from './SingleStages';

const SOURCES = [
  { value: 'min', words: 'lowest' },
  { value: 'nominal', words: 'nominal' },
  { value: 'max', words: 'highest' },
] as const;
const LOADS = [
  { value: 1, words: 'full load' },
  { value: 0.5, words: 'half load' },
  { value: 0.1, words: 'a tenth' },
  { value: 0, words: 'lightest load' },
] as const;

const recordKey = (id: string) => ['stage', id] as const;

/** The stages of a project as one system: what feeds what, the power through it, and what it comes to at the source. */
export function ProjectPage() {
  const { id = '' } = useParams();
  const shelf = useQuery({ queryKey: ['shelf'], queryFn: api.shelf });
  const project = shelf.data?.find((one) => one.id === id);
  const rows = useMemo(() => project?.stages.filter(({ facts }) => facts !== null) ?? [], [project]);
  const records = useQueries({
    queries: rows.map((row) => ({ queryKey: recordKey(row.id), queryFn: () => api.stage(row.id) })),
    combine: (found) => ({
      records: found.flatMap(({ data }) => (data ? [data] : [])),
      fault: found.find(({ error }) => error !== null)?.error?.message,
    }),
  });
  // What the desk has saved since is what is fed here, without waiting for it to be read again.
  const queries = useQueryClient();
  const saved = useSession((session) => session.record);
  useEffect(() => {
    if (!saved) return;
    queries.setQueryData<StageRecord>(recordKey(saved.id), (known) =>
      known && known.revision >= saved.revision ? known : saved,
    );
  }, [queries, saved]);
  const stages = useMemo(
    (): readonly Fed[] | undefined =>
      project && records.records.length === rows.length
        ? records.records.map(({ document }) => ({ name: document.name, stage: document }))
        : undefined,
    [project, records, rows.length],
  );
  const fault = shelf.error?.message ?? records.fault;
  return (
    <>
      <TopBar>
        <span className="quiet">{project?.name}</span>
        <span className="push" />
        <FindOrDo />
        <Link to="/library">Parts library</Link>
      </TopBar>
      <main className="project" id="station" tabIndex={-1}>
        <header className="station-head">
          <h1>{project?.name ?? 'Project'}</h1>
          <span className="quiet">what feeds what, and the power through it</span>
        </header>
        {fault !== undefined && (
          <p className="notice bad" role="alert">
            {fault}
          </p>
        )}
        {shelf.data && !project && <p>There is no such project on the shelf.</p>}
        {!stages && fault === undefined && project && <p className="quiet">Reading the stages …</p>}
        {stages && stages.length === 0 && <p className="quiet">The project has no stage yet.</p>}
        {stages && stages.length > 0 && <System stages={stages} records={records.records} />}
      </main>
    </>
  );
}

function System({ stages, records }: { readonly stages: readonly Fed[]; readonly records: readonly StageRecord[] }) {
  const [at, setAt] = useState<SystemCase>({ source: 'nominal', load: 1 });
  const question = useMemo(() => ({ stages, at }), [stages, at]);
  const asked = useSurvey<typeof question, WorkedSystem>(question, (survey, of) => survey.system(of.stages, of.at));
  return (
    <>
      <div className="corner-pick small">
        <label>
          Source voltage{' '}
          <select
            className="pick"
            value={at.source}
            onChange={(event) => setAt({ ...at, source: event.target.value as SystemCase['source'] })}
          >
            {SOURCES.map(({ value, words }) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label>
          loads at{' '}
          <select
            className="pick"
            value={at.load}
            onChange={(event) => setAt({ ...at, load: Number(event.target.value) })}
          >
            {LOADS.map(({ value, words }) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
      <Answered of={asked} what="flow of power" wait={<p className="quiet">The stages are being worked …</p>}>
        {(found) => (
          <>
            <Found found={found} records={records} />
            <SingleStages stages={stages} ways={found.ways} />
          </>
        )}
      </Answered>
      <Interplay stages={stages} at={at} />
      <Feeders records={records} />
      <Life stages={stages} />
      <p className="small quiet">
        Loads at the ends are those of their targets; a stage that feeds others carries what they draw, and nothing
        else. A stage that is not fed by another stands at its own source. Every figure is that of the engine for the
        stage in its operating mode at its hottest ambient.
      </p>
    </>
  );
}

function Found({
  found: { flow, ways, amiss },
  records,
}: {
  readonly found: WorkedSystem;
  readonly records: readonly StageRecord[];
}) {
  const rows = useMemo(
    () =>
      flow.flows.map((one): Row => ({
        ...one,
        way: ways.find(({ name }) => name === one.name),
        drawn: flow.drawn,
        id: records.find(({ document }) => document.name === one.name)?.id,
      })),
    [flow, ways, records],
  );
  const whole = flow.broken.length === 0;
  const costs = flow.flows.map(({ name, loss, atSource }) => ({ name, watts: loss * (atSource ?? 0) }));
  const [gain] = costs.sort((a, b) => b.watts - a.watts);
  return (
    <>
      <FlowDrawing flow={flow} />
      <p data-testid="system-says">
        {formatQuantity(flow.drawn, 'W', 4)} out of the sources, {formatQuantity(flow.delivered, 'W', 4)} into the loads
        {whole ? (
          <>
            : <b>{((100 * flow.delivered) / flow.drawn).toFixed(1)} %</b>.
          </>
        ) : (
          ', as far as the power could be followed: what is told of below is not in it.'
        )}
        {whole &&
          gain &&
          ` A tenth less loss in ${gain.name} saves most: ${formatQuantity(0.1 * gain.watts, 'W', 3)} at the source.`}
      </p>
      {[...amiss, ...flow.broken].map((sentence) => (
        <p key={sentence} className="notice bad mb-1" role="status">
          {sentence}
        </p>
      ))}
      <DataTable
        words="Power through the stages"
        rows={rows}
        rowKey={({ name }) => name}
        columns={COLUMNS}
        filter={false}
      />
    </>
  );
}

interface Row extends FlowThrough {
  readonly way: WorkedSystem['ways'][number] | undefined;
  readonly drawn: number;
  readonly id: string | undefined;
}
const percent = (value: number | undefined): string | undefined =>
  value === undefined ? undefined : `${(100 * value).toFixed(1)} %`;

const COLUMNS: readonly DataColumn<Row>[] = [
  {
    key: 'name',
    words: 'stage',
    value: ({ name }) => name,
    // Its losses, with their workings, stand there.
    shown: ({ name, id }) => (id === undefined ? name : <Link to={`/stages/${id}/efficiency`}>{name}</Link>),
  },
  { key: 'feeder', words: 'fed by', value: ({ feeder }) => feeder ?? 'source' },
  {
    key: 'inputVoltage',
    words: 'input',
    unit: 'V',
    value: ({ inputVoltage }) => inputVoltage,
    shown: ({ inputVoltage }) => formatQuantity(inputVoltage, 'V', 3),
  },
  {
    key: 'outputCurrent',
    words: 'carries',
    unit: 'A',
    value: ({ outputCurrent }) => outputCurrent,
    shown: ({ outputCurrent }) => formatQuantity(outputCurrent, 'A', 3),
  },
  {
    key: 'spare',
    words: 'to spare',
    unit: 'A',
    value: ({ spare }) => spare,
    shown: ({ spare }) => (spare < 0 ? <b>{formatQuantity(spare, 'A', 3)}</b> : formatQuantity(spare, 'A', 3)),
  },
  {
    key: 'input',
    words: 'in',
    unit: 'W',
    value: ({ input }) => input,
    shown: ({ input }) => formatQuantity(input, 'W', 3),
  },
  {
    key: 'loss',
    words: 'lost',
    unit: 'W',
    value: ({ loss }) => loss,
    shown: ({ loss }) => formatQuantity(loss, 'W', 3),
  },
  {
    key: 'atSource',
    words: 'lost, at the source',
    unit: 'W',
    value: ({ loss, atSource }) => (atSource === undefined ? undefined : loss * atSource),
    shown: ({ loss, atSource, drawn }) =>
      atSource === undefined
        ? undefined
        : `${formatQuantity(loss * atSource, 'W', 3)}, ${((100 * loss * atSource) / drawn).toFixed(1)} %`,
  },
  {
    key: 'efficiency',
    words: 'efficiency',
    unit: '',
    value: ({ input, output }) => output / input,
    shown: ({ input, output }) => percent(output / input),
  },
  {
    key: 'through',
    words: 'from the source',
    unit: '',
    value: ({ way }) => way?.through,
    shown: ({ way }) => percent(way?.through),
  },
  {
    key: 'linear',
    words: 'linear regulator there',
    unit: '',
    title: 'A linear regulator from the source to this load, at best',
    value: ({ way }) => way?.linear,
    shown: ({ way }) => percent(way?.linear),
  },
];

/** What feeds each stage: chosen here, and kept in its stage file. */
function Feeders({ records }: { readonly records: readonly StageRecord[] }) {
  const queries = useQueryClient();
  const [fault, setFault] = useState<string>();
  const feed = async ({ id, revision, document }: StageRecord, by: string): Promise<void> => {
    try {
      const saved = await api.saveStage(
        id,
        revision,
        { ...document, fedBy: by === '' ? undefined : by },
        crypto.randomUUID(),
      );
      queries.setQueryData(recordKey(id), saved);
      setFault(undefined);
    } catch (error) {
      setFault(error instanceof Error ? error.message : 'That could not be saved.');
      await queries.invalidateQueries({ queryKey: recordKey(id) });
    }
  };
  return (
    <section aria-label="What feeds each stage" className="mt-3">
      <h2>What feeds each stage</h2>
      {fault !== undefined && (
        <p className="notice bad" role="alert">
          {fault}
        </p>
      )}
      <div className="feeders">
        {records.map((record) => (
          <label key={record.id} className="small">
            <Link to={`/stages/${record.id}`}>{record.document.name}</Link> from{' '}
            <select
              className="pick"
              aria-label={`${record.document.name} is fed by`}
              value={record.document.fedBy ?? ''}
              onChange={(event) => void feed(record, event.target.value)}
            >
              <option value="">a source of its own</option>
              {records
                .filter((one) => one.id !== record.id)
                .map((one) => (
                  <option key={one.id} value={one.document.name}>
                    {one.document.name}
                  </option>
                ))}
            </select>
          </label>
        ))}
      </div>
    </section>
  );
}

/** How long a battery lasts over the hours at each load. */
function Life({ stages }: { readonly stages: readonly Fed[] }) {
  const profile = useLoadProfile((state) => state.profile);
  const [text, setText] = useState('');
  const question = useMemo(() => ({ stages, profile }), [stages, profile]);
  const asked = useSurvey<typeof question, number | undefined>(question, (survey, of) =>
    survey.meanDrawn(of.stages, of.profile),
  );
  const mean = asked.answer?.question === question ? asked.answer.value : undefined;
  const read = text.trim() === '' ? undefined : parseQuantity(text.replace(/h$/i, ''), 'W');
  return (
    <p className="small mt-3">
      <label>
        Battery of{' '}
        <input size={8} value={text} placeholder="500 Wh" onChange={(event) => setText(event.target.value)} />
      </label>{' '}
      {mean === undefined
        ? asked.working
          ? 'The mean draw is being worked …'
          : 'The mean draw is not known: some stage has no flow at some load, or no hours are given.'
        : `Over the hours at each load (station Switches) ${formatQuantity(mean, 'W', 3)} are drawn on average`}
      {mean !== undefined && read?.ok === true && read.value > 0 && `: it lasts ${(read.value / mean).toFixed(1)} h`}
      {mean !== undefined && '.'}
      {read?.ok === false && ' Type watt-hours, such as 500 Wh.'}
    </p>
  );
}

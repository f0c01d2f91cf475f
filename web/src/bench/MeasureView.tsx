import { useMutation, useQuery } from '@tanstack/react-query';
import {
  formatQuantity,
  lackingInstrument,
  nominalInput,
  type Addresses,
  type BenchRun,
  type RunKind,
  type Stage,
  type StartRun,
} from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { api } from '../api/client';
import { InlineField } from '../fields/InlineField';
import { Rare } from '../station/Rare';
import { useSession } from '../stage/stageSession';
import type { BenchFramed } from './BenchStation';
import { benchCondition } from './conditions';
import { ReadingTable } from './ReadingTable';
import { useSetup } from './setup';
import { emptyRun } from './emptyRun';
import { underWay, useRuns } from './useRuns';

const KINDS: readonly { readonly kind: RunKind; readonly words: string }[] = [
  { kind: 'efficiency', words: 'Efficiency' },
  { kind: 'load-regulation', words: 'Load regulation' },
  { kind: 'line-regulation', words: 'Line regulation' },
  { kind: 'ripple', words: 'Ripple' },
  { kind: 'load-step', words: 'Load step' },
  { kind: 'loop', words: 'Loop' },
];
const LOADS = [0.05, 0.1, 0.25, 0.5, 0.75, 1];
const ROLES: readonly { readonly role: keyof Addresses; readonly words: string }[] = [
  { role: 'supply', words: 'Supply' },
  { role: 'load', words: 'Load' },
  { role: 'meter', words: 'Meter' },
  { role: 'oscilloscope', words: 'Oscilloscope' },
  { role: 'analyser', words: 'Analyser' },
];
const NOBODY: Addresses = { supply: '', load: '' };

/** The points of a run over the stage's range. */
function pointsOf(stage: Stage, kind: RunKind): BenchRun['points'] {
  const { inputVoltage, outputCurrent } = stage.targets;
  const nominal = nominalInput(stage);
  const full = outputCurrent.max;
  const inputs = [...new Set([inputVoltage.min, nominal, inputVoltage.max])];
  const grid = (voltages: readonly number[], currents: readonly number[]) =>
    voltages.flatMap((volts) => currents.map((amps) => ({ inputVoltage: volts, outputCurrent: amps })));
  // From full load down, so that the board is warm from the first point on.
  const loads = LOADS.map((share) => share * full).toReversed();
  switch (kind) {
    case 'line-regulation':
      return grid(
        Array.from({ length: 7 }, (_, k) => inputVoltage.min + ((inputVoltage.max - inputVoltage.min) * k) / 6),
        [full / 2],
      );
    case 'load-regulation':
      return grid([nominal], [...loads, 0]);
    case 'ripple':
    case 'load-step':
      return grid(inputs, [full]);
    case 'loop':
      return grid([nominal], [full]);
    default:
      return grid(inputs, loads);
  }
}

/** Runs that the instruments do, with the simulated ones where no others are at hand. */
export function MeasureView({ frame }: BenchFramed) {
  const stage = useSession((session) => session.document);
  const saved = useSession((session) => session.save.kind === 'saved');
  const { stageId, runs, put, refresh } = useRuns();
  const { instruments, serial, ambient } = useSetup();
  const [kind, setKind] = useState<RunKind>('efficiency');
  const [typed, setTyped] = useState<Addresses>();
  const [seed, setSeed] = useState(1);
  const [limit, setLimit] = useState<number>();
  const [settling, setSettling] = useState(0.05);
  const [clear, setClear] = useState(false);
  const standing = useQuery({ queryKey: ['stand-ins'], queryFn: api.standIns });
  const simulated = standing.data?.standIns;
  const own = simulated?.stageId === stageId ? simulated : undefined;
  const addresses = typed ?? own?.addresses ?? NOBODY;
  const usual = stage ? benchCondition(stage).supplyLimit : 1;
  const supplyLimit = Math.min(limit ?? usual, instruments.supply.currentMax);
  const setUp = useMutation({
    mutationFn: () => api.setUpStandIns(stageId, seed, instruments),
    onSuccess: () => {
      setTyped(undefined);
      void standing.refetch();
    },
  });
  const start = useMutation({
    mutationFn: (asked: StartRun) => api.measure(stageId, asked),
    onSuccess: (row) => {
      put(row);
      void refresh();
    },
  });
  const present = runs.find(underWay);
  const shown = present ?? (start.data ? runs.find(({ id }) => id === start.data.id) : undefined);
  if (!stage) return frame({ picture: null });
  const { loadStep, outputCurrent } = stage.targets;
  const step = loadStep
    ? { from: loadStep.from, to: loadStep.to }
    : { from: outputCurrent.max / 4, to: (3 * outputCurrent.max) / 4 };
  const filled = Object.fromEntries(Object.entries(addresses).filter(([, text]) => text !== '')) as Addresses;
  const lacking = lackingInstrument(kind, filled);
  const begin = (): void => {
    const points = pointsOf(stage, kind);
    start.mutate({
      ...emptyRun({
        kind,
        title: KINDS.find((one) => one.kind === kind)?.words ?? kind,
        serial,
        ambient,
        instruments,
        points,
      }),
      asked: {
        addresses: filled,
        supplyLimit,
        settling,
        ...(kind === 'load-step' && { step }),
      },
    });
    // Each time anew: whoever stood back for one run may have come nearer.
    setClear(false);
  };
  const named = addresses.supply !== '' && addresses.load !== '';
  const failure = start.error ?? setUp.error;
  return frame({
    fields: (
      <fieldset>
        <legend>Run</legend>
        <div className="field">
          <label htmlFor="run-kind">Measure</label>
          <select
            id="run-kind"
            className="pick"
            value={kind}
            onChange={({ target }) => setKind(target.value as RunKind)}
          >
            {KINDS.map((one) => (
              <option key={one.kind} value={one.kind}>
                {one.words}
              </option>
            ))}
          </select>
        </div>
        <InlineField
          words="Supply limits at"
          unit="A"
          value={supplyLimit}
          range={[1e-3, instruments.supply.currentMax]}
          onTake={setLimit}
        />
        <InlineField words="Wait at each point" unit="s" value={settling} range={[0, 600]} onTake={setSettling} />
        <label className="small d-block">
          <input type="checkbox" checked={clear} onChange={({ target }) => setClear(target.checked)} /> The board is
          guarded, and nobody touches it.
        </label>
        <Button
          variant="primary"
          className="btn-sm"
          disabled={!named || lacking !== undefined || !clear || present !== undefined || start.isPending}
          onClick={begin}
        >
          Switch on and measure
        </Button>
        <Rare words="Addresses of the instruments">
          {ROLES.map(({ role, words }) => (
            <div className="field" key={role}>
              <label htmlFor={`address-${role}`}>{words}</label>
              <input
                id={`address-${role}`}
                className="inline-number"
                placeholder="host:port"
                value={addresses[role] ?? ''}
                onChange={({ target }) => setTyped({ ...addresses, [role]: target.value.slice(0, 120) })}
              />
            </div>
          ))}
        </Rare>
      </fieldset>
    ),
    picture: (
      <>
        {failure && (
          <p className="notice bad" role="alert">
            {failure.message}
          </p>
        )}
        <section className="sheet-box" aria-label="Simulated instruments">
          <p className="small">
            {own
              ? `Simulated instruments stand about board ${String(own.seed)} of this stage, built within its tolerances: with errors, leads and a limit of their own.`
              : 'Without instruments at hand: simulated ones, spoken to over the same sockets, about a board built within the tolerances of this stage.'}
          </p>
          <label className="small">
            Board{' '}
            <input
              className="inline-number"
              size={4}
              value={seed}
              aria-label="Number of the simulated board"
              onChange={({ target }) => setSeed(Math.min(1e6, Number(target.value.replace(/\D/g, '')) || 0))}
            />
          </label>{' '}
          <Button variant="plain" disabled={setUp.isPending || present !== undefined} onClick={() => setUp.mutate()}>
            {own ? 'Set up another board' : 'Set up simulated instruments'}
          </Button>
          {!saved && <span className="small quiet"> The board is built from the stage as it was last saved.</span>}
        </section>
        <p className="small">
          A run sets the supply to {formatQuantity(supplyLimit, 'A', 3)} at most, goes from full load down, and switches
          supply and load off whatever ends it. Only the addresses named here are spoken to. It takes no responsibility
          from whoever stands beside it: local rules come first.
        </p>
        {shown && <RunUnderWay key={shown.id} id={shown.id} stage={stage} addresses={addresses} />}
        {named ? (
          lacking !== undefined && <p className="quiet">{lacking}</p>
        ) : (
          <p className="quiet">Name the addresses of supply and load, or set up the simulated ones.</p>
        )}
      </>
    ),
  });
}

function RunUnderWay({
  id,
  stage,
  addresses,
}: {
  readonly id: string;
  readonly stage: Stage;
  readonly addresses: Addresses;
}) {
  const { runs, refresh } = useRuns();
  const row = runs.find((one) => one.id === id);
  const act = useMutation({
    mutationFn: (what: () => Promise<unknown>) => what(),
    onSettled: () => void refresh(),
  });
  if (!row) return null;
  const { run } = row;
  const captured = run.kind === 'loop' || run.kind === 'load-step';
  const done = captured ? run.captures.length : run.readings.length;
  return (
    <section aria-label="Run under way">
      <p role="status">
        <strong>{run.title}</strong>: {done} of {run.points.length} points, {run.state}.
        <progress max={run.points.length} value={done} aria-label="Points measured" />
        {run.state === 'running' && (
          <Button variant="plain" onClick={() => act.mutate(() => api.pauseRun(id))}>
            Pause
          </Button>
        )}
        {run.state === 'paused' && (
          <Button variant="plain" onClick={() => act.mutate(() => api.resumeRun(id))}>
            Go on
          </Button>
        )}
        {underWay(row) && (
          <Button variant="plain" onClick={() => act.mutate(() => api.abortRun(id))}>
            End, all off
          </Button>
        )}
        {run.state === 'lost' && (
          <Button variant="plain" onClick={() => act.mutate(() => api.resumeRun(id, addresses))}>
            Take it up again
          </Button>
        )}
      </p>
      {(act.error ?? undefined) && (
        <p className="notice bad" role="alert">
          {act.error?.message}
        </p>
      )}
      {run.problem !== null && (
        <p className="notice bad" role="alert">
          {run.problem}
        </p>
      )}
      {run.readings.length > 0 && <ReadingTable readings={run.readings} instruments={run.instruments} stage={stage} />}
      {captured && done > 0 && (
        <p className="small">The traces are laid over their prediction under “Against the prediction”.</p>
      )}
    </section>
  );
}

import {
  excessOver,
  formatQuantity,
  harmonicWorking,
  NETWORKS,
  readLimit,
  type ConductedNoise,
  type Network,
  type NoiseNotes,
} from '@yundro/core';
import { useMemo } from 'react';
import { Form } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { isStale } from '../engine/inquiry';
import { useSurvey } from '../engine/useSurvey';
import { InlineField } from '../fields/InlineField';
import { PickField } from '../fields/PickField';
import { Answered } from '../shown/Answered';
import { useLookedAt } from '../stage/useCorner';
import { FormView } from '../stage/FormView';
import type { BoardFramed } from './BoardStation';
import { useBoard } from './boardStore';
import { NoiseFilterProposal } from './NoiseFilterProposal';
import { noiseChart } from './noiseChart';

const NAMES = Object.keys(NETWORKS) as Network[];

/** Harmonics behind a measuring network at the corner looked at, against a limit line that is typed in. */
export function NoiseView({ stageId, frame }: BoardFramed) {
  const { board, change } = useBoard(stageId);
  const { noise } = board;
  const put = (part: Partial<NoiseNotes>): void => change((before) => ({ noise: { ...before.noise, ...part } }));
  const looked = useLookedAt();
  const { network, terminal } = noise;
  const question = useMemo(() => looked && { ...looked, network, terminal }, [looked, network, terminal]);
  const asked = useSurvey<NonNullable<typeof question>, ConductedNoise | string>(
    question,
    (survey, { stage, inputVoltage, outputCurrent, ...behind }) =>
      survey.conductedNoise(stage, behind.network, { inputVoltage, outputCurrent }, behind.terminal),
  );
  const read = readLimit(noise.limit);
  return frame({
    fields: (
      <fieldset>
        <legend>Measured</legend>
        <PickField
          id="noise-network"
          words="Network"
          value={network}
          options={NAMES.map((value) => ({ value, words: NETWORKS[value].words }))}
          onPick={(picked) => put({ network: picked })}
        />
        <InlineField
          words="Below the limit by"
          unit="dB"
          value={noise.margin}
          range={[0, 60]}
          onTake={(margin) => put({ margin })}
        />
        <InlineField
          words="Dithered by ±"
          unit="ratio"
          value={noise.deviation}
          range={[0, 0.3]}
          onTake={(deviation) => put({ deviation })}
        />
        <InlineField
          words="Tried at the terminals"
          unit="F"
          value={terminal ?? 0}
          range={[0, 1e-2]}
          onTake={(value) => put({ terminal: value > 0 ? value : undefined })}
        />
        <Form.Label htmlFor="noise-limit" className="small mb-0">
          Limit line: a frequency and a level in dBµV a line
        </Form.Label>
        <Form.Control
          as="textarea"
          id="noise-limit"
          rows={6}
          maxLength={4000}
          placeholder={'150k 66\n500k 56'}
          value={noise.limit}
          aria-invalid={read.kind === 'fault'}
          onChange={({ target }) => put({ limit: target.value })}
        />
        {read.kind === 'fault' && (
          <p className="fault small" role="alert">
            {read.sentence}
          </p>
        )}
      </fieldset>
    ),
    picture: (
      <Answered of={asked} what="noise" wait={<p className="quiet">The harmonics are being worked …</p>}>
        {(found) =>
          typeof found === 'string' ? (
            <p className="quiet">There is no noise to show: {found}.</p>
          ) : (
            <Noise
              found={found}
              limit={read.kind === 'line' ? read.line : []}
              noise={noise}
              question={JSON.stringify([looked?.work, looked?.corner, noise])}
              stale={isStale(asked)}
              onTerminal={() => put({ terminal: undefined })}
            />
          )
        }
      </Answered>
    ),
  });
}

function Noise({
  found,
  limit,
  noise,
  question,
  stale,
  onTerminal,
}: {
  readonly found: ConductedNoise;
  readonly limit: Parameters<typeof excessOver>[1];
  readonly noise: NoiseNotes;
  /** What a proposal of a filter hangs on. */
  readonly question: string;
  readonly stale: boolean;
  readonly onTerminal: () => void;
}) {
  const excess = limit.length > 1 ? excessOver(found.lines, limit, noise.margin, noise.deviation) : undefined;
  // The one that is worst against the limit, or the first.
  const harmonic = found.lines.find(({ frequency }) => frequency === excess?.frequency) ?? found.lines[0];
  return (
    <>
      <p role="status" className="mb-1">
        {limit.length < 2
          ? 'Type the limit that holds for your product, and the attenuation that is wanted stands here.'
          : !excess
            ? 'No harmonic lies within the limit line.'
            : excess.over > 0
              ? `${excess.over.toFixed(1)} dB of attenuation are wanted at ${formatQuantity(excess.frequency, 'Hz', 3)}, the margin included.`
              : `Below the limit by ${(noise.margin - excess.over).toFixed(1)} dB at the worst, at ${formatQuantity(excess.frequency, 'Hz', 3)}.`}
      </p>
      {excess && excess.over > 0 && (
        // Of another question it begins anew.
        <NoiseFilterProposal key={question} noise={noise} limit={limit} stale={stale} onTerminal={onTerminal} />
      )}
      <CurveChart words="Conducted noise" {...noiseChart(found, limit, noise.deviation)} />
      {harmonic && (
        <details>
          <summary>Working, {formatQuantity(harmonic.frequency, 'Hz', 3)}</summary>
          <FormView form={harmonicWorking(harmonic)} />
        </details>
      )}
      <p className="small quiet">
        An estimate of the differential mode, at the corner looked at: the stage solved with the choke of the network
        for its source, from CISPR 16-1-2 and CISPR 25 by memory.{' '}
        {found.edge === undefined
          ? 'The record of the switch states no edge, so edges are sudden: high harmonics come out too large.'
          : `Edges of ${formatQuantity(found.edge, 's', 2)} are counted.`}{' '}
        Noise against earth, and what parasitics of filter and board do above some megahertz, are not in it. A choke
        before the input capacitors alone does little where the network is a small choke itself: it takes a capacitor at
        the terminals too. That of the filter is in the stage; one that is tried stands beside it, and is kept with the
        board. Limits come from the standard of your product; only a laboratory settles them.
      </p>
    </>
  );
}

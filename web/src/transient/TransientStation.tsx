import { formatQuantity, type Stage } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useParams } from 'react-router';
import { SHORT_OHMS, type Watched, type WorkedRun } from '../engine/transientSurvey';
import { QuantityField } from '../fields/QuantityField';
import { useAllJudgements, useLedger } from '../ledger/judgements';
import { Answered, Failed } from '../shown/Answered';
import { CornerWords } from '../stage/CornerFigures';
import { MarginDrivers } from '../stage/MarginDrivers';
import { SurveyWait } from '../stage/SurveyWait';
import { useLookedAt } from '../stage/useCorner';
import { Rare } from '../station/Rare';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { CsvOfRun } from './CsvOfRun';
import { RunFigures } from './RunFigures';
import { useOverlays } from './overlays';
import { RunPicture, type Look } from './RunPicture';
import { RunTools } from './RunTools';
import { SequenceEditor } from './SequenceEditor';
import { useSequence } from './sequences';
import { useRun } from './useRun';

const WATCHED: readonly { readonly view: Watched; readonly words: string }[] = [
  { view: 'load-up', words: 'Load step' },
  { view: 'load-down', words: 'Load release' },
  { view: 'alternating', words: 'Worst rate' },
  { view: 'line-up', words: 'Line step' },
  { view: 'sag', words: 'Sag' },
  { view: 'start-up', words: 'Start-up' },
  { view: 'one-way', words: 'Start, source cannot sink' },
  { view: 'unloaded', words: 'Load off, no feedback' },
  { view: 'short', words: 'Short circuit' },
  { view: 'sequence', words: 'Sequence' },
];

/** What happens, in a sentence. */
function saysWhat(watched: Watched, { load, rate }: WorkedRun, { targets }: Stage): string {
  const { loadStep, inputVoltage } = targets;
  switch (watched) {
    case 'load-up':
    case 'load-down': {
      const to = watched === 'load-up' ? loadStep?.to : loadStep?.from;
      return `The load goes from ${formatQuantity(load, 'A', 3)} to ${formatQuantity(to ?? load, 'A', 3)} at a clock${loadStep?.slewRate === undefined ? ', at once' : `, at ${formatQuantity(loadStep.slewRate, 'A/s', 3)}`}.`;
    }
    case 'alternating':
      return `The load alternates between ${formatQuantity(load, 'A', 3)} and ${formatQuantity(loadStep?.to ?? load, 'A', 3)} at ${formatQuantity(rate ?? 0, 'Hz', 3)}: by its output impedance, no rate swings the stage farther.`;
    case 'sag':
      return `The input falls to ${formatQuantity(inputVoltage.min, 'V', 3)} at a clock, and comes back half-way.`;
    case 'sequence':
      return `From the settled stage at ${formatQuantity(load, 'A', 3)}, step by step.`;
    case 'line-up':
      return `The input goes to ${formatQuantity(inputVoltage.max, 'V', 3)} at a clock, at once.`;
    case 'start-up':
      return 'Every state begins at zero, the load is a resistor.';
    case 'one-way':
      return 'The input is up as the stage starts, and the source takes nothing back: what a pre-biased output returns through a synchronous rectifier stays on the input capacitors.';
    case 'unloaded':
      return `The duty ratio is held at what regulates ${formatQuantity(load, 'A', 3)}, and the load is taken away: without feedback, and with a rectifier that cannot carry the current back, the output climbs.`;
    case 'short':
      return `At a clock ${formatQuantity(SHORT_OHMS, 'ohm', 3)} takes the place of the load. On a bench that burns: a fuse, a shield and someone beside you.`;
  }
}

/** What a held run was of. */
const heldWords = (watched: Watched, inputVoltage: number, { switchingFrequency = 0, targets }: Stage): string =>
  `${(WATCHED.find(({ view }) => view === watched)?.words ?? '').toLowerCase()}, ${formatQuantity(inputVoltage, 'V', 3)} to ${formatQuantity(targets.outputVoltage, 'V', 3)}, ${formatQuantity(switchingFrequency, 'Hz', 3)}`;

/** The stage in time, switch by switch: load and line steps, start-up, a short. */
export function TransientStation() {
  const [watched, setWatched] = useState<Watched>('load-up');
  const { id = '' } = useParams();
  const overlays = useOverlays(id);
  const sequence = useSequence(id);
  const looked = useLookedAt();
  const { asked, part, stopped, stop, go } = useRun(watched, sequence);
  const [look, setLook] = useState<Look>({ lane: 'Output' });
  // While a run goes on, what there is of it takes the place of the run before.
  const waveforms = asked.working || stopped ? part?.waveforms : undefined;
  const sofar = useMemo(() => waveforms && { run: { waveforms } }, [waveforms]);
  return (
    <Station
      title="Transient"
      says={<CornerWords />}
      views={<ViewPick what="What happens" views={WATCHED} shown={watched} onPick={setWatched} />}
      fields={<TransientFields />}
      picture={
        <>
          {watched === 'sequence' && looked && (
            <SequenceEditor
              id={id}
              steps={sequence}
              outputCurrent={looked.outputCurrent}
              inputVoltage={looked.inputVoltage}
            />
          )}
          {asked.working && (
            <p className="small quiet mb-1" role="status">
              {part === undefined ? 'Being made ready' : `${(100 * part.share).toFixed(0)} % simulated`} …{' '}
              <Button variant="plain" onClick={stop}>
                Stop
              </Button>
            </p>
          )}
          {stopped && (
            <p className="quiet my-3" role="status">
              Stopped.{part && ` ${(100 * part.share).toFixed(0)} % was simulated.`}{' '}
              <Button variant="plain" onClick={go}>
                Run it
              </Button>
            </p>
          )}
          {sofar && part ? (
            <RunPicture
              drawn={sofar}
              of={part.of}
              until={part.until}
              stage={part.of.stage}
              overlays={overlays}
              look={look}
              onLook={setLook}
            />
          ) : (
            <Answered of={asked} what="run" wait={null}>
              {(found, question) =>
                found === undefined ? (
                  <SurveyWait working={false} />
                ) : found.kind === 'none' ? (
                  <p className="quiet my-3">There is no run to show: {found.reason}.</p>
                ) : (
                  <>
                    <RunPicture
                      drawn={found}
                      of={question}
                      until={found.run.waveforms.time.at(-1) ?? 1}
                      stage={question.stage}
                      overlays={overlays}
                      look={look}
                      onLook={setLook}
                    />
                    <p className="small quiet mb-1">{saysWhat(question.watched, found, question.stage)}</p>
                    <RunTools
                      worked={found}
                      words={heldWords(question.watched, question.inputVoltage, question.stage)}
                    />
                  </>
                )
              }
            </Answered>
          )}
        </>
      }
    >
      {asked.answer?.value?.kind === 'run' && (
        <Answered of={{ ...asked, failure: undefined }} what="figures of the run" wait={null}>
          {(found, { stage }) =>
            found?.kind === 'run' && (
              <>
                <RunFigures worked={found} />
                <CsvOfRun name={stage.name} waveforms={found.run.waveforms} />
              </>
            )
          }
        </Answered>
      )}
      <PressingDrivers />
    </Station>
  );
}

/** Of the transient targets whose margins press, what drives them. */
function PressingDrivers() {
  const { fails, tight } = useLedger();
  const asked = useAllJudgements()['transient']?.asked;
  return [...fails, ...tight]
    .filter(({ station }) => station === 'transient')
    .map(({ verdict }) =>
      verdict.nominal && verdict.moved && verdict.drivers ? (
        <MarginDrivers
          key={verdict.target}
          line={{ ...verdict, nominal: verdict.nominal, moved: verdict.moved, drivers: verdict.drivers }}
        />
      ) : asked?.failure ? (
        <Failed
          key={verdict.target}
          what={`driver of the ${verdict.quantity}`}
          sentence={asked.failure.sentence}
          retry={asked.retry}
        />
      ) : (
        <p key={verdict.target} className="quiet small">
          What drives the margin of the {verdict.quantity} is being worked …
        </p>
      ),
    );
}

/** What decides a transient beside the loop. */
function TransientFields() {
  return (
    <>
      <fieldset>
        <legend>Load step</legend>
        <QuantityField path={['targets', 'loadStep', 'from']} label="Step from" />
        <QuantityField path={['targets', 'loadStep', 'to']} label="Step to" />
        <QuantityField path={['targets', 'loadStep', 'slewRate']} label="Slew rate" optional />
        <QuantityField path={['targets', 'loadStep', 'deviation']} label="Allowed deviation" optional />
        <QuantityField path={['targets', 'loadStep', 'recoveryTime']} label="Allowed recovery time" optional />
      </fieldset>
      <fieldset>
        <legend>Limits</legend>
        <QuantityField path={['control', 'softStartTime']} label="Soft start" optional />
        <QuantityField path={['control', 'currentLimit']} label="Current limit" optional />
        <QuantityField path={['control', 'dutyMax']} label="Maximum duty" />
        <QuantityField
          path={['control', 'compensator', 'amplifier', 'outputMin']}
          label="Amplifier at least"
          optional
        />
        <QuantityField path={['control', 'compensator', 'amplifier', 'outputMax']} label="Amplifier at most" optional />
      </fieldset>
      <Rare words="Rarely changed">
        <QuantityField path={['control', 'minimumOnTime']} label="Least on-time" />
        <QuantityField path={['control', 'minimumOffTime']} label="Least off-time" optional />
        <QuantityField path={['control', 'preBias']} label="Pre-bias" optional />
      </Rare>
    </>
  );
}

import { completeStage, FAULTS, type NodeFeatures, type SeenBoard, type Stage } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { FaultPictures } from '../engine/benchSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Answered, Failed } from '../shown/Answered';
import { FileButton } from '../shown/FileButton';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import type { BenchFramed } from './BenchStation';
import { benchCondition } from './conditions';
import { Diagnosed } from './Diagnosed';
import { placeChart } from './placeCharts';
import { placeWords } from './places';
import { QuantityCell } from './QuantityCell';

/** Largest file of a trace, bytes. */
const LARGEST = 2e7;

/** What each fault looks like, out of the simulator; and which fault would look like what was seen. */
export function FaultsView({ frame }: BenchFramed) {
  const worked = useWorkedStage();
  const [key, setKey] = useState('ringing');
  const [severity, setSeverity] = useState(0.5);
  const [seen, setSeen] = useState<SeenBoard>({});
  const made = worked && completeStage(worked.stage);
  const complete = made?.ok === true ? made.value : undefined;
  const fault = FAULTS.find((one) => one.key === key);
  const barred = complete && fault?.barred(complete);
  const possible = barred === undefined;
  const question = useMemo(
    () => (worked && possible ? { ...worked, key, severity } : undefined),
    [worked, key, severity, possible],
  );
  const asked = useSurvey<NonNullable<typeof question>, FaultPictures | string>(
    question,
    (survey, { stage, key: of, severity: bad }) => survey.faultPicture(stage, benchCondition(stage), of, bad),
  );
  const byDegrees = fault?.branches.flat().length !== 1;
  return frame({
    setup: false,
    fields: (
      <fieldset>
        <legend>Fault</legend>
        <div className="field">
          <label htmlFor="fault-kind">Kind</label>
          <select id="fault-kind" className="pick" value={key} onChange={({ target }) => setKey(target.value)}>
            {FAULTS.map((one) => (
              <option key={one.key} value={one.key}>
                {one.words}
              </option>
            ))}
          </select>
        </div>
        {byDegrees && (
          <label className="small d-block">
            how bad{' '}
            <input
              type="range"
              min={0}
              max={1}
              step={0.25}
              value={severity}
              onChange={({ target }) => setSeverity(Number(target.value))}
            />
          </label>
        )}
        {fault && (
          <>
            <p className="small">{fault.explains}</p>
            <p className="small">
              <strong>Surest seen</strong> {fault.surest}
            </p>
            <p className="small">
              <strong>Mend</strong> {fault.mend}
            </p>
          </>
        )}
      </fieldset>
    ),
    picture:
      barred !== undefined ? (
        <p className="quiet">This stage cannot have it: {barred}.</p>
      ) : (
        <Answered of={asked} what="picture of the fault" wait={<SurveyWait working />}>
          {(found) => (typeof found === 'string' ? <p className="quiet">{found}</p> : <Pictures {...found} />)}
        </Answered>
      ),
    below: worked && complete && <Reverse stage={worked.stage} seen={seen} setSeen={setSeen} />,
  });
}

function Pictures({ faulty, healthy }: FaultPictures) {
  const [name, setName] = useState('switch node');
  const shown = faulty.find((one) => one.name === name) ?? faulty[0];
  const chart = useMemo(
    () =>
      shown &&
      placeChart(shown, 'with the fault', {
        trace: healthy.find((one) => one.name === shown.name),
        words: 'as it should be',
      }),
    [shown, healthy],
  );
  if (!shown || !chart) return null;
  return (
    <>
      <div className="picture-pick" role="group" aria-label="Place">
        {faulty.map((one) => (
          <button key={one.name} type="button" aria-pressed={one === shown} onClick={() => setName(one.name)}>
            {placeWords(one.name)}
          </button>
        ))}
      </div>
      <CurveChart words={`Board with the fault, ${placeWords(shown.name)}`} {...chart} />
    </>
  );
}

/** Places that one reads with a meter or off a screen. */
const PLACES = [
  'output voltage',
  'input voltage',
  'input current',
  'switch node',
  'inductor current',
  'feedback',
] as const;
const READ = [
  ['mean', 'average'],
  ['valley', 'lowest'],
  ['peak', 'highest'],
] as const;

interface ReverseProps {
  readonly stage: Stage;
  readonly seen: SeenBoard;
  readonly setSeen: (seen: SeenBoard) => void;
}

/** A file that is being read. */
interface Trace {
  /** Its own: two files look alike to who asks whether a question is a new one. */
  readonly id: string;
  readonly file: File;
  readonly place: string;
  readonly stage: Stage;
}

/** From symptoms, or an imported trace, to the faults that would make them. */
function Reverse({ stage, seen, setSeen }: ReverseProps) {
  const [place, setPlace] = useState<string>('switch node');
  const [said, setSaid] = useState<string>();
  const [trace, setTrace] = useState<Trace>();
  const [wanted, setWanted] = useState(false);
  const some = Object.keys(seen).length > 0;
  const put = (at: string, reading: keyof NodeFeatures, value: number): void =>
    setSeen({ ...seen, [at]: { ...seen[at], [reading]: value } });
  // A million lines take a while: they are read off the thread that draws.
  const reading = useSurvey<Trace, undefined>(trace, async (survey, { file, place: at, stage: of }) => {
    const read = await survey.traceAt(of, await file.text(), at);
    setTrace(undefined);
    if (typeof read === 'string') setSaid(`${file.name}: ${read}`);
    else {
      setSeen({ ...seen, [at]: read.features });
      setSaid(`${file.name} at the ${at}: ${read.taken}.`);
    }
    return undefined;
  });
  const bring = (file: File): void => {
    const tooLarge = file.size > LARGEST;
    setSaid(tooLarge ? `${file.name} is larger than 20 MB: give it fewer points.` : `Reading ${file.name} …`);
    if (!tooLarge) setTrace({ id: crypto.randomUUID(), file, place, stage });
  };
  const { loadResistance, inputVoltage, supplyLimit } = benchCondition(stage);
  return (
    <section aria-label="From what was seen to the fault">
      <h2>What was seen, and what makes it</h2>
      <p className="small quiet">
        At {inputVoltage.toPrecision(3)} V from a supply that limits at {supplyLimit.toPrecision(3)} A, into{' '}
        {loadResistance.toPrecision(3)} Ω. Of a place the average at least; a trace brings all of it.
      </p>
      <table className="plain" aria-label="What was seen">
        <thead>
          <tr>
            <th>place</th>
            {READ.map(([, words]) => (
              <th key={words} className="number">
                {words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {PLACES.map((at) => (
            <tr key={at}>
              <td>{at}</td>
              {READ.map(([reading, words]) => (
                <td key={reading} className="number">
                  <QuantityCell
                    name={`${at}, ${words}`}
                    unit={at.includes('current') ? 'A' : 'V'}
                    value={seen[at]?.[reading]}
                    onTake={(value) => value !== undefined && put(at, reading, value)}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="table-acts small">
        <label>
          A trace at{' '}
          <select
            className="pick"
            value={place}
            aria-label="Place of the trace"
            onChange={({ target }) => setPlace(target.value)}
          >
            {PLACES.map((at) => (
              <option key={at}>{at}</option>
            ))}
          </select>
        </label>
        <FileButton words="Bring CSV" accept=".csv,.txt,.tsv" onFile={bring} />
        {some && (
          <Button variant="plain" onClick={() => setSeen({})}>
            Clear
          </Button>
        )}
        <Button variant="plain" disabled={!some || wanted} onClick={() => setWanted(true)}>
          Which fault makes this?
        </Button>
        <span role="status">{said}</span>
      </div>
      {reading.failure && <Failed what="trace" sentence={reading.failure.sentence} retry={reading.retry} />}
      {wanted && some && <Diagnosed stage={stage} seen={seen} />}
    </section>
  );
}

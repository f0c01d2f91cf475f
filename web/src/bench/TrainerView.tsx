import { FAULTS, HEALTHY, type SeenBoard, type Stage } from '@yundro/core';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { HiddenBoard, PlaceTrace } from '../engine/benchSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import type { BenchFramed } from './BenchStation';
import { benchCondition } from './conditions';
import { Diagnosed } from './Diagnosed';
import { faultWords } from './DiagnosisTable';
import { placeChart } from './placeCharts';
import { placeWords } from './places';

/** Minutes a probe costs at each place: what is reached with a meter is cheap, what wants a differential probe or a cut wire is not. */
const COST: Readonly<Record<string, number>> = {
  'output voltage': 1,
  'input voltage': 1,
  'input current': 1,
  feedback: 2,
  'switch node': 2,
  'inductor current': 5,
};
const costOf = (name: string): number => COST[name] ?? 4;

/** A board with a hidden fault: probed place by place at a cost, until one can say what it is. */
export function TrainerView({ frame }: BenchFramed) {
  const worked = useWorkedStage();
  const [seed, setSeed] = useState(() => 1 + Math.floor(Math.random() * 10_000));
  const question = useMemo(() => worked && { ...worked, seed }, [worked, seed]);
  const asked = useSurvey<NonNullable<typeof question>, HiddenBoard | string>(question, (survey, { stage, seed: of }) =>
    survey.hiddenBoard(stage, benchCondition(stage), of),
  );
  const another = (): void => setSeed(seed + 1);
  return frame({
    setup: false,
    fields: (
      <fieldset>
        <legend>Board {seed}</legend>
        <p className="small">
          It came back from assembly and does not do what it should; or it does. Probe as little as you need.
        </p>
        <Button variant="plain" onClick={another}>
          Another board
        </Button>
      </fieldset>
    ),
    picture: (
      <Answered of={asked} what="board" wait={<SurveyWait working />}>
        {(board, { work, stage, seed: of }) =>
          typeof board === 'string' ? (
            <p className="quiet">This board cannot be simulated: {board}. Take another.</p>
          ) : (
            <Board key={`${String(work)} ${String(of)}`} board={board} stage={stage} />
          )
        }
      </Answered>
    ),
  });
}

function Board({ board, stage }: { readonly board: HiddenBoard; readonly stage: Stage }) {
  const [probed, setProbed] = useState<readonly string[]>([]);
  const [name, setName] = useState<string>();
  const [guess, setGuess] = useState('');
  const [answered, setAnswered] = useState<string>();
  const spent = probed.reduce((sum, one) => sum + costOf(one), 0);
  const shown = board.places.find((one) => one.name === name);
  const probe = (one: PlaceTrace): void => {
    if (!probed.includes(one.name)) setProbed([...probed, one.name]);
    setName(one.name);
  };
  return (
    <>
      <div className="picture-pick" role="group" aria-label="Probe at">
        {board.places.map((one) => (
          <button key={one.name} type="button" aria-pressed={one.name === name} onClick={() => probe(one)}>
            {placeWords(one.name)}
            {!probed.includes(one.name) && <span className="quiet"> {costOf(one.name)} min</span>}
          </button>
        ))}
      </div>
      {shown ? (
        <Probed trace={shown} />
      ) : (
        <p className="quiet">Nothing is on the screen yet: choose where to probe. Each place costs some minutes.</p>
      )}
      <p className="small" role="status">
        {spent} min spent at {probed.length === 1 ? 'one place' : `${String(probed.length)} places`}.
      </p>
      {answered === undefined ? (
        <p>
          <label>
            It is{' '}
            <select
              className="pick"
              value={guess}
              aria-label="What is wrong"
              onChange={({ target }) => setGuess(target.value)}
            >
              <option value="">…</option>
              <option value={HEALTHY}>{faultWords(HEALTHY)}</option>
              {FAULTS.map(({ key, words }) => (
                <option key={key} value={key}>
                  {words}
                </option>
              ))}
            </select>
          </label>{' '}
          <Button variant="primary" className="btn-sm" disabled={guess === ''} onClick={() => setAnswered(guess)}>
            Say so
          </Button>
        </p>
      ) : (
        <Solved board={board} stage={stage} probed={probed} answered={answered} spent={spent} />
      )}
    </>
  );
}

function Probed({ trace }: { readonly trace: PlaceTrace }) {
  const chart = useMemo(() => placeChart(trace, placeWords(trace.name)), [trace]);
  return <CurveChart words={`Probed, ${placeWords(trace.name)}`} {...chart} />;
}

interface SolvedProps {
  readonly board: HiddenBoard;
  readonly stage: Stage;
  readonly probed: readonly string[];
  readonly answered: string;
  readonly spent: number;
}

/** What it was, why, and what the places that were probed could have told. */
function Solved({ board, stage, probed, answered, spent }: SolvedProps) {
  const fault = FAULTS.find(({ key }) => key === board.key);
  const seen = useMemo(
    (): SeenBoard =>
      Object.fromEntries(probed.flatMap((one) => (board.features[one] ? [[one, board.features[one]]] : []))),
    [board, probed],
  );
  return (
    <section aria-label="What it was">
      <p>
        <strong>{answered === board.key ? `Right, after ${String(spent)} min` : 'No'}</strong>: {faultWords(board.key)}.
      </p>
      {fault && (
        <>
          <p className="small">{fault.explains}</p>
          <p className="small">
            <strong>Surest seen</strong> {fault.surest} <strong>Mend</strong> {fault.mend}
          </p>
        </>
      )}
      <h2>What the places you probed say</h2>
      {probed.length === 0 ? <p className="quiet">You probed nowhere.</p> : <Diagnosed stage={stage} seen={seen} />}
    </section>
  );
}

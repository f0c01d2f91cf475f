import {
  formatQuantity,
  parseQuantity,
  problemsSentence,
  stageFromDocument,
  targetLine,
  TOPOLOGIES,
  type Stage,
  type Unit,
} from '@yundro/core';
import { useId, useMemo, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { Quantity } from '../shown/Quantity';
import { TAKERS } from '../stage/takers';

interface Props {
  readonly project: string;
  /** Begins the stage; what is not pinned is chosen by the engine. */
  readonly onStart: (stage: Stage) => void;
  readonly onClose: () => void;
}

const NUMBERS = [
  { key: 'low', words: 'Lowest input voltage', unit: 'V' },
  { key: 'high', words: 'Highest input voltage', unit: 'V' },
  { key: 'output', words: 'Output voltage', unit: 'V' },
  { key: 'load', words: 'Full load current', unit: 'A' },
  { key: 'least', words: 'Lowest load, if known', unit: 'A' },
] as const satisfies readonly { readonly key: string; readonly words: string; readonly unit: Unit }[];
type Key = (typeof NUMBERS)[number]['key'];
const EMPTY: Readonly<Record<Key, string>> = { low: '', high: '', output: '', load: '', least: '' };

/** What is usual beside the numbers, offered and not assumed. Common practice. */
const USUAL = [
  {
    key: 'outputRipple',
    words: (of: Read) => `Output ripple ${formatQuantity(0.01 * Math.abs(of.output), 'V', 3)}, 1 % peak to peak`,
    target: (of: Read) => ({ outputRipple: Number((0.01 * Math.abs(of.output)).toPrecision(3)) }),
  },
  {
    key: 'inputRipple',
    words: (of: Read) => `Input ripple ${formatQuantity(0.02 * of.low, 'V', 3)}, 2 % of the lowest input`,
    target: (of: Read) => ({ inputRipple: Number((0.02 * of.low).toPrecision(3)) }),
  },
  {
    key: 'inductorRippleRatio',
    words: () => 'Inductor ripple ratio 0.35',
    target: () => ({ inductorRippleRatio: 0.35 }),
  },
  {
    key: 'margins',
    words: () => 'Phase margin 50°, gain margin 8 dB',
    target: () => ({ phaseMargin: 50, gainMargin: 8 }),
  },
] as const;

/** What a stage is called while its topologies are weighed: its name weighs nothing. */
const UNNAMED = 'New stage';

/** The numbers of the sheet, SI units. */
type Read = Readonly<Record<Key, number>>;

const problemOf = (text: string, unit: Unit): string | undefined => {
  if (text.trim() === '') return undefined;
  return parseQuantity(text, unit).ok ? undefined : `“${text}” cannot be read as a quantity in ${unit}.`;
};

/** The numbers as they stand; undefined while one is missing or cannot be read. */
function readAll(texts: Readonly<Record<Key, string>>): Read | undefined {
  const found: Partial<Record<Key, number>> = {};
  for (const { key, unit } of NUMBERS) {
    // A lowest load that is not known is none at all.
    const read = parseQuantity(key === 'least' && texts[key].trim() === '' ? '0' : texts[key], unit);
    if (!read.ok) return undefined;
    found[key] = read.value;
  }
  return found as Read;
}

function stageOf(name: string, of: Read, topology: string, usual: ReadonlySet<string>) {
  return stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    name,
    topology,
    targets: {
      inputVoltage: { min: of.low, max: of.high },
      outputVoltage: of.output,
      outputCurrent: { min: of.least, max: of.load },
      ...Object.fromEntries(
        USUAL.filter(({ key }) => usual.has(key)).flatMap(({ target }) => Object.entries(target(of))),
      ),
    },
  });
}

/** A new stage from its own numbers: nothing is prefilled that was not meant; the topologies that can do it are weighed at once. */
export function NewStageDialog({ project, onStart, onClose }: Props) {
  const id = useId();
  const [name, setName] = useState('');
  const [line, setLine] = useState('');
  const [texts, setTexts] = useState(EMPTY);
  const [usual, setUsual] = useState<ReadonlySet<string>>(new Set());
  const [picked, setPicked] = useState<string>();
  const numbers = useMemo(() => readAll(texts), [texts]);
  // Whatever can do anything takes the numbers for the weighing.
  const weighed = useMemo(() => {
    if (!numbers) return undefined;
    const tried = TAKERS.map((one) => stageOf(UNNAMED, numbers, one, usual));
    const taken = tried.find((read) => read.ok);
    const [first] = tried;
    return taken ? { stage: taken.value } : first?.ok === false ? problemsSentence(first.problems) : undefined;
  }, [numbers, usual]);
  const asked = typeof weighed === 'object' ? weighed : undefined;
  const advice = useSurvey(asked, (survey, { stage }) => survey.advice(stage));
  const able = advice.answer?.value.topologies.filter((one) => one.able) ?? [];
  const current = asked !== undefined && advice.answer?.question === asked;
  const topology = able.find((one) => one.topology === picked)?.topology ?? able[0]?.topology;
  const impossible = typeof weighed === 'string' ? weighed : undefined;
  const stage = current && numbers && topology ? stageOf(name.trim(), numbers, topology, usual) : undefined;
  const ready = name.trim() !== '' && stage?.ok === true ? stage.value : undefined;
  const understand = (text: string): void => {
    setLine(text);
    const read = targetLine(text);
    if (!read) return;
    const write = (value: number | undefined, unit: Unit, otherwise: string): string =>
      value === undefined ? otherwise : formatQuantity(value, unit);
    setTexts((before) => ({
      ...before,
      low: write(read.inputVoltage.min, 'V', before.low),
      high: write(read.inputVoltage.max, 'V', before.high),
      output: write(read.outputVoltage, 'V', before.output),
      load: write(read.outputCurrent, 'A', before.load),
    }));
  };
  return (
    <Modal show centered onHide={onClose} aria-labelledby={id} className="new-stage">
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) onStart(ready);
        }}
      >
        <Modal.Body>
          <h2 id={id}>New stage in {project}</h2>
          <Form.Group className="mt-2" controlId={`${id}-name`}>
            <Form.Label>Name</Form.Label>
            <Form.Control autoFocus maxLength={120} value={name} onChange={(event) => setName(event.target.value)} />
          </Form.Group>
          <Form.Group className="mt-2" controlId={`${id}-line`}>
            <Form.Label>What it is for, in a line</Form.Label>
            <Form.Control
              placeholder="20-29.2 V to 12 V 8 A"
              autoComplete="off"
              value={line}
              onChange={(event) => understand(event.target.value)}
            />
          </Form.Group>
          <div className="pair mt-2">
            {NUMBERS.map(({ key, words, unit }) => {
              const problem = problemOf(texts[key], unit);
              return (
                <div className={`field ${problem === undefined ? '' : 'wrong'}`} key={key}>
                  <label htmlFor={`${id}-${key}`}>{words}</label>
                  <div className="entry">
                    <input
                      id={`${id}-${key}`}
                      autoComplete="off"
                      value={texts[key]}
                      onChange={(event) => setTexts({ ...texts, [key]: event.target.value })}
                    />
                    {texts[key] === '' && <span className="unit">{unit}</span>}
                  </div>
                  {problem !== undefined && (
                    <div className="fault" role="alert">
                      {problem}
                    </div>
                  )}
                </div>
              );
            })}
          </div>
          {impossible !== undefined && (
            <p className="fault small" role="alert">
              {impossible}
            </p>
          )}
          <fieldset className="weighed mt-2">
            <legend>Form</legend>
            {!numbers && <p className="quiet small">The topologies are weighed as soon as the four numbers stand.</p>}
            {asked && (
              <Answered
                of={advice}
                what="advice on the topology"
                wait={<p className="quiet small">Every topology is being sized for these numbers …</p>}
              >
                {({ topologies }) =>
                  topologies.map(({ topology: one, able: can, reasons, figures }) => (
                    <label key={one} title={reasons.join(' ')} className={can ? '' : 'quiet'}>
                      <input
                        type="radio"
                        name={`${id}-topology`}
                        disabled={!can}
                        checked={one === topology}
                        onChange={() => setPicked(one)}
                      />
                      <span>{TOPOLOGIES[one].words}</span>
                      <span className="small quiet">
                        {can && figures ? (
                          <>
                            D to {figures.dutyMax.toFixed(2)}, switch sees{' '}
                            <Quantity value={figures.switchVoltage} unit="V" digits={3} />, loses{' '}
                            <Quantity value={figures.conductionLoss} unit="W" digits={2} />
                          </>
                        ) : (
                          reasons[0]
                        )}
                      </span>
                    </label>
                  ))
                }
              </Answered>
            )}
          </fieldset>
          {numbers && (
            <fieldset className="mt-2">
              <legend>Ask for what is usual too</legend>
              {USUAL.map(({ key, words }) => (
                <label key={key} className="d-block">
                  <input
                    type="checkbox"
                    checked={usual.has(key)}
                    onChange={() => {
                      const next = new Set(usual);
                      if (!next.delete(key)) next.add(key);
                      setUsual(next);
                    }}
                  />{' '}
                  {words(numbers)}
                </label>
              ))}
            </fieldset>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" disabled={ready === undefined}>
            Start the stage
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}

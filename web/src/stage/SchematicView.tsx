import { elementWords, formatQuantity } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { SchematicDrawing } from '../charts/SchematicDrawing';
import { valueAtTime } from '../charts/traces';
import type { Drawn } from '../engine/engine';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { Quantity } from '../shown/Quantity';
import { elementDetails, elementValue } from './elementValue';
import { showPicture, showTrace } from './stageView';
import { useLookedAt } from './useCorner';

/** Steps of the scrubber over the period. */
const STEPS = 400;
/** A step into the period before it is looked at: neither side of an edge. */
const FIRST_STEP = STEPS * 0.08;

/** The stage drawn from its circuit, at an instant of the switching period that can be moved. */
export function SchematicView() {
  const looked = useLookedAt();
  const [phase, setPhase] = useState(0);
  const asked = useWorked(looked && { ...looked, phase }, (engine, question) =>
    engine.schematic(question.work, question.corner, question.phase),
  );
  return (
    <Answered of={asked} what="drawing" wait={<p className="quiet">The stage is being drawn …</p>}>
      {(drawn) =>
        drawn ? (
          <Drawing drawn={drawn} phase={phase} onPhase={setPhase} />
        ) : (
          <p className="quiet">The drawing appears when the stage has an operating point here.</p>
        )
      }
    </Answered>
  );
}

interface DrawingProps {
  readonly drawn: Drawn;
  readonly phase: number;
  readonly onPhase: (phase: number) => void;
}

/** The drawing with its scrubber, and the part picked. */
function Drawing({ drawn, phase, onPhase }: DrawingProps) {
  const [step, setStep] = useState(FIRST_STEP);
  const [picked, setPicked] = useState<string>();
  const time = (step / STEPS) * drawn.period;
  const drawnNames = drawn.schematic.elements.map(({ element }) => element.name);
  const selected = picked !== undefined && drawnNames.includes(picked) ? picked : undefined;
  return (
    <>
      <SchematicDrawing
        drawn={drawn}
        time={time}
        valueOf={elementValue}
        selected={selected}
        onSelect={(name) => setPicked(name === selected ? undefined : name)}
      />
      <Scrubber drawn={drawn} step={step} onStep={setStep} />
      <div className="schematic-notes">
        {drawn.phases > 1 && (
          <label>
            Phase drawn{' '}
            <select
              aria-label="Phase drawn"
              value={Math.min(phase, drawn.phases - 1)}
              onChange={(event) => onPhase(Number(event.target.value))}
            >
              {Array.from({ length: drawn.phases }, (_, k) => (
                <option key={k} value={k}>
                  {k + 1}
                </option>
              ))}
            </select>
          </label>
        )}
        {selected === undefined ? (
          <span className="quiet">
            Thick lines carry current now, by their width; pick a part for its figures and waveforms.
          </span>
        ) : (
          <Selected drawn={drawn} name={selected} time={time} />
        )}
      </div>
    </>
  );
}

interface ScrubberProps {
  readonly drawn: Drawn;
  readonly step: number;
  readonly onStep: (step: number) => void;
}

/** Moves the instant looked at over one period, and says what conducts then. */
function Scrubber({ drawn: { period, stretches, schematic }, step, onStep }: ScrubberProps) {
  const time = (step / STEPS) * period;
  const stretch = stretches.findLastIndex(({ start }) => start <= time);
  const shown = new Set(schematic.elements.map(({ element }) => element.name));
  const conducting = (stretches[stretch]?.conducting ?? []).filter((name) => shown.has(name));
  const go = (to: number): void => {
    const start = stretches[to]?.start;
    const end = stretches[to + 1]?.start ?? period;
    if (start !== undefined) onStep(((start + end) / 2 / period) * STEPS);
  };
  return (
    <div className="scrubber">
      <Button variant="plain" disabled={stretch <= 0} onClick={() => go(stretch - 1)}>
        Before
      </Button>
      <input
        type="range"
        min={0}
        max={STEPS - 1}
        value={Math.round(step)}
        aria-label="Instant of the period"
        aria-valuetext={formatQuantity(time, 's', 4)}
        onChange={(event) => onStep(Number(event.target.value))}
      />
      <Button variant="plain" disabled={stretch >= stretches.length - 1} onClick={() => go(stretch + 1)}>
        After
      </Button>
      <span className="value">
        <Quantity value={time} unit="s" /> of <Quantity value={period} unit="s" />
      </span>
      <span className="quiet" data-testid="conducting">
        {conducting.length === 0
          ? 'no switch or diode conducts'
          : `${conducting.map((name) => elementWords(name).words).join(' and ')} ${conducting.length === 1 ? 'conducts' : 'conduct'}`}
      </span>
    </div>
  );
}

/** The figures of one part at the instant looked at. */
function Selected({ drawn, name, time }: { readonly drawn: Drawn; readonly name: string; readonly time: number }) {
  const placed = drawn.schematic.elements.find(({ element }) => element.name === name);
  const current = drawn.currents[name];
  const voltage = drawn.voltages[name];
  if (!placed || !current || !voltage) return null;
  const amps = valueAtTime(current, drawn.period, time);
  const volts = valueAtTime(voltage, drawn.period, time);
  return (
    <span>
      <b>{elementWords(name).words}</b> ({elementDetails(placed.element)}): now <Quantity value={amps} unit="A" />,{' '}
      <Quantity value={volts} unit="V" />, <Quantity value={amps * volts} unit="W" />.{' '}
      <Button
        variant="plain"
        onClick={() => {
          showTrace(0, `current:${name}`);
          showTrace(1, `voltage:${name}`);
          showPicture('waveforms');
        }}
      >
        Show its waveforms
      </Button>
    </span>
  );
}

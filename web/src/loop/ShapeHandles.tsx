import {
  completeCompensator,
  componentsOf,
  compensatorResponse,
  decibels,
  formatQuantity,
  preferredComponents,
  shapeOf,
  steppedComponents,
  type Compensator,
  type LoopReport,
  type Shape,
  type ShapeHandle,
  type Stage,
} from '@yundro/core';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { useSurvey } from '../engine/useSurvey';
import { putPart } from '../stage/editing';
import { useSession } from '../stage/stageSession';
import type { LookedAt } from '../stage/useCorner';
import { endShaping, shape } from './shaping';

/** Steps of a handle over the whole axis. */
const STEPS = 1000;
/** Range of the gain handle about the present gain, dB, and its steps in a dB. */
const GAIN_RANGE = 40;
const GAIN_STEPS = 10;

const COMPONENT_WORDS = [
  ['rZero', 'ohm', 'zero resistor'],
  ['cZero', 'F', 'zero capacitor'],
  ['cPole', 'F', 'pole capacitor'],
  ['rFeedforward', 'ohm', 'feed-forward resistor'],
  ['cFeedforward', 'F', 'feed-forward capacitor'],
] as const;

/**
 * Handles of the compensator's zeros, poles and gain, on the frequency axis of the picture above. While one is moved the loop is
 * shown as plant times compensator; let go, the components are rounded to preferred values and the exact loop is worked.
 */
export function ShapeHandles({ report, looked }: { readonly report: LoopReport; readonly looked: LookedAt }) {
  const { stage } = looked;
  const document = useSession((session) => session.document);
  const plantsOf = usePlantStage(stage);
  const asked = useSurvey(plantsOf, (survey, question) => survey.plants(question.stage));
  const plants = asked.answer?.question.stage === plantsOf.stage ? asked.answer.value : undefined;
  const [moved, setMoved] = useState<Shape>();
  const drawing = useRef(0);
  useEffect(
    () => () => {
      cancelAnimationFrame(drawing.current);
      endShaping();
    },
    [],
  );
  const whole = document && completeCompensator(document.control);
  const complete = whole?.ok === true ? whole.value : undefined;
  const at = report.crossover.kind === 'found' ? report.crossover.value : (report.points[0]?.frequency ?? 1);
  const present = useMemo((): Shape | undefined => {
    if (!complete) return undefined;
    const { re, im } = compensatorResponse(complete)(at);
    return { ...shapeOf(complete), at, gain: Math.hypot(re, im) };
  }, [complete, at]);
  const shaped = moved ?? present;
  if (!complete || !present || !shaped || !document) return null;

  const low = Math.log10(report.points[0]?.frequency ?? 1);
  const span = Math.log10(report.points.at(-1)?.frequency ?? 10) - low;
  const compensatorOf = (next: Shape): Compensator | undefined => {
    const components = componentsOf(next, complete);
    return components && { network: complete.network, amplifier: complete.amplifier, components };
  };
  const move = (next: Shape): void => {
    const compensator = compensatorOf(next);
    if (!compensator || !plants) return;
    setMoved(next);
    // A hand moves a handle more often than the screen is drawn: once for each time it is.
    cancelAnimationFrame(drawing.current);
    drawing.current = requestAnimationFrame(() => shape(stage, compensator, plants, looked));
  };
  const letGo = (): void => {
    cancelAnimationFrame(drawing.current);
    const compensator = moved && compensatorOf(moved);
    if (compensator)
      putPart(['control', 'compensator'], { ...compensator, components: preferredComponents(compensator.components) });
    setMoved(undefined);
    endShaping();
  };
  // A press of an arrow key is one step of the preferred series, at once; further keys move the handle as dragging does.
  const press = (event: KeyboardEvent, handle: ShapeHandle): void => {
    const up = event.key === 'ArrowRight' || event.key === 'ArrowUp';
    if (!up && event.key !== 'ArrowLeft' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    const components = steppedComponents(present, handle, up ? 1 : -1, document.control, complete);
    if (!components) return;
    putPart(['control', 'compensator'], { network: complete.network, amplifier: complete.amplifier, components });
  };
  const listeners = { onPointerUp: letGo, onKeyUp: letGo, onBlur: letGo };
  const handle = (kind: 'zeros' | 'poles', k: number) => {
    const value = shaped[kind][k] ?? 1;
    const words = `${kind === 'zeros' ? 'zero' : 'pole'}${shaped[kind].length > 1 ? ` ${String(k + 1)}` : ''}`;
    return (
      <label key={words} className="handle">
        <span>{words}</span>
        <input
          type="range"
          min={0}
          max={STEPS}
          value={Math.round((STEPS * (Math.log10(value) - low)) / span)}
          aria-label={`Frequency of ${words}`}
          aria-valuetext={formatQuantity(value, 'Hz', 3)}
          onChange={(event) => {
            const frequency = 10 ** (low + (span * Number(event.target.value)) / STEPS);
            move({ ...shaped, [kind]: shaped[kind].map((one, i) => (i === k ? frequency : one)) });
          }}
          onKeyDown={(event) => press(event, { of: kind, place: k })}
          {...listeners}
        />
        <span className="number">{formatQuantity(value, 'Hz', 3)}</span>
      </label>
    );
  };
  const gain = decibels({ re: shaped.gain, im: 0 });
  const middle = decibels({ re: present.gain, im: 0 });
  const parts = componentsOf(shaped, complete);
  return (
    <section aria-label="Shape of the compensator" className="handles">
      {shaped.zeros.map((_, k) => handle('zeros', k))}
      {shaped.poles.map((_, k) => handle('poles', k))}
      <label className="handle">
        <span>gain</span>
        <input
          type="range"
          min={-GAIN_RANGE * GAIN_STEPS}
          max={GAIN_RANGE * GAIN_STEPS}
          value={Math.round((gain - middle) * GAIN_STEPS)}
          aria-label="Gain of the compensator"
          aria-valuetext={`${gain.toFixed(1)} dB`}
          onChange={(event) =>
            move({ ...shaped, gain: 10 ** ((middle + Number(event.target.value) / GAIN_STEPS) / 20) })
          }
          onKeyDown={(event) => press(event, { of: 'gain' })}
          {...listeners}
        />
        <span className="number">{gain.toFixed(1)} dB</span>
      </label>
      {parts && (
        <p className="small quiet" data-testid="shaped-parts">
          {COMPONENT_WORDS.flatMap(([key, unit, words]) =>
            parts[key] === undefined ? [] : [`${words} ${formatQuantity(parts[key], unit, 3)}`],
          ).join(', ')}
        </p>
      )}
    </section>
  );
}

/** The stage for whose plants is asked: the same one while only its compensator changes, on which they do not depend. */
function usePlantStage(stage: Stage): { readonly stage: Stage } {
  const key = JSON.stringify({ ...stage, control: { ...stage.control, compensator: undefined } });
  // eslint-disable-next-line react-hooks/exhaustive-deps
  return useMemo(() => ({ stage }), [key]);
}

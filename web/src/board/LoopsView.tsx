import {
  elementWords,
  formatQuantity,
  loopKey,
  ringingWith,
  ringWorking,
  type LoopGeometry,
  type WorstLoop,
} from '@yundro/core';
import { useState } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { SchematicDrawing } from '../charts/SchematicDrawing';
import { isStale } from '../engine/inquiry';
import { useWorked } from '../engine/useWorked';
import { InlineField } from '../fields/InlineField';
import { PickField } from '../fields/PickField';
import { Answered } from '../shown/Answered';
import { elementValue } from '../stage/elementValue';
import { FormView } from '../stage/FormView';
import { useLookedAt } from '../stage/useCorner';
import type { BoardFramed } from './BoardStation';
import { EdgeNetlist } from './EdgeNetlist';
import { USUAL_LOOP, useBoard } from './boardStore';
import { areaChart, inductanceOf, loopForm } from './loopCharts';

const LENGTH = [0.1e-3, 0.5] as const;
const HEIGHT = [0.02e-3, 20e-3] as const;

const SIDES = [
  { key: 'length', words: 'Length' },
  { key: 'breadth', words: 'Breadth' },
  { key: 'width', words: 'Width of the copper' },
] as const;

const wordsOf = ({ devices }: Pick<WorstLoop, 'devices'>): string =>
  devices.map((name) => elementWords(name).words).join(' and ');
/** Phases are drawn one at a time: that of a loop by the number of its devices. */
const phaseOf = ({ devices }: Pick<WorstLoop, 'devices'>): number => Number(/\d+/.exec(devices[0])?.[0] ?? 1) - 1;

/** The loops that carry a switched current, each drawn, with what its copper costs. */
export function LoopsView({ stageId, asked, frame }: BoardFramed) {
  const { board, change } = useBoard(stageId);
  const [picked, setPicked] = useState<string>();
  const loops = asked.answer?.value?.loops ?? [];
  const loop = loops.find((one) => loopKey(one) === picked) ?? loops[0];
  const key = loop ? loopKey(loop) : '';
  const geometry = board.geometry[key] ?? USUAL_LOOP;
  const put = (part: Partial<LoopGeometry>): void =>
    change((before) => ({ geometry: { ...before.geometry, [key]: { ...geometry, ...part } } }));
  return frame({
    fields: (
      <fieldset>
        <legend>Laid out</legend>
        {loops.length > 1 && (
          <PickField
            id="loop"
            words="Loop"
            value={key}
            options={loops.map((one) => ({ value: loopKey(one), words: wordsOf(one) }))}
            onPick={setPicked}
          />
        )}
        {SIDES.map(({ key: side, words }) => (
          <InlineField
            key={side}
            words={words}
            unit="m"
            value={geometry[side]}
            range={LENGTH}
            onTake={(value) => put({ [side]: value })}
          />
        ))}
        <PickField
          id="loop-plane"
          words="Under it"
          value={geometry.height === undefined ? 'nothing' : 'plane'}
          options={[
            { value: 'plane', words: 'whole plane' },
            { value: 'nothing', words: 'no plane' },
          ]}
          onPick={(under) => put({ height: under === 'plane' ? (USUAL_LOOP.height ?? 0.2e-3) : undefined })}
        />
        {geometry.height !== undefined && (
          <InlineField
            words="Height over it"
            unit="m"
            value={geometry.height}
            range={HEIGHT}
            onTake={(height) => put({ height })}
          />
        )}
      </fieldset>
    ),
    picture: (
      <Answered of={asked} what="board" wait={<p className="quiet">The loops are being looked for …</p>}>
        {(needs) =>
          !needs ? (
            <p className="quiet">The loops appear when the stage has all its parts.</p>
          ) : !loop ? (
            <p className="quiet">No current turns over from one device to another at any corner.</p>
          ) : (
            <>
              <LoopDrawing loop={loop} />
              <Ringing loop={loop} geometry={geometry} stale={isStale(asked)} />
            </>
          )
        }
      </Answered>
    ),
    below: (
      <Answered of={asked} what="board" wait={null} beside>
        {(needs) =>
          loop &&
          needs && <Figures loops={needs.loops} geometryOf={(of) => board.geometry[loopKey(of)] ?? USUAL_LOOP} />
        }
      </Answered>
    ),
  });
}

/** The stage at the corner looked at, with the copper of the loop marked. */
function LoopDrawing({ loop }: { readonly loop: WorstLoop }) {
  const looked = useLookedAt();
  const phase = phaseOf(loop);
  const drawing = useWorked(looked && { ...looked, phase }, async (engine, question) => {
    const drawn = await engine.schematic(question.work, question.corner, question.phase);
    const here = await engine.hotLoops(question.work, question.corner);
    return drawn && here && { drawn, here };
  });
  const [selected, setSelected] = useState<string>();
  return (
    <Answered of={drawing} what="drawing" wait={<p className="quiet">The stage is being drawn …</p>}>
      {(found) => {
        const instant = found?.here.find((one) => loopKey(one) === loopKey(loop))?.instant;
        return (
          found && (
            <>
              <SchematicDrawing
                drawn={found.drawn}
                time={instant ?? 0}
                valueOf={elementValue}
                selected={selected}
                onSelect={setSelected}
                hotAt={instant}
              />
              <p className="small quiet mb-2">
                {instant === undefined
                  ? 'At the corner looked at no current turns over here.'
                  : `Marked: what carries the ${formatQuantity(loop.current, 'A', 3)} (at the worst corner) in one interval and not in the next. Its copper comes first.`}
              </p>
            </>
          )
        );
      }}
    </Answered>
  );
}

/** What the loop does as it is laid out, in a sentence, and over its area. */
function Ringing({
  loop,
  geometry,
  stale,
}: {
  readonly loop: WorstLoop;
  readonly geometry: LoopGeometry;
  readonly stale: boolean;
}) {
  const inductance = inductanceOf(geometry);
  const chart = areaChart(loop, geometry);
  return (
    <>
      <p role="status" className="mb-1">
        {formatQuantity(inductance, 'H', 2)} as laid out{ringingSentence(loop, ringingWith(loop, inductance))}
      </p>
      {chart && <CurveChart words="Peak voltage at the most, against the area of the loop" {...chart} />}
      <EdgeNetlist key={loopKey(loop)} loop={loop} inductance={inductance} stale={stale} />
      <details>
        <summary>Working</summary>
        <FormView form={loopForm(geometry)} />
        {ringWorking(loop, inductance).map((form) => (
          <FormView key={form.name} form={form} />
        ))}
      </details>
    </>
  );
}

function ringingSentence({ blocked, rating, rings }: WorstLoop, ringing: ReturnType<typeof ringingWith>): string {
  if (!ringing)
    return '. What it rings with is not reckoned: the record of the device that blocks states no output charge. Fill what is typical, under Targets, or choose a part from the library.';
  const volts = (value: number): string => formatQuantity(value, 'V', 3);
  const most = blocked + ringing.most;
  const held =
    rating === undefined
      ? '; no rating is stated.'
      : most > rating
        ? `, beyond the rating of ${volts(rating)}: less copper, a slower edge by a gate resistor, or a snubber.`
        : ` of ${volts(rating)}.`;
  const left =
    rings?.recoveryCharge === undefined
      ? ' The recovery of the diode that is turned off is not stated, and is left out: it makes it more.'
      : '';
  return `: it rings at ${formatQuantity(ringing.frequency, 'Hz', 2)} to about ${volts(blocked + ringing.overshoot)}, at the most to ${volts(most)}${held}${left}`;
}

function Figures({
  loops,
  geometryOf,
}: {
  readonly loops: readonly WorstLoop[];
  readonly geometryOf: (loop: WorstLoop) => LoopGeometry;
}) {
  const square = { length: 10e-3, breadth: 10e-3 };
  return (
    <>
      <table className="plain" aria-label="Hot loops">
        <thead>
          <tr>
            <th scope="col">loop of</th>
            <th scope="col">closed by</th>
            <th scope="col" className="number">
              turns over
            </th>
            <th scope="col" className="number">
              rms
            </th>
            <th scope="col" className="number">
              in
            </th>
            <th scope="col" className="number">
              a square centimetre, no plane
            </th>
            <th scope="col" className="number">
              and rises to
            </th>
          </tr>
        </thead>
        <tbody>
          {loops.map((loop) => {
            const inductance = inductanceOf({ ...geometryOf(loop), ...square, height: undefined });
            const ringing = ringingWith(loop, inductance);
            return (
              <tr key={loopKey(loop)}>
                <td>{wordsOf(loop)}</td>
                <td>
                  {loop.hops.flatMap(({ elements }) => elements.map((name) => elementWords(name).words)).join(', ')}
                </td>
                <td className="number">{formatQuantity(loop.current, 'A', 3)}</td>
                <td className="number">{formatQuantity(loop.rms, 'A', 3)}</td>
                <td className="number">
                  {loop.edgeStated ? '' : 'assumed '}
                  {formatQuantity(loop.edge, 's', 2)}
                </td>
                <td className="number">{formatQuantity(inductance, 'H', 2)}</td>
                <td className="number">
                  {ringing ? formatQuantity(loop.blocked + ringing.most, 'V', 3) : 'not stated'}
                  {ringing && loop.rings?.recoveryCharge === undefined ? ', without recovery' : ''}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="small quiet">
        Each figure at its worst corner. The edge is that of the main switch with its driver; the ring starts with the
        recovery of the diode that is turned off, as a triangle. Linear, with the capacitance at the voltage blocked,
        and ramp and recovery at their worst together: measure with a short ground spring before you trust it.
      </p>
    </>
  );
}

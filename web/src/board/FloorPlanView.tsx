import {
  formatQuantity,
  judgePlan,
  laidLoops,
  placementOrder,
  ringWorking,
  wayWorking,
  type JudgedPlan,
  type JudgedRule,
  type Placed,
  type Placement,
  type PlanGround,
  type PlanNotes,
  type Point,
} from '@yundro/core';
import { useMemo, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { isStale } from '../engine/inquiry';
import type { FloorPlan } from '../engine/boardSurvey';
import { useSurvey } from '../engine/useSurvey';
import { InlineField } from '../fields/InlineField';
import { PickField } from '../fields/PickField';
import { Answered } from '../shown/Answered';
import { savePng, saveSvg } from '../shown/svgPicture';
import { FormView } from '../stage/FormView';
import { useWorkedStage } from '../stage/useCorner';
import type { BoardFramed } from './BoardStation';
import { useBoard } from './boardStore';
import { EdgeNetlist } from './EdgeNetlist';
import { PlanDrawing } from './PlanDrawing';

const HEIGHT = [0.02e-3, 20e-3] as const;
const USUAL_PLANE = 0.2e-3;
/** Parts lie on a grid of so much, m. */
const GRID = 0.1e-3;
const onGrid = (metres: number): number => Math.round(metres / GRID) * GRID;

/** Parts of one bank, or switches in parallel. */
const togetherWith = ({ outlines }: PlanGround, key: string): readonly string[] => {
  const element = outlines.find((one) => one.key === key)?.element;
  return element === undefined ? [key] : outlines.filter((one) => one.element === element).map((one) => one.key);
};

const moved = (placement: Placement, keys: readonly string[], by: Point): Placement => ({
  ...placement,
  ...Object.fromEntries(
    keys.flatMap((key) => {
      const placed = placement[key];
      return placed ? [[key, { ...placed, x: onGrid(placed.x + by.x), y: onGrid(placed.y + by.y) }]] : [];
    }),
  ),
});

/** The parts of the stage on a board: placed by a proposal, moved by the designer, judged as they move. */
export function FloorPlanView({ stageId, frame }: BoardFramed) {
  const { board, change } = useBoard(stageId);
  const worked = useWorkedStage();
  const asked = useSurvey(worked, (survey, { stage }) => survey.floorPlan(stage));
  const found = asked.answer?.value;
  return (
    <Planned
      key={stageId}
      name={worked?.stage.name ?? ''}
      found={found}
      stale={isStale(asked)}
      notes={board.plan}
      onNotes={(part) => change(({ plan }) => ({ plan: { ...plan, ...part } }))}
      frame={(parts) =>
        frame({
          fields: parts.fields,
          below: (
            <Answered of={asked} what="floor plan" wait={null} beside>
              {() => parts.below}
            </Answered>
          ),
          picture: (
            <Answered of={asked} what="floor plan" wait={<p className="quiet">A plan is being proposed …</p>}>
              {(answer) =>
                answer ? parts.picture : <p className="quiet">The plan appears when the stage has all its parts.</p>
              }
            </Answered>
          ),
        })
      }
    />
  );
}

interface PlannedProps {
  readonly name: string;
  readonly found: FloorPlan | undefined;
  /** Whether the stage is of an earlier edit. */
  readonly stale: boolean;
  readonly notes: PlanNotes;
  readonly onNotes: (part: Partial<PlanNotes>) => void;
  readonly frame: BoardFramed['frame'];
}

function Planned({ name, found, stale, notes, onNotes, frame }: PlannedProps) {
  const [selected, setSelected] = useState<string>();
  const [bank, setBank] = useState(false);
  const [before, setBefore] = useState<readonly Placement[]>([]);
  const [drag, setDrag] = useState<{ readonly keys: readonly string[]; readonly by: Point }>();
  const drawing = useRef<SVGSVGElement>(null);
  const { plane } = notes;
  const ground = found?.ground;
  const laid = useMemo(() => {
    const kept = notes.placement;
    const of = (key: string): Placed | undefined => kept[key] ?? found?.proposal[key];
    return Object.fromEntries(
      (found?.ground.outlines ?? []).flatMap(({ key }) => {
        const placed = of(key);
        return placed ? [[key, placed] as const] : [];
      }),
    );
  }, [notes.placement, found]);
  const placement = useMemo(() => (drag ? moved(laid, drag.keys, drag.by) : laid), [laid, drag]);
  const proposed = useMemo(() => found && laidLoops(found.ground, found.proposal, plane), [found, plane]);
  const judged = useMemo(
    () => found && proposed && judgePlan(found.ground, placement, plane, proposed),
    [found, proposed, placement, plane],
  );
  const own = Object.keys(notes.placement).length > 0;
  const added = own && ground ? ground.outlines.filter(({ key }) => !notes.placement[key]) : [];
  const assumed = ground?.outlines.filter(({ stated, element }) => !stated && element !== undefined).length ?? 0;
  const take = (next: Placement): void => {
    setBefore([...before, notes.placement]);
    onNotes({ placement: next });
  };
  const turn = (key: string): void => {
    const placed = laid[key];
    if (placed) take({ ...laid, [key]: { ...placed, turn: ((placed.turn + 1) % 4) as Placed['turn'] } });
  };
  const broken = judged?.rules.filter(({ state }) => state === 'broken').length ?? 0;
  const chosen = ground?.outlines.find(({ key }) => key === selected);
  return frame({
    fields: (
      <>
        <fieldset>
          <legend>Plan</legend>
          {judged && (
            <p role="status">
              {broken === 0
                ? `Every rule holds of ${String(judged.rules.length)}.`
                : `${String(broken)} of ${String(judged.rules.length)} rules ${broken === 1 ? 'is' : 'are'} broken.`}{' '}
              <span className="quiet">
                {stale && 'Of the stage before the last edit. '}
                {own ? 'Laid by you' : 'As proposed'}, {formatQuantity(judged.size.width, 'm', 2)} by{' '}
                {formatQuantity(judged.size.height, 'm', 2)}.
              </span>
            </p>
          )}
          <PickField
            id="plan-plane"
            words="Under it"
            value={plane === undefined ? 'nothing' : 'plane'}
            options={[
              { value: 'plane', words: 'whole plane' },
              { value: 'nothing', words: 'no plane' },
            ]}
            onPick={(under) => onNotes({ plane: under === 'plane' ? USUAL_PLANE : undefined })}
          />
          {plane !== undefined && (
            <InlineField
              words="Height over it"
              unit="m"
              value={plane}
              range={HEIGHT}
              onTake={(height) => onNotes({ plane: height })}
            />
          )}
          <label className="d-block">
            <input type="checkbox" checked={bank} onChange={({ target }) => setBank(target.checked)} /> Move parts in
            parallel together
          </label>
          <p className="plan-tools">
            <Button variant="plain" disabled={!chosen} onClick={() => chosen && turn(chosen.key)}>
              Turn {chosen?.mark}
            </Button>
            <Button
              variant="plain"
              disabled={before.length === 0}
              onClick={() => {
                const last = before.at(-1);
                if (!last) return;
                setBefore(before.slice(0, -1));
                onNotes({ placement: last });
              }}
            >
              Step back
            </Button>
            <Button variant="plain" disabled={!own} onClick={() => take({})}>
              As proposed
            </Button>
          </p>
        </fieldset>
        {judged && <Loops judged={judged} plane={plane} stale={stale} />}
        {added.length > 0 && (
          <p className="small">
            Newer than this plan, and where the proposal has them: {added.map(({ words }) => words).join(', ')}.
          </p>
        )}
        {assumed > 0 && (
          <p className="small quiet">
            {assumed} {assumed === 1 ? 'part is' : 'parts are'} drawn dashed: their records state no size, and a large
            one of the class is taken.
          </p>
        )}
      </>
    ),
    picture: ground && judged && (
      <figure className="plan-figure">
        <PlanDrawing
          ground={ground}
          placement={placement}
          judged={judged}
          selected={selected}
          onSelect={setSelected}
          drawing={drawing}
          onTurn={turn}
          onMove={(key, by, done) => {
            const keys = bank ? togetherWith(ground, key) : [key];
            setSelected(key);
            setDrag(done ? undefined : { keys, by });
            if (done && (by.x !== 0 || by.y !== 0)) take(moved(laid, keys, by));
          }}
        />
        <figcaption>
          <span className="small quiet">
            Drag a part, or move it with the arrow keys (finer with Shift) and turn it with the space bar. Thick: the
            hot loops. Shaded: the least copper that swings. Dashed and thick: the feedback. Thin: what is still to be
            joined.
          </span>
          <span>
            <Button
              variant="plain"
              aria-label="Floor plan as PNG"
              onClick={() => drawing.current && void savePng(`${name}, floor plan`, drawing.current)}
            >
              PNG
            </Button>
            <Button
              variant="plain"
              aria-label="Floor plan as SVG"
              onClick={() => drawing.current && saveSvg(`${name}, floor plan`, drawing.current)}
            >
              SVG
            </Button>
          </span>
        </figcaption>
      </figure>
    ),
    below: judged && ground && <Rules judged={judged} ground={ground} onShow={setSelected} />,
  });
}

/** The loops as they lie, live. */
function Loops({
  judged,
  plane,
  stale,
}: {
  readonly judged: JudgedPlan;
  readonly plane: number | undefined;
  readonly stale: boolean;
}) {
  return (
    <fieldset>
      <legend>Hot loops</legend>
      {judged.loops.map(({ loop, way, inductance, peak }) => (
        <div key={loop.key}>
          <span className="quiet small">{loop.words}</span>
          <dl className="figures mb-0">
            <div>
              <dt>inductance</dt>
              <dd>{formatQuantity(inductance, 'H', 3)}</dd>
            </div>
            <div>
              <dt>area</dt>
              <dd>{formatQuantity(way.area, 'm²', 2)}</dd>
            </div>
            <div>
              <dt>rings to, at most</dt>
              <dd>
                {peak === undefined ? 'not stated' : formatQuantity(peak.most, 'V', 3)}
                {peak !== undefined && loop.worst.rings?.recoveryCharge === undefined ? ', without recovery' : ''}
              </dd>
            </div>
          </dl>
          <EdgeNetlist loop={loop.worst} inductance={inductance} stale={stale} />
          <details>
            <summary className="small">Working</summary>
            {[...wayWorking(way, plane), ...ringWorking(loop.worst, inductance)].map((form, k) => (
              <FormView key={k} form={form} />
            ))}
          </details>
        </div>
      ))}
    </fieldset>
  );
}

const WORDS: Readonly<Record<JudgedRule['state'], string>> = { holds: 'holds', broken: 'broken', heed: 'heed' };

function Rules({
  judged,
  ground,
  onShow,
}: {
  readonly judged: JudgedPlan;
  readonly ground: PlanGround;
  readonly onShow: (key: string) => void;
}) {
  const order = placementOrder(ground);
  const first = [...judged.rules].sort((a, b) => Number(b.state === 'broken') - Number(a.state === 'broken'));
  return (
    <>
      <table className="plain" aria-label="Rules of the plan">
        <thead>
          <tr>
            <th scope="col">rule</th>
            <th scope="col">on this plan</th>
            <th scope="col">because</th>
          </tr>
        </thead>
        <tbody>
          {first.map(({ key, state, says, reason, keys }) => (
            <tr key={key}>
              <td className={state === 'broken' ? 'plan-broken' : ''}>{WORDS[state]}</td>
              <td>
                {says}{' '}
                {keys[0] !== undefined && (
                  <Button variant="plain" onClick={() => onShow(keys[0] ?? '')}>
                    Show
                  </Button>
                )}
              </td>
              <td className="quiet">{reason}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <details>
        <summary>The order in which parts are placed, and why</summary>
        <ol>
          {order.map(({ words, reason }) => (
            <li key={words}>
              <strong>{words}</strong> <span className="quiet">{reason}</span>
            </li>
          ))}
        </ol>
      </details>
      <p className="small quiet">
        A plan, not a layout: rectangles of the sizes of the records, pads where common packages have them. The
        inductance is that of the way through the nearest parts; copper beside it makes it less, slots in a plane more.
        Rules are common practice but for their figures. What can hurt someone is decided by your local code.
      </p>
    </>
  );
}

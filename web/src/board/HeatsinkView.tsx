import {
  applied,
  formatQuantity,
  insulatorResistance,
  INSULATORS,
  sharedSink,
  type Insulator,
  type SharedSink,
  type TabGround,
} from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { isStale } from '../engine/inquiry';
import { InlineField } from '../fields/InlineField';
import { PickField } from '../fields/PickField';
import { Answered } from '../shown/Answered';
import { putPart } from '../stage/editing';
import { FormView } from '../stage/FormView';
import { useWorkedStage } from '../stage/useCorner';
import type { BoardFramed } from './BoardStation';
import { useBoard } from './boardStore';

const KINDS = Object.keys(INSULATORS) as readonly Insulator[];
/** °C at which a touched metal burns within a second or so: common practice, from memory. */
const BURNS = 65;

/** Switches on one heatsink: what lies between, how warm they get, and what it joins. */
export function HeatsinkView({ stageId, asked, frame }: BoardFramed) {
  const { board, change } = useBoard(stageId);
  const { heatsink } = board;
  const put = (part: Partial<SharedSink>): void => change((before) => ({ heatsink: { ...before.heatsink, ...part } }));
  return frame({
    fields: (
      <fieldset>
        <legend>Heatsink</legend>
        <InlineField
          words="To the air"
          unit="K/W"
          value={heatsink.sink}
          range={[0.01, 200]}
          onTake={(sink) => put({ sink })}
        />
        <PickField
          id="insulator"
          words="Under each tab"
          value={heatsink.insulator}
          options={KINDS.map((value) => ({ value, words: INSULATORS[value].words }))}
          onPick={(insulator) => put({ insulator })}
        />
        <InlineField
          words="Area of a tab, where not stated"
          unit="m²"
          value={heatsink.area}
          range={[1e-6, 0.01]}
          onTake={(area) => put({ area })}
        />
        <p className="small quiet mb-0">
          Tabs are drains and cathodes. The losses are those of the ledger, at its junction temperatures; taken into the
          stage they follow.
        </p>
      </fieldset>
    ),
    picture: (
      <Answered of={asked} what="board" wait={<p className="quiet">The losses are being worked …</p>}>
        {(needs) =>
          needs ? (
            <Sunk ground={needs.heat} heatsink={heatsink} stale={isStale(asked)} />
          ) : (
            <p className="quiet">They appear when the stage has all its parts.</p>
          )
        }
      </Answered>
    ),
  });
}

function Sunk({
  ground,
  heatsink,
  stale,
}: {
  readonly ground: TabGround;
  readonly heatsink: SharedSink;
  readonly stale: boolean;
}) {
  const [fault, setFault] = useState<string>();
  const worked = useWorkedStage();
  const shared = sharedSink(ground, heatsink);
  if (!shared) return <p className="quiet">No corner has an operating point.</p>;
  const { sink, tabs, joins } = shared;
  const celsius = (value: number): string => formatQuantity(value, 'degC', 3);
  // The ledger has one heatsink a switch: its share is that of the switch that loses most.
  const [most] = [...tabs].sort((a, b) => b.loss - a.loss);
  const whole = tabs.reduce((sum, { tab, loss }) => sum + tab.count * loss, 0);
  return (
    <>
      <p role="status">
        The heatsink comes to {celsius(sink)} with {formatQuantity(whole, 'W', 3)}.
        {sink > BURNS && ' It burns who touches it: guard it, and mark it.'}
      </p>
      {joins.length > 0 && (
        <p className="fault" role="alert">
          Bare, it joins {joins.join(' and ')}: put an insulator under each tab, and a bush on its screw.
        </p>
      )}
      <table className="plain" aria-label="Tabs">
        <thead>
          <tr>
            <th scope="col">tab of</th>
            <th scope="col">stands at</th>
            <th scope="col" className="number">
              loss of each
            </th>
            <th scope="col" className="number">
              tab to heatsink
            </th>
            <th scope="col" className="number">
              junction
            </th>
          </tr>
        </thead>
        <tbody>
          {tabs.map(({ tab, loss, insulator, junction }) => (
            <tr key={tab.place}>
              <td>
                {tab.words}
                {tab.count > 1 ? `, ${String(tab.count)} of them` : ''}
              </td>
              <td>{tab.potentials.join(', ')}</td>
              <td className="number">{formatQuantity(loss, 'W', 3)}</td>
              <td className="number">
                {formatQuantity(insulator, 'K/W', 3)}
                {tab.area === undefined ? ', area typed' : ''}
              </td>
              <td className="number">
                {junction === undefined
                  ? 'not stated to its case'
                  : `${celsius(junction)}${junction > ground.limit ? `, beyond ${celsius(ground.limit)}` : ''}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {most && most.loss > 0 && (
        <p>
          <Button
            variant="outline-secondary"
            disabled={stale || joins.length > 0}
            onClick={() =>
              setFault(
                putPart(['parts', 'cooling'], {
                  ...worked?.stage.parts.cooling,
                  heatsink: (heatsink.sink * whole) / most.loss,
                  pad: most.insulator,
                }),
              )
            }
          >
            Take it into the stage
          </Button>{' '}
          {fault !== undefined && (
            <span className="fault" role="alert">
              {fault}
            </span>
          )}
        </p>
      )}
      <p className="small quiet">
        The stage knows one heatsink a switch: it is given the share of the one that loses most. A washer or a screw
        that touches a tab shorts its insulator: a shouldered bush, and a meter across it before power. What is within
        reach of a hand is decided by the standard of the product and your local code.
      </p>
      <details>
        <summary>Working</summary>
        {tabs.map(({ tab }) => (
          <FormView
            key={tab.place}
            form={applied(insulatorResistance, {
              specific: INSULATORS[heatsink.insulator].specific,
              area: tab.area ?? heatsink.area,
            })}
          />
        ))}
        <p className="small">
          T of the heatsink = {celsius(ground.ambients[0] ?? 25)} + {formatQuantity(heatsink.sink, 'K/W', 3)} ·{' '}
          {formatQuantity(whole, 'W', 3)}; of a junction, that and its loss times the way through its case and what lies
          under it.
        </p>
      </details>
    </>
  );
}

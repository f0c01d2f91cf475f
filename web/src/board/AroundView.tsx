import {
  AUXILIARIES,
  auxiliaryOutcomes,
  formatQuantity,
  type Auxiliary,
  type AuxiliaryGround,
  type AuxiliaryName,
  type AuxiliaryOutcome,
} from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { InlineField } from '../fields/InlineField';
import { InlineQuantity } from '../fields/InlineQuantity';
import { PickField } from '../fields/PickField';
import { isStale } from '../engine/inquiry';
import { Answered } from '../shown/Answered';
import { FormView } from '../stage/FormView';
import { useSession } from '../stage/stageSession';
import type { BoardFramed } from './BoardStation';
import { JOINS } from './auxiliaryJoins';
import { AUXILIARY_NAMES, useBoard } from './boardStore';
import { SimulatedStart } from './SimulatedStart';

/** What leads to the stage and on from it, in the same way. */
export const LeadsView = (props: BoardFramed) => <PartsView {...props} group="leads" first="wires" words="Leads" />;

/** Parts around the controller, one at a time: proposed out of the stage, worked over their tolerances. */
export const AroundView = (props: BoardFramed) => (
  <PartsView {...props} group={undefined} first="oscillator" words="Around the controller" />
);

interface PartsProps extends BoardFramed {
  readonly group: Auxiliary['group'];
  readonly first: AuxiliaryName;
  readonly words: string;
}

function PartsView({ stageId, asked, frame, group, first, words }: PartsProps) {
  const [picked, setName] = useState<AuxiliaryName>(first);
  const needs = asked.answer?.value;
  const offered = AUXILIARY_NAMES.filter((one) => {
    const part: Auxiliary = AUXILIARIES[one];
    return part.group === group && (!needs || part.fits?.(needs.ground) !== false);
  });
  const name = offered.includes(picked) ? picked : first;
  return needs ? (
    <Around
      key={name}
      stageId={stageId}
      name={name}
      offered={offered}
      words={words}
      ground={needs.ground}
      stale={isStale(asked)}
      onName={setName}
      // What is proposed out of a design before the last edit is dimmed, and says so.
      frame={(of) =>
        frame({
          ...of,
          picture: (
            <Answered of={asked} what="board" wait={null}>
              {() => of.picture}
            </Answered>
          ),
        })
      }
    />
  ) : (
    frame({
      fields: null,
      picture: (
        <Answered of={asked} what="board" wait={<p className="quiet">The stage is being worked …</p>}>
          {() => <p className="quiet">They appear when the stage has all its parts.</p>}
        </Answered>
      ),
    })
  );
}

interface AroundProps extends Pick<BoardFramed, 'stageId' | 'frame'> {
  readonly name: AuxiliaryName;
  readonly offered: readonly AuxiliaryName[];
  readonly words: string;
  readonly ground: AuxiliaryGround;
  /** Whether the stage is of an earlier edit. */
  readonly stale: boolean;
  readonly onName: (name: AuxiliaryName) => void;
}

function Around({ stageId, name, offered, words: of, ground, stale, onName, frame }: AroundProps) {
  const { board, change } = useBoard(stageId);
  const [fault, setFault] = useState<string>();
  const part: Auxiliary = AUXILIARIES[name];
  const typed = board.values[name] ?? {};
  const values = { ...part.proposed(ground), ...typed };
  const given = board.tolerances[name] ?? {};
  const tolerances = Object.fromEntries(
    part.fields.flatMap(({ key, tolerance }) => {
      const share = given[key];
      return share === undefined ? [] : [[key, tolerance.by === undefined ? { share } : { by: share }]];
    }),
  );
  const outcomes = auxiliaryOutcomes(name, values, tolerances);
  const joins = JOINS[name] ?? [];
  const stage = useSession((session) => session.document);
  const taken = board.taken[name];
  const listed = taken !== undefined && Object.entries(values).every(([key, value]) => taken[key] === value);
  return frame({
    fields: (
      <fieldset>
        <legend>{of}</legend>
        <PickField
          id="around"
          words="Part"
          value={name}
          options={offered.map((value) => ({ value, words: AUXILIARIES[value].words }))}
          onPick={onName}
        />
        {part.fields.map(({ key, words, unit, range }) => (
          <InlineField
            key={key}
            words={words}
            unit={unit}
            value={values[key] ?? 0}
            range={range}
            onTake={(value) =>
              change(({ values: all }) => ({ values: { ...all, [name]: { ...all[name], [key]: value } } }))
            }
          />
        ))}
        {Object.keys(typed).length > 0 && (
          <Button variant="plain" onClick={() => change(({ values: all }) => ({ values: { ...all, [name]: {} } }))}>
            Propose anew
          </Button>
        )}
      </fieldset>
    ),
    picture: (
      <>
        <table className="plain" aria-label="Over tolerance">
          <thead>
            <tr>
              <th scope="col">result</th>
              <th scope="col" className="number">
                at the least
              </th>
              <th scope="col" className="number">
                as stated
              </th>
              <th scope="col" className="number">
                at the most
              </th>
            </tr>
          </thead>
          <tbody>
            {outcomes.map(({ form, spread }) => (
              <Result key={form.name} form={form} spread={spread} />
            ))}
          </tbody>
        </table>
        <div className="part-acts mt-2 mb-3">
          {joins.map(({ words, take }) => (
            <Button
              key={words}
              variant="outline-secondary"
              disabled={stale || !stage}
              onClick={() =>
                stage && setFault(take({ values, results: outcomes.map(({ spread }) => spread.nominal), stage }))
              }
            >
              {words}
            </Button>
          ))}
          {part.buys && !listed && (
            <Button
              variant="outline-secondary"
              disabled={stale}
              onClick={() => change(({ taken: all }) => ({ taken: { ...all, [name]: values } }))}
            >
              {taken ? 'Put on the list of parts as it is now' : 'Put on the list of parts'}
            </Button>
          )}
          {taken && (
            <Button
              variant="plain"
              onClick={() =>
                change(({ taken: all }) => ({
                  taken: Object.fromEntries(Object.entries(all).filter(([key]) => key !== name)),
                }))
              }
            >
              Take off the list of parts
            </Button>
          )}
          {fault !== undefined && (
            <span className="fault" role="alert">
              {fault}
            </span>
          )}
        </div>
        {taken && !listed && (
          <p className="small quiet">On the list of parts it stands with the values it was put there with.</p>
        )}
        {name === 'softStart' && outcomes[0] && <SimulatedStart time={outcomes[0].spread.least} stale={stale} />}
        <h2>Tolerances</h2>
        <table className="plain" aria-label="Tolerances">
          <tbody>
            {part.fields
              .filter(({ tolerance }) => tolerance.share !== undefined || tolerance.by !== undefined)
              .map(({ key, words, unit, tolerance }) => (
                <tr key={key}>
                  <td>{words}</td>
                  <td>
                    ±{' '}
                    <InlineQuantity
                      label={`Tolerance, ${words}`}
                      unit={tolerance.by === undefined ? 'ratio' : unit}
                      value={given[key] ?? tolerance.by ?? tolerance.share ?? 0}
                      range={tolerance.by === undefined ? [0, 0.9] : [0, 1]}
                      onTake={(value) =>
                        change(({ tolerances: all }) => ({
                          tolerances: { ...all, [name]: { ...all[name], [key]: value } },
                        }))
                      }
                    />
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
        <p className="small quiet">
          The worst case is every combination of their ends. What is of a part, not of this stage, is typical until you
          type yours; tolerances are common practice. Values are kept with the stage.
          {part.group === undefined && ' Gate resistors, bootstrap and snubber stand at Switches.'}
        </p>
      </>
    ),
    below: (
      <details>
        <summary>Working</summary>
        {outcomes.map(({ form }) => (
          <FormView key={form.name} form={form} />
        ))}
      </details>
    ),
  });
}

function Result({ form, spread }: AuxiliaryOutcome) {
  const { nominal, least, most } = spread;
  const share = (value: number): string =>
    nominal === 0 || Math.abs(value / nominal - 1) < 1e-9
      ? ''
      : ` (${value >= nominal ? '+' : '−'}${(100 * Math.abs(value / nominal - 1)).toFixed(1)} %)`;
  const shown = (value: number): string => formatQuantity(value, form.unit, 4);
  return (
    <tr>
      <td>{form.name}</td>
      <td className="number">
        {shown(least)}
        {share(least)}
      </td>
      <td className="number">{shown(nominal)}</td>
      <td className="number">
        {shown(most)}
        {share(most)}
      </td>
    </tr>
  );
}

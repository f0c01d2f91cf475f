import { stageFromDocument, TOPOLOGIES, type Advice, type Stage, type TopologyName, withValue } from '@yundro/core';
import { useMemo } from 'react';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { Quantity } from '../shown/Quantity';
import { Button } from 'react-bootstrap';
import { chooseTopology } from './FormFields';
import { type Pending, useSession } from './stageSession';
import { TAKERS } from './takers';

const wordsOf = (topology: TopologyName): string => TOPOLOGIES[topology].words;

/** The stage with targets that were typed and do not fit its topology, under one that takes them; undefined if there is none. */
function wantedStage(document: Stage, pending: readonly Pending[]): Stage | undefined {
  const targets = pending.filter(({ path, value }) => path[0] === 'targets' && value !== undefined);
  if (targets.length === 0) return undefined;
  const wanted = targets.reduce<unknown>((doc, { path, value }) => withValue(doc, path, value), document);
  for (const topology of TAKERS) {
    const read = stageFromDocument(withValue(wanted, ['topology'], topology));
    if (read.ok) return read.value;
  }
  return undefined;
}

/** What each topology would make of the targets. It proposes nothing by itself: the choice is made in the Stage station. */
export function TopologyAdvice() {
  const worked = useSession((session) => session.worked?.stage);
  const document = useSession((session) => session.document);
  const pending = useSession((session) => session.pending);
  const wanted = useMemo(() => document && wantedStage(document, Object.values(pending)), [document, pending]);
  const stage = wanted ?? worked;
  const asked = useSurvey(stage && { stage, unfit: wanted !== undefined }, (survey, question) =>
    survey.advice(question.stage),
  );
  return (
    <Answered
      of={asked}
      what="advice on the topology"
      wait={<p className="quiet">Every topology is being sized for these targets …</p>}
    >
      {(advice, question) => <AdviceTable advice={advice} unfit={question.unfit} stage={question.stage} />}
    </Answered>
  );
}

interface TableProps {
  readonly advice: Advice;
  /** Whether the targets were typed and do not fit the topology of the design. */
  readonly unfit: boolean;
  readonly stage: Stage;
}

function AdviceTable({ advice, unfit, stage }: TableProps) {
  const present = useSession((session) => session.document?.topology);
  const { outputVoltage } = stage.targets;
  const { linear } = advice;
  return (
    <>
      {unfit && (
        <p className="small">
          These are for the targets as typed, which do not fit the present topology. Take one that can do them; the
          parts are then chosen anew.
        </p>
      )}
      <table className="plain advice" aria-label="Topologies for these targets">
        <thead>
          <tr>
            <th>Topology</th>
            <th>Can it</th>
            <th className="number">Duty ratio</th>
            <th className="number">Switch sees</th>
            <th className="number">Inductor peak</th>
            <th className="number">Worst loss</th>
          </tr>
        </thead>
        {advice.topologies.map(({ topology, able, reasons, figures }) => (
          <tbody key={topology}>
            <tr>
              <td>
                {wordsOf(topology)}
                {topology === present && <span className="quiet">, this stage</span>}
              </td>
              <td>
                {able ? 'yes' : 'no'}
                {able && topology !== present && (
                  <>
                    {', '}
                    <Button variant="plain" onClick={() => chooseTopology(topology, outputVoltage)}>
                      take it<span className="visually-hidden">: {wordsOf(topology)}</span>
                    </Button>
                  </>
                )}
              </td>
              <td className="number">
                {figures ? `${figures.dutyMin.toFixed(3)} to ${figures.dutyMax.toFixed(3)}` : '–'}
              </td>
              <td className="number">
                {figures ? <Quantity value={figures.switchVoltage} unit="V" digits={3} /> : '–'}
              </td>
              <td className="number">
                {figures ? <Quantity value={figures.inductorPeak} unit="A" digits={3} /> : '–'}
              </td>
              <td className="number">
                {figures ? <Quantity value={figures.conductionLoss} unit="W" digits={3} /> : '–'}
              </td>
            </tr>
            <tr>
              <td colSpan={6} className="small quiet">
                {reasons.join(' ')}
              </td>
            </tr>
          </tbody>
        ))}
        <tbody>
          <tr>
            <td>linear regulator</td>
            <td>{linear.able ? 'yes' : 'no'}</td>
            <td className="number">–</td>
            <td className="number">–</td>
            <td className="number">–</td>
            <td className="number">
              {linear.dissipationMax === undefined ? (
                '–'
              ) : (
                <Quantity value={linear.dissipationMax} unit="W" digits={3} />
              )}
            </td>
          </tr>
          <tr>
            <td colSpan={6} className="small quiet">
              {linear.reason}
              {linear.efficiencyMin !== undefined &&
                ` Efficiency at the highest input: ${(100 * linear.efficiencyMin).toFixed(0)} % at best.`}
            </td>
          </tr>
        </tbody>
      </table>
    </>
  );
}

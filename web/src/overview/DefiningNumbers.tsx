import { bankModel, formatQuantity, type OperatingPoint, type Stage, type Unit } from '@yundro/core';
import { useMemo } from 'react';
import { Link, useParams } from 'react-router';
import type { CornerView } from '../engine/engine';
import { useJudgedLoop } from '../ledger/loopJudgement';
import { Quantity } from '../shown/Quantity';
import { useSession } from '../stage/stageSession';
import type { Station } from '../stage/stations';
import { useCorner } from '../stage/useCorner';

interface Defining {
  readonly words: string;
  readonly station: Station;
  readonly value: number | undefined;
  readonly unit: Unit;
  /** Where it begins, of a range. */
  readonly from?: number;
}

const hottest = ({ junctionTemperatures }: OperatingPoint): number =>
  Math.max(-Infinity, ...Object.values(junctionTemperatures).map((one) => one ?? Infinity));

/** The few numbers that define a stage; a junction that runs away is hotter than any. */
function definingNumbers(
  stage: Stage,
  corners: readonly CornerView[],
  corner: number | undefined,
): readonly Defining[] {
  const points = corners.flatMap(({ point }) => (point ? [point] : []));
  const duties = points.map(({ duty }) => duty);
  const { parts, targets } = stage;
  const here = corner === undefined ? undefined : corners[corner]?.point;
  const capacitance = (parts.outputCapacitors ?? []).reduce(
    (sum, bank) => sum + bankModel(bank, targets.outputVoltage).capacitance,
    0,
  );
  const heat = Math.max(...points.map(hottest));
  return [
    {
      words: 'duty ratio',
      station: 'stage',
      unit: 'ratio',
      from: Math.min(...duties),
      value: duties.length > 0 ? Math.max(...duties) : undefined,
    },
    { words: 'frequency', station: 'stage', unit: 'Hz', value: here?.switchingFrequency ?? stage.switchingFrequency },
    { words: 'inductance', station: 'inductor', unit: 'H', value: parts.inductor?.inductance },
    {
      words: 'output, at its bias',
      station: 'capacitors',
      unit: 'F',
      value: capacitance > 0 ? capacitance : undefined,
    },
    {
      // What the losses leave out makes it look better than it is.
      words:
        (corner === undefined ? 0 : (corners[corner]?.leftOut.length ?? 0)) > 0
          ? 'efficiency, losses left out'
          : 'efficiency here',
      station: 'efficiency',
      unit: 'ratio',
      value: here?.efficiency,
    },
    { words: 'hottest junction', station: 'switches', unit: 'degC', value: heat > -Infinity ? heat : undefined },
  ];
}

/** The few numbers that define the stage; each a door to where it is decided. */
export function DefiningNumbers() {
  const stage = useSession((session) => session.worked?.stage);
  const corners = useSession((session) => session.worked?.corners);
  const corner = useCorner();
  const judged = useJudgedLoop();
  const { id = '' } = useParams();
  const numbers = useMemo(
    () => (stage && corners ? definingNumbers(stage, corners, corner) : []),
    [stage, corners, corner],
  );
  const here = corner === undefined ? undefined : corners?.[corner];
  const loop = judged?.corners.find(
    (one) => one.corner.inputVoltage === here?.inputVoltage && one.corner.outputCurrent === here.outputCurrent,
  )?.loop;
  const solved = loop?.kind === 'solved' ? loop : undefined;
  const margin = solved?.phaseMargin.kind === 'found' ? `, ${solved.phaseMargin.value.toFixed(1)}°` : '';
  const all: readonly Defining[] = [
    ...numbers.slice(0, 4),
    {
      words: `crossover${margin}`,
      station: 'loop',
      unit: 'Hz',
      value: solved?.crossover.kind === 'found' ? solved.crossover.value : undefined,
    },
    ...numbers.slice(4),
  ];
  return (
    <div className="defining">
      {all.map(({ words, station, value, unit, from }) => (
        <Link key={words} to={`/stages/${id}/${station}`}>
          <span className="large">
            {value === undefined ? (
              '–'
            ) : unit === 'ratio' && words.startsWith('efficiency') ? (
              `${(100 * value).toFixed(1)} %`
            ) : unit === 'ratio' ? (
              <>
                {from !== undefined && `${from.toFixed(2)} to `}
                {value.toFixed(2)}
              </>
            ) : unit === 'degC' ? (
              value === Infinity ? (
                'runaway'
              ) : (
                formatQuantity(Math.round(value), unit)
              )
            ) : (
              <Quantity value={value} unit={unit} digits={3} />
            )}
          </span>
          <span className="quiet small">{words}</span>
        </Link>
      ))}
    </div>
  );
}

import { formatQuantity, type OperatingPoint } from '@yundro/core';
import { useDutyConvention, writeDutyAs } from '../shown/dutyConvention';
import { Quantity } from '../shown/Quantity';
import { differs, useHeldCorner } from './ghost';
import { LeftOut } from './LeftOut';
import { useShownFigures } from './shownFigures';
import { useSession } from './stageSession';
import { openWorking } from './stageView';
import { useCorner } from './useCorner';

/** The corner looked at, and how the current flows there. */
export function CornerWords() {
  const corners = useSession((session) => session.worked?.corners) ?? [];
  const corner = useCorner();
  const here = corner === undefined ? undefined : corners[corner];
  if (!here) return null;
  const { inputVoltage, outputCurrent, point, reason } = here;
  return (
    <>
      {formatQuantity(inputVoltage, 'V', 3)}, {formatQuantity(outputCurrent, 'A', 3)}:{' '}
      {point
        ? `${point.conductionMode === 'CCM' ? 'continuous' : 'discontinuous'} conduction${regionWords(point)}`
        : `no operating point: ${reason ?? ''}`}
    </>
  );
}

/** How the duty is written: as a ratio, or as a pulse ratio. */
export function DutyAs() {
  const convention = useDutyConvention((chosen) => chosen.convention);
  return (
    <label className="ms-auto small">
      Duty as{' '}
      <select
        className="pick"
        aria-label="Duty as"
        value={convention}
        onChange={(event) => writeDutyAs(event.target.value === 'q' ? 'q' : 'D')}
      >
        <option value="D">D</option>
        <option value="q">q = T/ton</option>
      </select>
    </label>
  );
}

/** Which legs of a four-switch stage switch at a point. */
const regionWords = ({ region }: OperatingPoint): string =>
  region === undefined ? '' : `, ${region === 'simultaneous' ? 'both legs together' : `${region} region`}`;

/** The figures of the corner looked at; each opens its working. */
export function CornerFigures() {
  const corners = useSession((session) => session.worked?.corners);
  const corner = useCorner();
  const point = corner === undefined ? undefined : corners?.[corner]?.point;
  const figures = useShownFigures();
  const before = useHeldCorner(corner === undefined ? undefined : corners?.[corner])?.corner.point;
  if (!point || corner === undefined) return null;
  return (
    <div className="figures mt-2">
      {figures.map(({ key, words, unit, value }) => (
        <button
          type="button"
          className="figure"
          key={key}
          onClick={() => openWorking({ corner, figure: key })}
          title={`${words}: open the working`}
        >
          <span>{words}</span>
          <span className="value">
            {before && differs(value(before), value(point)) && (
              <span className="was">
                <Quantity value={value(before)} unit={unit} />{' '}
              </span>
            )}
            <Quantity value={value(point)} unit={unit} />
          </span>
        </button>
      ))}
      <LeftOut />
    </div>
  );
}

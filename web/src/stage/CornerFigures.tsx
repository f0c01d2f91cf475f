import { formatQuantity, type OperatingPoint } from '@yundro/core';
import { useDutyConvention, writeDutyAs } from '../shown/dutyConvention';
import { Quantity } from '../shown/Quantity';
import { differs, useHeldCorner } from './ghost';
import { LeftOut } from './LeftOut';
import { useShownFigures } from './shownFigures';
import { useSession } from './stageSession';
import { lookAt, openWorking } from './stageView';
import { useCorner } from './useCorner';

/** Choose the corner whose waveforms and figures are shown. */
export function CornerPick() {
  const corners = useSession((session) => session.worked?.corners) ?? [];
  const corner = useCorner();
  const here = corner === undefined ? undefined : corners[corner];
  const convention = useDutyConvention((chosen) => chosen.convention);
  if (!here) return null;
  const inputs = [...new Set(corners.map((one) => one.inputVoltage))];
  const loads = [...new Set(corners.map((one) => one.outputCurrent))];
  const go = (inputVoltage: number, outputCurrent: number): void =>
    lookAt(corners.findIndex((one) => one.inputVoltage === inputVoltage && one.outputCurrent === outputCurrent));
  return (
    <div className="corner-pick">
      <label>
        Input{' '}
        <select
          aria-label="Input voltage of the corner"
          value={here.inputVoltage}
          onChange={(event) => go(Number(event.target.value), here.outputCurrent)}
        >
          {inputs.map((value) => (
            <option key={value} value={value}>
              {formatQuantity(value, 'V', 3)}
            </option>
          ))}
        </select>
      </label>
      <label>
        Load{' '}
        <select
          aria-label="Load current of the corner"
          value={here.outputCurrent}
          onChange={(event) => go(here.inputVoltage, Number(event.target.value))}
        >
          {loads.map((value) => (
            <option key={value} value={value}>
              {formatQuantity(value, 'A', 3)}
            </option>
          ))}
        </select>
      </label>
      <span className="quiet">
        {here.point
          ? here.point.conductionMode === 'CCM'
            ? `continuous conduction${regionWords(here.point)}`
            : `discontinuous conduction${regionWords(here.point)}`
          : `no operating point: ${here.reason ?? ''}`}
      </span>
      <label className="ms-auto">
        Duty as{' '}
        <select
          aria-label="Duty as"
          value={convention}
          onChange={(event) => writeDutyAs(event.target.value === 'q' ? 'q' : 'D')}
        >
          <option value="D">D</option>
          <option value="q">q = T/ton</option>
        </select>
      </label>
    </div>
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

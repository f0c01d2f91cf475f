import { formatQuantity, type OperatingPoint, type Unit } from '@yundro/core';
import { Quantity } from '../shown/Quantity';
import { useSession } from './stageSession';
import { lookAt, openWorking } from './stageView';
import { useCorner } from './useCorner';

/** Choose the corner whose waveforms and figures are shown. */
export function CornerPick() {
  const corners = useSession((session) => session.worked?.corners) ?? [];
  const corner = useCorner();
  const here = corner === undefined ? undefined : corners[corner];
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
    </div>
  );
}

/** Which legs of a four-switch stage switch at a point. */
const regionWords = ({ region }: OperatingPoint): string =>
  region === undefined ? '' : `, ${region === 'simultaneous' ? 'both legs together' : `${region} region`}`;

interface Shown {
  readonly key: string;
  readonly words: string;
  readonly unit: Unit;
  readonly value: (point: OperatingPoint) => number;
}

const SHOWN: readonly Shown[] = [
  { key: 'duty', words: 'Duty ratio', unit: 'ratio', value: (p) => p.duty },
  { key: 'inductorCurrent.ripple', words: 'Inductor ripple', unit: 'A', value: (p) => p.inductorCurrent.ripple },
  { key: 'inductorCurrent.peak', words: 'Inductor peak', unit: 'A', value: (p) => p.inductorCurrent.peak },
  { key: 'inductorCurrent.rms', words: 'Inductor RMS', unit: 'A', value: (p) => p.inductorCurrent.rms },
  { key: 'outputRipple', words: 'Output ripple', unit: 'V', value: (p) => p.outputRipple },
  { key: 'inputRipple', words: 'Input ripple', unit: 'V', value: (p) => p.inputRipple },
  { key: 'inputCapacitorRms', words: 'Input cap. RMS', unit: 'A', value: (p) => p.inputCapacitorRms },
  { key: 'outputCapacitorRms', words: 'Output cap. RMS', unit: 'A', value: (p) => p.outputCapacitorRms },
  {
    key: 'switchStress.highSide.rmsCurrent',
    words: 'High-side RMS',
    unit: 'A',
    value: (p) => p.switchStress['highSide']?.rmsCurrent ?? 0,
  },
  {
    key: 'switchStress.lowSide.rmsCurrent',
    words: 'Low-side RMS',
    unit: 'A',
    value: (p) => p.switchStress['lowSide']?.rmsCurrent ?? 0,
  },
  { key: 'inputCurrent', words: 'Input current', unit: 'A', value: (p) => p.inputCurrent },
  { key: 'losses.total', words: 'Conduction loss', unit: 'W', value: (p) => p.losses['total'] ?? 0 },
];

/** The figures of the corner looked at; each opens its working. */
export function CornerFigures() {
  const corners = useSession((session) => session.worked?.corners);
  const corner = useCorner();
  const point = corner === undefined ? undefined : corners?.[corner]?.point;
  if (!point || corner === undefined) return null;
  return (
    <div className="figures mt-2">
      {SHOWN.map(({ key, words, unit, value }) => (
        <button
          type="button"
          className="figure"
          key={key}
          onClick={() => openWorking({ corner, figure: key })}
          title={`${words}: open the working`}
        >
          <span>{words}</span>
          <span className="value">
            <Quantity value={value(point)} unit={unit} />
          </span>
        </button>
      ))}
    </div>
  );
}

import {
  inductanceCurveOf,
  onResistanceAt,
  partCellText,
  partColumns,
  type LibraryPart,
  type PartKind,
  type PartOf,
} from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';

const POINTS = 60;
const HEADROOM = 1.1;

interface Curves {
  readonly words: string;
  readonly x: { readonly words: string; readonly unit: 'A' | 'V' | 'degC'; readonly min: number; readonly max: number };
  readonly y: { readonly words: string; readonly unit: 'H' | 'F' | 'ohm'; readonly min: number; readonly max: number };
  readonly points: readonly (readonly [number, number])[];
}

/** Where the on-resistance is drawn, °C: it is a straight line. */
const COLDEST = -40;
const HOTTEST = 150;

/** The curve that tells most about a part: inductance against current, capacitance against bias, on-resistance against temperature. */
function curveOf(kind: PartKind, part: LibraryPart['part']): Curves | undefined {
  if (kind === 'inductor') {
    const inductor = part as PartOf<'inductor'>;
    const curve = inductanceCurveOf(inductor);
    const end = inductor.inductanceCurve?.at(-1)?.[0] ?? (inductor.saturationCurrent ?? 0) * 1.3;
    if (!curve || end === 0) return undefined;
    return {
      words: 'Inductance against current',
      x: { words: 'current', unit: 'A', min: 0, max: end },
      y: { words: 'inductance', unit: 'H', min: 0, max: inductor.inductance * HEADROOM },
      points: Array.from({ length: POINTS + 1 }, (_, i) => {
        const current = (end * i) / POINTS;
        return [current, curve.inductance(current)];
      }),
    };
  }
  if (kind === 'capacitor') {
    const { biasCurve, capacitance } = part as PartOf<'capacitor'>;
    const end = biasCurve?.at(-1)?.[0] ?? 0;
    if (!biasCurve || end === 0) return undefined;
    return {
      words: 'Capacitance against bias',
      x: { words: 'bias voltage', unit: 'V', min: 0, max: end },
      y: { words: 'capacitance', unit: 'F', min: 0, max: capacitance * HEADROOM },
      points: biasCurve.map(([volts, share]) => [volts, share * capacitance]),
    };
  }
  if (kind === 'mosfet') {
    const mosfet = part as PartOf<'mosfet'>;
    if (mosfet.onResistanceTemperatureCoefficient === undefined || mosfet.onResistance === 0) return undefined;
    const at = (celsius: number): number => onResistanceAt(mosfet, celsius);
    return {
      words: 'On-resistance against temperature',
      x: { words: 'junction', unit: 'degC', min: COLDEST, max: HOTTEST },
      y: { words: 'on-resistance', unit: 'ohm', min: 0, max: at(HOTTEST) * HEADROOM },
      points: [COLDEST, HOTTEST].map((celsius) => [celsius, at(celsius)]),
    };
  }
  return undefined;
}

/** One part: every field it has, and its curve. */
export function PartDetails({ kind, part }: { readonly kind: PartKind; readonly part: LibraryPart['part'] }) {
  const curve = useMemo(() => curveOf(kind, part), [kind, part]);
  const curves = useMemo(
    () =>
      curve
        ? [
            {
              words: part.name,
              x: curve.points.map(([x]) => x),
              y: curve.points.map(([, y]) => y),
              colour: '--trace-1',
              dash: [],
            },
          ]
        : [],
    [curve, part.name],
  );
  return (
    <aside aria-label={`Part ${part.name}`}>
      <h2>{part.name}</h2>
      <table className="plain small">
        <tbody>
          {partColumns(kind).map((column) => {
            const text = partCellText(column, part);
            return text === '' || column.key === 'name' ? null : (
              <tr key={column.key}>
                <td>{column.words}</td>
                <td className="number">{text}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {curve && <CurveChart words={curve.words} x={curve.x} y={curve.y} curves={curves} marks={NO_MARKS} />}
    </aside>
  );
}

const NO_MARKS = [] as const;

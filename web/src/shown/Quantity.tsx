import { printQuantity, type Unit } from '@yundro/core';

const DIGITS = 4;

/** A number with its unit the way the notebook sets it: number, thin space, lighter unit. */
export function Quantity({
  value,
  unit,
  digits = DIGITS,
}: {
  readonly value: number;
  readonly unit: Unit;
  readonly digits?: number;
}) {
  const whole = unit === 'count' && Number.isInteger(value);
  const printed = whole ? printQuantity(value, unit) : printQuantity(value, unit, digits);
  return (
    <span className="changed" key={printed.number}>
      {printed.number}
      {printed.unit !== '' && <span className="unit">{`\u2009${printed.unit}`}</span>}
    </span>
  );
}

/** A figure that was worked, as it is written into a record: six digits, more than any part is known to. */
export const sixDigits = (value: number): number => Number(value.toPrecision(6));

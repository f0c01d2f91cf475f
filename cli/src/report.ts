import {
  formatQuantity,
  marginText,
  UNITS,
  verdictWord,
  type Caution,
  type Choice,
  type ControllerCandidate,
  type Evaluation,
  type Filled,
  type LedgerLine,
  type OperatingPoint,
  type Unit,
  type Verdict,
} from '@yundro/core';

/** Digits shown in the text reports; `--json` gives every digit. */
const DIGITS = 4;

export const jsonText = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

const shown = (value: number, unit: Unit): string => formatQuantity(value, unit, DIGITS).replace(/\u2009/g, ' ');

/** Rows as columns padded to their widest cell. */
export function table(rows: readonly (readonly string[])[]): string {
  const widths = rows.reduce<number[]>((most, row) => row.map((cell, i) => Math.max(most[i] ?? 0, cell.length)), []);
  return (
    rows.map((row) => `  ${row.map((cell, i) => cell.padEnd(widths[i] ?? 0)).join('  ')}`.trimEnd()).join('\n') + '\n'
  );
}

/** What `size` chose and by which rule. */
export function choicesReport(choices: readonly Choice[]): string {
  if (choices.length === 0) return '';
  const rows = choices.map(({ quantity, value, unit, rule }) => [
    quantity,
    UNITS[unit].symbol === '' ? String(value) : shown(value, unit),
    rule.replace(/\u2009/g, ' '),
  ]);
  return `Chosen\n${table(rows)}\n`;
}

function pointRow(p: OperatingPoint): readonly string[] {
  return [
    shown(p.inputVoltage, 'V'),
    shown(p.outputCurrent, 'A'),
    p.conductionMode,
    p.duty.toFixed(4),
    shown(p.inductorCurrent.ripple, 'A'),
    shown(p.inductorCurrent.peak, 'A'),
    shown(p.outputRipple, 'V'),
    shown(p.inputCapacitorRms, 'A'),
    `${(100 * p.efficiency).toFixed(2)} %`,
  ];
}

/** Operating points and verdicts as text. */
export function evaluationReport({ stage, operatingPoints, verdicts, notJudged, notIncluded }: Evaluation): string {
  const heading = ['input', 'load', 'mode', 'duty', 'ripple', 'peak', 'output ripple', 'input RMS', 'efficiency'];
  const verdictRows = verdicts.map((v) => {
    const required = `${v.sense === 'at-most' ? 'at most' : 'at least'} ${shown(v.required, v.unit)}`;
    const worst = v.worst === null ? (v.reason ?? '') : shown(v.worst, v.unit);
    const margin = v.margin === null ? '' : marginText(v.margin);
    const corner = `${shown(v.corner.inputVoltage, 'V')}, ${shown(v.corner.outputCurrent, 'A')}`;
    return [verdictWord(v), v.quantity, required, worst, margin, corner];
  });
  const notes = verdicts
    .flatMap(({ quantity, note }) => (note === undefined ? [] : `\n${quantity}: ${note}.\n`))
    .join('');
  const unjudged = notJudged.length > 0 ? `\nNot judged by this version: ${notJudged.join(', ')}.\n` : '';
  const without = notIncluded.length > 0 ? `\n${notIncluded.join('\n')}\n` : '';
  return (
    `${stage.name}\n\nOperating points\n${table([heading, ...operatingPoints.map(pointRow)])}` +
    `\nVerdicts at the worst corner\n${table([['', 'target', 'required', 'worst', 'margin', 'corner'], ...verdictRows])}${notes}${without}${unjudged}`
  );
}

/** What was filled from the class of a part. */
export const typicalReport = (filled: readonly Filled[]): string =>
  filled.length === 0
    ? ''
    : `\nTypical of their class, as they are not stated; real parts lie within a factor of about two\n${table(filled.map(({ quantity, unit, value }) => [quantity, shown(value, unit)]))}`;

/** What drives each margin, and what would bring it to zero. */
export function driversReport(lines: readonly LedgerLine[]): string {
  const rows = lines.flatMap(({ quantity, drivers }) =>
    drivers.map((driver, i) => [
      i === 0 ? quantity : '',
      driver.quantity,
      shown(driver.value, driver.unit),
      `${driver.sensitivity > 0 ? '+' : ''}${driver.sensitivity.toFixed(3)} %/%`,
      driver.zeroAt === null ? '' : `no margin at ${shown(driver.zeroAt, driver.unit)}`,
    ]),
  );
  return `\nWhat drives the margins\n${table(rows)}`;
}

/** What mends the targets that fail. */
export function remediesReport(verdicts: readonly Pick<Verdict, 'quantity' | 'pass' | 'remedies'>[]): string {
  const lines = verdicts.flatMap(({ quantity, pass, remedies }) => {
    if (pass) return [];
    if (!remedies)
      return [`${quantity}\n  Not looked for to the end, as it takes long: --patience 120 gives it the time.\n`];
    const mends = remedies.map(({ effect }) => `  ${effect}.\n`);
    return [`${quantity}\n${mends.length > 0 ? mends.join('') : '  No single value mends it.\n'}`];
  });
  return lines.length > 0 ? `\nWhat mends what fails\n${lines.join('').replace(/\u2009/g, ' ')}` : '';
}

/** A controller that was looked at: its name, whether it qualifies, and why it does not. */
export const judgedController = ({ part, fits, reasons }: ControllerCandidate) => ({
  name: part.name,
  qualifies: fits,
  reasons,
});

/** Whether the controller named qualifies, and why it does not. */
export const controllersReport = (of: readonly ReturnType<typeof judgedController>[] = []): string =>
  of
    .map(
      ({ name, qualifies, reasons }) =>
        `\nController ${name} ${qualifies ? 'qualifies.' : `does not qualify: ${reasons.join(' ')}`}\n`,
    )
    .join('')
    .replace(/\u2009/g, ' ');

/** What can hurt someone, or the stage, about it. */
export const cautionsReport = (cautions: readonly Caution[]): string =>
  cautions.length === 0
    ? ''
    : `\nCautions\n${cautions.map(({ sentence }) => `  ${sentence.replace(/\u2009/g, ' ')}\n`).join('')}`;

/** One operating point as text. */
export function pointReport(point: OperatingPoint): string {
  const rows: string[][] = [];
  const walk = (value: unknown, path: string): void => {
    if (typeof value === 'object' && value !== null) {
      for (const [key, inner] of Object.entries(value)) walk(inner, path === '' ? key : `${path}.${key}`);
    } else rows.push([path, typeof value === 'number' ? value.toPrecision(6) : String(value)]);
  };
  walk(point, '');
  return `Operating point, SI units\n${table(rows)}`;
}

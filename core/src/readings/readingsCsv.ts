import { CHANNELS, CHANNEL_NAMES, type Reading } from './reading.js';

/** A cell that a spreadsheet takes for text and nothing else. */
const quoted = (text: string): string => {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\n\r;]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
};

/**
 * The lines of a log as comma-separated values in SI units: what `readReadings` reads back.
 *
 * Source: RFC 4180, Common Format and MIME Type for CSV Files.
 *
 * @public
 */
export function readingsCsv(readings: readonly Reading[]): string {
  const used = CHANNEL_NAMES.filter((name) => readings.some((one) => one[name] !== undefined));
  const limited = readings.some((one) => one.limited !== undefined);
  const noted = readings.some((one) => one.note !== undefined);
  const timed = readings.some((one) => one.at !== undefined);
  const heading = [
    ...(timed ? ['time (s)'] : []),
    ...used.map((name) => `${CHANNELS[name].short} (${CHANNELS[name].unit === 'degC' ? '°C' : CHANNELS[name].unit})`),
    ...(limited ? ['supply in limit'] : []),
    ...(noted ? ['note'] : []),
  ];
  const rows = readings.map((one) => [
    ...(timed ? [one.at === undefined ? '' : String(one.at)] : []),
    ...used.map((name) => (one[name] === undefined ? '' : String(one[name]))),
    ...(limited ? [one.limited === undefined ? '' : one.limited ? 'yes' : 'no'] : []),
    ...(noted ? [quoted(one.note ?? '')] : []),
  ]);
  return `${[heading, ...rows].map((cells) => cells.join(',')).join('\r\n')}\r\n`;
}

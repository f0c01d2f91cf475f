import { commaSeparated } from '../quantity/commaSeparated.js';
import { CHANNELS, CHANNEL_NAMES, type Reading } from './reading.js';

/**
 * The lines of a log as comma-separated values in SI units: what `readReadings` reads back.
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
    ...(timed ? [one.at] : []),
    ...used.map((name) => one[name]),
    ...(limited ? [one.limited === undefined ? undefined : one.limited ? 'yes' : 'no'] : []),
    ...(noted ? [one.note] : []),
  ]);
  return commaSeparated([heading, ...rows]);
}

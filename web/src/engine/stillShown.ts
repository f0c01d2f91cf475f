import { formatQuantity } from '@yundro/core';

/** What an answer still shows, in the words of its own question. */
export function stillShown(answered: unknown, asked: unknown): string {
  const [a, b] = [answered, asked] as readonly Readonly<Record<string, unknown>>[];
  const input = a?.['inputVoltage'];
  const load = a?.['outputCurrent'];
  if ((input !== b?.['inputVoltage'] || load !== b?.['outputCurrent']) && typeof input === 'number')
    return typeof load === 'number'
      ? `${formatQuantity(input, 'V', 3)}, ${formatQuantity(load, 'A', 3)}`
      : `${formatQuantity(input, 'V', 3)} input`;
  return a?.['stage'] !== undefined && a['stage'] === b?.['stage']
    ? 'what was asked before'
    : 'the design before the last edit';
}

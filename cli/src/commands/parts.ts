import { recordsOf, recordsOfKind, RECORD_KINDS, type InventoryRecord } from '@yundro/core';
import type { Command } from '../command.js';
import { CommandError } from '../commandError.js';
import { optionsAlone } from '../input.js';
import { inventoryFrom } from '../inventory.js';
import { jsonText } from '../report.js';

/** A record in a line: its name and what it states. */
function line({ kind, name, ...stated }: InventoryRecord): string {
  const facts = Object.entries(stated).flatMap(([key, value]) =>
    typeof value === 'number' || typeof value === 'string' ? [`${key} ${String(value)}`] : [],
  );
  return `${kind.padEnd(13)}${name.padEnd(20)}${facts.join('  ')}`;
}

export const parts: Command = {
  summary: 'the records of the library, SI units  (--kind KIND, --library FILE an inventory of your own)',
  run: async (words) => {
    const values = optionsAlone(words, { kind: { type: 'string' }, library: { type: 'string' } });
    const all = recordsOf(await inventoryFrom(values['library']));
    const kind = values['kind'];
    if (typeof kind === 'string' && !RECORD_KINDS.includes(kind))
      throw new CommandError(`There is no kind “${kind}”; the kinds are ${RECORD_KINDS.join(', ')}.`);
    const records = typeof kind === 'string' ? recordsOfKind(all, kind) : all;
    return values['json'] === true
      ? jsonText(records)
      : `${records.map(line).join('\n')}\n\n${String(records.length)} records, generic and invented unless a library of your own is named.\n`;
  },
};

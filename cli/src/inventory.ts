import { genericParts, inventoryOfRows, recordCells, type Inventory } from '@yundro/core';
import { readFile } from 'node:fs/promises';
import Papa from 'papaparse';
import { CommandError } from './commandError.js';
import { cannotRead } from './input.js';

/** Refused rows that are told of. */
const TOLD = 3;

/** The inventory a file holds, CSV or JSON; without one the generic records. */
export async function inventoryFrom(file: unknown): Promise<Inventory> {
  if (typeof file !== 'string') return genericParts();
  let content: string;
  try {
    content = await readFile(file, 'utf8');
  } catch (error) {
    throw cannotRead(file, error);
  }
  const { inventory, refused } = inventoryOfRows(rowsOf(file, content));
  if (refused.length > 0) {
    const told = refused
      .slice(0, TOLD)
      .map(({ row, column, sentence }) => `row ${String(row)}, ${column}: ${sentence}`);
    const more = refused.length > TOLD ? ` And ${String(refused.length - TOLD)} more.` : '';
    throw new CommandError(`${file} holds records that cannot be taken: ${told.join(' ')}${more}`);
  }
  return inventory;
}

function rowsOf(file: string, content: string): readonly Readonly<Record<string, string>>[] {
  if (!/^\s*[[{]/.test(content)) {
    const { data, meta } = Papa.parse<Record<string, string>>(content, { header: true, skipEmptyLines: 'greedy' });
    if (!meta.fields?.includes('kind'))
      throw new CommandError(`${file} has no column “kind”, which says what each row is: mosfet, inductor, ceramic, …`);
    return data;
  }
  let read: unknown;
  try {
    read = JSON.parse(content);
  } catch {
    throw new CommandError(`${file} starts like JSON and is not complete.`);
  }
  const list: unknown = Array.isArray(read) ? read : (read as { readonly parts?: unknown }).parts;
  if (!Array.isArray(list) || !list.every((one) => typeof one === 'object' && one !== null))
    throw new CommandError(`${file} holds no list of records.`);
  return list.map((one) => recordCells(one as Record<string, unknown>));
}

import { mapped } from '../base/tuple';
import { counted } from '../base/words';
import type { Values } from './columns';

/**
 * A record as it is stored: its values, and for cells changed by hand the source's value at the
 * last reading.
 */
export interface KeptRecord {
  id: number;
  values: Values;
  hand: Values | null;
}

/** A cell that was changed by hand here and has changed in the source too. */
export interface Clash {
  column: string;
  here: string;
  there: string;
}

/** The change of one record; `row` is its position in the source, from 0. */
export type Difference =
  | { change: 'added'; row: number; after: Values }
  | {
      change: 'changed';
      row: number;
      record: number;
      before: Values;
      after: Values;
      clashes: Clash[];
    }
  | { change: 'gone'; record: number; before: Values };

export interface Differences {
  list: Difference[];
  /** Rows of the source that could not be told apart, in words. */
  notes: string[];
  unchanged: number;
}

/**
 * Compares a source that was read again with the records that are kept. Records keep their identity
 * by the key column; repeated keys are paired in their order, and without a key rows are paired by
 * being the same throughout. A cell changed by hand stays as it is unless the source has changed it
 * too, which is a clash.
 * @param columns ids of the columns that come from the source
 * @param keyForm what keys are compared by
 */
export function differences(
  kept: readonly KeptRecord[],
  incoming: readonly Values[],
  columns: readonly string[],
  key: string | undefined,
  keyForm: (key: string) => string = (text) => text.trim(),
): Differences {
  const identity = (values: Values): string =>
    key === undefined
      ? JSON.stringify(columns.map((c) => values[c] ?? ''))
      : keyForm(values[key] ?? '');
  const asRead = (record: KeptRecord): Values => ({ ...record.values, ...record.hand });
  const waiting = new Map<string, KeptRecord[]>();
  for (const record of kept) {
    const id = identity(asRead(record));
    const same = waiting.get(id);
    if (same) same.push(record);
    else waiting.set(id, [record]);
  }
  const blank = waiting.get('')?.length ?? 0;
  const list: Difference[] = [];
  let unchanged = 0;
  let unkeyed = 0;
  for (const [row, after] of incoming.entries()) {
    const id = identity(after);
    if (key !== undefined && id === '') unkeyed++;
    const record = waiting.get(id)?.shift();
    if (!record) {
      list.push({ change: 'added', row, after });
      continue;
    }
    const difference = compare(record, asRead(record), after, columns);
    if (difference) list.push({ ...difference, row });
    else unchanged++;
  }
  for (const records of waiting.values())
    for (const record of records)
      list.push({ change: 'gone', record: record.id, before: record.values });
  const notes: string[] = [];
  if (unkeyed > 0 || (key !== undefined && blank > 0))
    notes.push(
      `${counted(Math.max(unkeyed, blank), 'row has', 'rows have')} a blank key; such rows are paired in their order.`,
    );
  return { list, notes, unchanged };
}

type Changed = Omit<Extract<Difference, { change: 'changed' }>, 'row'>;

function compare(
  record: KeptRecord,
  read: Values,
  after: Values,
  columns: readonly string[],
): Changed | undefined {
  const before: Record<string, string> = {};
  const next: Record<string, string> = {};
  const clashes: Clash[] = [];
  for (const column of columns) {
    const [was, here, there] = [
      read[column] ?? '',
      record.values[column] ?? '',
      after[column] ?? '',
    ];
    if (there === was || there === here) continue;
    const byHand = record.hand !== null && column in record.hand;
    if (byHand) clashes.push({ column, here, there });
    else {
      before[column] = here;
      next[column] = there;
    }
  }
  if (Object.keys(next).length === 0 && clashes.length === 0) return undefined;
  return { change: 'changed', record: record.id, before, after: next, clashes };
}

/**
 * A key as it is compared when its form may have changed: without case, spaces, hyphens, points and
 * leading zeros.
 */
export const plainKey = (key: string): string =>
  key
    .trim()
    .toLowerCase()
    .replace(/[\s\-_./]/g, '')
    .replace(/^0+(?=.)/, '');

/**
 * Keys that a source gives in another form than before: one of them in both forms, and of how many
 * records that is so.
 */
export interface ReformedKeys {
  here: string;
  there: string;
  records: number;
}

/**
 * Whether removed and added records are really the same ones with their keys in another form.
 * Undefined if not, or if keys in the plainer form could be confused.
 */
export function reformedKeys(
  kept: readonly string[],
  incoming: readonly string[],
): ReformedKeys | undefined {
  const [here, there] = mapped([kept, incoming], (keys) =>
    keys.map((k) => k.trim()).filter((k) => k !== ''),
  );
  const [plainHere, plainThere] = mapped(
    [here, there],
    (keys) => new Map(keys.map((k) => [plainKey(k), k])),
  );
  if (plainHere.size < new Set(here).size || plainThere.size < new Set(there).size)
    return undefined;
  const same = new Set(here);
  const other = [...plainThere!].filter(([plain, key]) => !same.has(key) && plainHere.has(plain));
  const incomingKeys = new Set(there);
  const gone = here.filter((key) => !incomingKeys.has(key)).length;
  const [first] = other;
  if (!first || other.length < gone / 2) return undefined;
  const [plain, key] = first;
  return { here: plainHere.get(plain)!, there: key, records: other.length };
}

export interface MatchedColumns {
  /** Column id for each heading of the source; undefined for a heading that is new. */
  ids: (string | undefined)[];
  /** Columns of the list that the source has no more. */
  missing: string[];
}

/**
 * Finds the list's columns among the headings of a source: by the heading in the source, or by
 * their name here.
 */
export function matchColumns(
  columns: readonly { id: string; name: string; source?: string; worked?: unknown }[],
  headings: readonly string[],
): MatchedColumns {
  const plain = (text: string) => text.replace(/\s+/g, ' ').trim().toLowerCase();
  const own = columns.filter((c) => !c.worked);
  const taken = new Set<string>();
  const ids = headings.map((heading) => {
    const column = own.find(
      (c) => !taken.has(c.id) && plain(c.source ?? c.name) === plain(heading),
    );
    if (column) taken.add(column.id);
    return column?.id;
  });
  return { ids, missing: own.filter((c) => !taken.has(c.id)).map((c) => c.id) };
}

import { createHmac } from 'node:crypto';
import { configuration } from '../platform';
import { secretsOf, type Column, type Values } from '../../core/records/columns';
import { dots, sealedValue, tokenColumn } from '../../core/records/sealed';

/** Tells whether two states of a record's secrets differ, without revealing them. */
const tagOf = (secrets: readonly string[]): string =>
  createHmac('sha256', configuration().HAND_STAMP_KEY ?? 'a server without a key')
    .update(JSON.stringify(secrets))
    .digest('hex')
    .slice(0, 12);

/**
 * A record's values as they leave the server: secrets as sealed tokens, except in columns that
 * someone asked to see. Blanks stay blank, since a missing value is not a secret.
 */
export function maskedValues(
  columns: readonly Column[],
  record: number,
  values: Values,
  asked: ReadonlySet<string> = new Set(),
): Values {
  const secrets = secretsOf(columns).filter((c) => (values[c.id] ?? '').trim() !== '');
  const hidden = secrets.filter((c) => !asked.has(c.id));
  if (hidden.length === 0) return values;
  const token = sealedValue(record, tagOf(secrets.map((c) => values[c.id] ?? '')));
  return { ...values, ...Object.fromEntries(hidden.map((c) => [c.id, token])) };
}

/**
 * The record of some values, as a sealed value that belongs to no column: with it a window requests
 * codes whose proofs it cannot make.
 */
export const recordToken = (record: number, values: Values): Values => ({
  [tokenColumn]: sealedValue(record, tagOf([JSON.stringify(values)])),
});

/** Words about a record, such as its problems, that do not quote a secret. */
export function maskedText(columns: readonly Column[], values: Values, text: string): string {
  return secretsOf(columns).reduce((words, { id }) => {
    const value = (values[id] ?? '').trim();
    return value.length > 1 ? words.split(value).join(dots) : words;
  }, text);
}

/** The same for some cells of a record, in accounts of changes. */
export function maskedCells(
  columns: readonly Column[],
  record: number,
  cells: Values | null,
): Values | null {
  return cells && maskedValues(columns, record, cells);
}

/** A query's list of columns whose secrets are requested, such as `c3,w5`. */
export const askedColumns = (text: string | null | undefined): ReadonlySet<string> =>
  new Set((text ?? '').split(',').filter(Boolean));

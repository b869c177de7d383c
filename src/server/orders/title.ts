import { isSecret, titleColumn, type Column, type Values } from '../../core/records/columns';

/** The title of a record, without secrets. */
export const titleOf = (columns: readonly Column[], values: Values): string =>
  values[titleColumn(columns.filter((c) => !isSecret(c, columns)))?.id ?? ''] ?? '';

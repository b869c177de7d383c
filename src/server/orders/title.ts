import { isSecret, titleColumn, type Column, type Values } from '../../core/records/columns';

/** What a record is called, without what is kept secret. */
export const titleOf = (columns: readonly Column[], values: Values): string =>
  values[titleColumn(columns.filter((c) => !isSecret(c, columns)))?.id ?? ''] ?? '';

import * as contract from '@/contract';
import { findInRow } from '@/server/documents';
import { handle } from '@/server/platform';

export const POST = handle(contract.findInRow, ({ db, params, body }) =>
  findInRow(db, params.id, body),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { findInRow } from '@/server/documents';

export const POST = handle(contract.findInRow, ({ db, params, body }) =>
  findInRow(db, params.id, body),
);

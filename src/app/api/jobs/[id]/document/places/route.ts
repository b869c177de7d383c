import * as contract from '@/contract';
import { findInDocument } from '@/server/documents';
import { handle } from '@/server/platform';

export const POST = handle(contract.findInDocument, ({ db, params, body }) =>
  findInDocument(db, params.id, body),
);

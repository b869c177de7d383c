import * as contract from '@/contract';
import { handle } from '@/server/access';
import { findInDocument } from '@/server/documents';

export const POST = handle(contract.findInDocument, ({ db, params, body }) =>
  findInDocument(db, params.id, body),
);

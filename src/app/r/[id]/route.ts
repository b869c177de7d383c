import * as contract from '@/contract';
import { handle } from '@/server/access';
import { recordPage } from '@/server/pages';

export const GET = handle(contract.recordPage, async ({ db, params, request }) =>
  recordPage(db, params.id, request),
);

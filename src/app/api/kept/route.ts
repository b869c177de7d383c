import * as contract from '@/contract';
import { handle } from '@/server/access';
import { keep, listKept } from '@/server/jobs';

export const GET = handle(contract.listKept, async ({ db, query }) => ({
  kept: await listKept(db, query.kind),
}));

export const POST = handle(contract.keep, async ({ db, body, actor }) => ({
  id: await keep(db, body, actor),
}));

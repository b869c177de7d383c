import * as contract from '@/contract';
import { handle } from '@/server/access';
import { readTestPage } from '@/server/delivery';

export const POST = handle(contract.readTestPage, async ({ db, params, body }) => ({
  finest: await readTestPage(db, params.id, body.texts),
}));

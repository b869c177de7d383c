import * as contract from '@/contract';
import { handle, sayHere, whoIsHere } from '@/server/access';

export const POST = handle(contract.sayHere, async ({ db, params, person, body }) => {
  await sayHere(db, params.id, person, body);
  return contract.done;
});

export const GET = handle(contract.whoIsHere, async ({ db, params, person, query }) => ({
  others: await whoIsHere(db, params.id, person, query.window),
}));

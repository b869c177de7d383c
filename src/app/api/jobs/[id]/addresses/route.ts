import * as contract from '@/contract';
import { handle } from '@/server/access';
import { addressesOf, giveAddresses, withdrawAddresses } from '@/server/links';

export const GET = handle(contract.viewAddresses, async ({ db, params, query }) =>
  addressesOf(db, params.id, query.stamp, query.record),
);

export const POST = handle(contract.giveAddresses, async ({ db, params, body, actor }) => ({
  added: await giveAddresses(db, params.id, body.stamp, actor, body.records),
}));

export const DELETE = handle(contract.withdrawAddresses, async ({ db, params, body }) => {
  await withdrawAddresses(db, params.id, body.stamp, body.records);
  return contract.done;
});

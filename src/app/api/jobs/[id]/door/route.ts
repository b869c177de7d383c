import * as contract from '@/contract';
import { handle } from '@/server/access';
import { doorReport, startAsking, stopAsking } from '@/server/links';

export const GET = handle(contract.viewDoor, async ({ db, params, query }) =>
  doorReport(db, params.id, query.stamp),
);

export const POST = handle(contract.askDoor, async ({ db, params, body }) => {
  await startAsking(db, params.id, body.stamp);
  return contract.done;
});

export const DELETE = handle(contract.stopAskingDoor, async ({ db, params }) => {
  await stopAsking(db, params.id);
  return contract.done;
});

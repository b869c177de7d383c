import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeCheckpoint, removeCheckpoint, viewCheckpoint } from '@/server/checkpoints';

export const GET = handle(contract.viewCheckpoint, async ({ db, params }) =>
  viewCheckpoint(db, params.id),
);

export const PATCH = handle(contract.changeCheckpoint, async ({ db, params, body }) =>
  changeCheckpoint(db, params.id, body),
);

export const DELETE = handle(contract.removeCheckpoint, async ({ db, params }) => {
  await removeCheckpoint(db, params.id);
  return contract.done;
});

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { addRecords, removeRecords } from '@/server/lists';

export const POST = handle(contract.addRecords, async ({ db, params, body, actor }) => ({
  ids: await addRecords(db, params.id, body.records, actor),
}));

export const DELETE = handle(contract.removeRecords, async ({ db, params, body, actor }) => ({
  gone: await removeRecords(db, params.id, body.ids, actor),
}));

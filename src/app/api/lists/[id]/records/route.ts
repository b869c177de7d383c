import * as contract from '@/contract';
import { addRecords, removeRecords } from '@/server/lists';
import { handle } from '@/server/platform';

export const POST = handle(contract.addRecords, async ({ db, params, body, actor }) => ({
  ids: await addRecords(db, params.id, body.records, actor),
}));

export const DELETE = handle(contract.removeRecords, async ({ db, params, body, actor }) => ({
  gone: await removeRecords(db, params.id, body.ids, actor),
}));

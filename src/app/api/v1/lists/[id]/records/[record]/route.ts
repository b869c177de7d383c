import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiChangeRecord, apiRecord, apiRemoveRecord, tagOf } from '@/server/api';

export const GET = handle(contract.apiRecord, async ({ db, caller, params, answerHeaders }) => {
  const record = await apiRecord(db, caller, params.id, params.record);
  answerHeaders.set('etag', tagOf(record));
  return record;
});

export const PATCH = handle(
  contract.apiChangeRecord,
  async ({ db, caller, params, body, request, answerHeaders }) => {
    const match = request.headers.get('if-match');
    const record = await apiChangeRecord(db, caller, params.id, params.record, body.values, match);
    answerHeaders.set('etag', tagOf(record));
    return record;
  },
);

export const DELETE = handle(contract.apiRemoveRecord, async ({ db, caller, params, request }) => {
  await apiRemoveRecord(db, caller, params.id, params.record, request.headers.get('if-match'));
  return contract.done;
});

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiCode } from '@/server/api';

const types = { svg: 'image/svg+xml', png: 'image/png' };

export const GET = handle(contract.apiCode, async ({ db, caller, params, query }) => {
  const bytes = await apiCode(db, caller, params.id, params.record, query);
  return new Response(Buffer.from(bytes), {
    headers: { 'content-type': types[query.format], 'cache-control': 'private, no-cache' },
  });
});

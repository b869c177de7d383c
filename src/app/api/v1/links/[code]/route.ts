import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiChangeLink, apiLink } from '@/server/api';

export const GET = handle(contract.apiLink, async ({ db, caller, params }) =>
  apiLink(db, caller, params.code),
);

export const PATCH = handle(contract.apiChangeLink, async ({ db, caller, params, body, tell }) => {
  tell(params.code);
  return apiChangeLink(db, caller, params.code, body);
});

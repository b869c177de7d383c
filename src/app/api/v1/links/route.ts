import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiMakeLink } from '@/server/api';

export const POST = handle(contract.apiMakeLink, async ({ db, caller, body, tell }) => {
  tell(body.title);
  return apiMakeLink(db, caller, body);
});

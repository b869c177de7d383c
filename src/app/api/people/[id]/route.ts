import * as contract from '@/contract';
import { changePerson, handle } from '@/server/access';

export const PATCH = handle(contract.changePerson, async ({ db, params, body, tell }) => {
  tell(await changePerson(db, params.id, body));
  return contract.done;
});

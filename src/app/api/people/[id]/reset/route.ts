import * as contract from '@/contract';
import { handle, resetFor } from '@/server/access';
import { mailWelcome } from '@/server/delivery';
import { baseAddress } from '@/server/platform';

export const POST = handle(contract.resetPerson, async ({ db, params, body, actor, tell }) => {
  const found = await resetFor(db, await baseAddress(db), params.id, actor);
  tell(`${found.name}, ${found.email}`);
  const mailed = body.mail && (await mailWelcome(db, { kind: 'reset', ...found }));
  return { address: found.address, mailed };
});

import * as contract from '@/contract';
import { handle, originOf, resetFor } from '@/server/access';
import { mailWelcome } from '@/server/delivery';

export const POST = handle(
  contract.resetPerson,
  async ({ db, request, params, body, actor, tell }) => {
    const found = await resetFor(db, originOf(request), params.id, actor);
    tell(`${found.name}, ${found.email}`);
    const mailed = body.mail && (await mailWelcome(db, { kind: 'reset', ...found }));
    return { address: found.address, mailed };
  },
);

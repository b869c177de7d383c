import * as contract from '@/contract';
import { handle, invite, listPeople, originOf } from '@/server/access';
import { mailWelcome } from '@/server/delivery';

export const GET = handle(contract.listPeople, async ({ db }) => listPeople(db));

export const POST = handle(contract.invite, async ({ db, request, body, actor, tell }) => {
  tell(`${body.name}, ${body.email}, who ${body.right}`);
  const address = await invite(db, originOf(request), body, actor);
  const mailed =
    body.mail && (await mailWelcome(db, { kind: 'invitation', address, by: actor, ...body }));
  return { address, mailed };
});

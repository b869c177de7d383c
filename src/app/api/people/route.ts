import { rightWords } from '@/core/access/rights';
import * as contract from '@/contract';
import { handle, invite, listPeople } from '@/server/access';
import { mailWelcome } from '@/server/delivery';
import { baseAddress } from '@/server/platform';

export const GET = handle(contract.listPeople, async ({ db }) => listPeople(db));

export const POST = handle(contract.invite, async ({ db, body, actor, tell }) => {
  tell(`${body.name}, ${body.email}, ${rightWords[body.right].role}`);
  const address = await invite(db, await baseAddress(db), body, actor);
  const mailed =
    body.mail && (await mailWelcome(db, { kind: 'invitation', address, by: actor, ...body }));
  return { address, mailed };
});

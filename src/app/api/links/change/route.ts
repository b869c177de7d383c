import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeLinks } from '@/server/links';

export const POST = handle(contract.changeLinks, async ({ db, body, actor, tell }) => {
  const done = await changeLinks(db, body.links, body.change, actor);
  tell(`${done.changed} ${done.changed === 1 ? 'link' : 'links'}`);
  return done;
});

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listLinks, makeLink } from '@/server/links';

export const GET = handle(contract.listLinks, async ({ db, query, mayHere }) =>
  listLinks(db, query, await mayHere()),
);

export const POST = handle(contract.makeLink, async ({ db, body, actor, tell }) => {
  tell(body.title);
  return makeLink(db, body, actor);
});

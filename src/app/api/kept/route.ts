import * as contract from '@/contract';
import { includes } from '@/core/access/rights';
import { handle } from '@/server/access';
import { keep, listKept } from '@/server/jobs';

export const GET = handle(contract.listKept, async ({ db, person, query }) => ({
  // a kept content may hold what is secret, and is of use to those only who change a stamp
  kept:
    query.kind === 'content' && !includes(person.right, 'editor')
      ? []
      : await listKept(db, query.kind),
}));

export const POST = handle(contract.keep, async ({ db, body, actor }) => ({
  id: await keep(db, body, actor),
}));

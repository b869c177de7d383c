import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listIdOf } from '@/server/jobs';
import { newsStream } from '@/server/platform';

export const GET = handle(contract.jobNews, async (asked) => {
  const {
    db,
    params: { id },
  } = asked;
  return newsStream(asked, new Set([`job:${id}`, `list:${await listIdOf(db, id)}`]), {
    [`here:${id}`]: 'here',
  });
});

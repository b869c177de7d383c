import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listIdOf } from '@/server/jobs';
import { newsStream } from '@/server/platform';

export const GET = handle(contract.jobNews, async ({ request, db, params: { id } }) =>
  newsStream(request, new Set([`job:${id}`, `list:${await listIdOf(db, id)}`]), {
    [`here:${id}`]: 'here',
  }),
);

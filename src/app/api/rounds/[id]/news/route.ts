import * as contract from '@/contract';
import { handle } from '@/server/access';
import { newsStream } from '@/server/platform';

export const GET = handle(contract.roundNews, async (asked) =>
  newsStream(asked, new Set([`round:${asked.params.id}`])),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { newsStream } from '@/server/platform';

export const GET = handle(contract.checkpointNews, async (asked) =>
  newsStream(asked, new Set([`checkpoint:${asked.params.id}`])),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { newsStream } from '@/server/platform';

export const GET = handle(contract.roundNews, async ({ request, params }) =>
  newsStream(request, new Set([`round:${params.id}`])),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { viewMessage } from '@/server/delivery';
import { lockedPage } from '@/server/platform';

export const GET = handle(contract.viewMessage, async ({ params }) =>
  lockedPage(await viewMessage(params.name)),
);

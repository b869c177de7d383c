import * as contract from '@/contract';
import { viewMessage } from '@/server/delivery';
import { handle, lockedPage } from '@/server/platform';

export const GET = handle(contract.viewMessage, async ({ params }) =>
  lockedPage(await viewMessage(params.name)),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { effectOfAddresses } from '@/server/links';

export const POST = handle(contract.tryOurAddresses, async ({ db, body }) =>
  effectOfAddresses(db, body),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { newCallSecret } from '@/server/orders';

export const POST = handle(contract.newCallSecret, async ({ db, params }) => ({
  secret: await newCallSecret(db, params.id),
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { startSet } from '@/server/documents';

export const POST = handle(contract.startSet, async ({ db, body, actor }) => ({
  id: await startSet(db, body.name, actor),
}));

import * as contract from '@/contract';
import { startSet } from '@/server/documents';
import { handle } from '@/server/platform';

export const POST = handle(contract.startSet, async ({ db, body, actor }) => ({
  id: await startSet(db, body.name, actor),
}));

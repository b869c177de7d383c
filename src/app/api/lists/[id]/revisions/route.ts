import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listRevisions } from '@/server/lists';

export const GET = handle(contract.listRevisions, async ({ db, params }) => ({
  revisions: await listRevisions(db, params.id),
}));

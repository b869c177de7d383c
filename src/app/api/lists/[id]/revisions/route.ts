import * as contract from '@/contract';
import { listRevisions } from '@/server/lists';
import { handle } from '@/server/platform';

export const GET = handle(contract.listRevisions, async ({ db, params }) => ({
  revisions: await listRevisions(db, params.id),
}));
